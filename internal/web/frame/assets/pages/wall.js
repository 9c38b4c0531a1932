import '../jevvo.js';
import '../wall.js';
