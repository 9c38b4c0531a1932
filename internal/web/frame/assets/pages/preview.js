import '../jevvo.js';
import '../preview.js';
