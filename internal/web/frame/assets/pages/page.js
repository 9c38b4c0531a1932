import '../jevvo.js';
