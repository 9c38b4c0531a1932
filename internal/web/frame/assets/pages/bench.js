import '../jevvo.js';
import '../follow.js';
import '../queue.js';
import '../bench.js';
