import '../jevvo.js';
import '../result.js';
