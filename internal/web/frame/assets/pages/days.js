import '../jevvo.js';
import '../days.js';
