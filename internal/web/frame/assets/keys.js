// Keys that are a letter alone can be switched off, and at the bench they are off until they are
// switched on: there a sleeve on the keyboard must not skip a step (WCAG 2.2, 2.1.4).
import { chosen } from './choices.js';

export const letterKeys = () =>
  (document.querySelector('.bench[data-stream]') ? chosen('keys') === 'on' : chosen('letters') !== 'off');
