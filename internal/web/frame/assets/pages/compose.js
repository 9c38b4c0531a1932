import '../jevvo.js';
import '../compose.js';
