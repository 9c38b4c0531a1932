import '../jevvo.js';
import '../follow.js';
import '../queue.js';
import '../weigh.js';
