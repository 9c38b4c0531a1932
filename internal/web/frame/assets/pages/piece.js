import '../jevvo.js';
import '../parts.js';
import '../layers.js';
