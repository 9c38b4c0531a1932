// Tells what the bench comes to by the ways that were chosen on this device: to screen readers
// always, by chimes, by the browser's voice, by notices and vibration while another page is looked at.
import { chosen } from './choices.js';

const on = (way) => chosen(way) === 'on';

// A browser plays sounds only after a press: the first one wakes the chimes that were chosen.
let sound = null;
function wake() {
  if (sound || !on('chimes')) return;
  try { sound = new AudioContext(); } catch { /* no sound here */ }
}
for (const press of ['pointerdown', 'keydown']) document.addEventListener(press, wake);

function chime() {
  if (!sound || !on('chimes')) return;
  for (const [at, pitch] of [[0, 660], [0.35, 880]]) {
    const tone = sound.createOscillator();
    const volume = sound.createGain();
    tone.frequency.value = pitch;
    volume.gain.setValueAtTime(0.25, sound.currentTime + at);
    volume.gain.exponentialRampToValueAtTime(0.001, sound.currentTime + at + 0.9);
    tone.connect(volume).connect(sound.destination);
    tone.start(sound.currentTime + at);
    tone.stop(sound.currentTime + at + 1);
  }
}

// speak says a text: in the live region, and aloud where that is chosen.
export function speak(text) {
  const region = document.querySelector('#bench-say');
  if (region) region.textContent = text;
  if (!on('voice') || !window.speechSynthesis) return;
  const saying = new SpeechSynthesisUtterance(text);
  saying.lang = document.documentElement.lang;
  window.speechSynthesis.cancel(); // what is out of date is not said to its end
  window.speechSynthesis.speak(saying);
}

// tell says how much time is left, at its end and two minutes before by every way.
export function tell(text, left) {
  speak(text);
  if (left !== 0 && left !== 120) return;
  chime();
  if (!on('notices')) return;
  navigator.vibrate?.(left ? 200 : [300, 150, 300]);
  if (document.hidden && window.Notification?.permission === 'granted') {
    new Notification(document.title, { body: text, tag: 'jevvo-bench' });
  }
}

document.addEventListener('jevvo:chosen', ({ detail }) => {
  if (!detail.on) return;
  wake();
  if (detail.choice === 'chimes') chime();
  if (detail.choice === 'voice') speak(document.querySelector('.bench-step')?.textContent ?? '');
  if (detail.choice === 'notices') window.Notification?.requestPermission();
});
