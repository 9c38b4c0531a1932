import '../jevvo.js';
import '../pick.js';
