// The corners of a patch are set on the photograph of a room: by clicks, by drags and
// by arrow keys. They stand in the form as typed numbers; the rest is the server's.
import { t } from './texts.js';
const canvas = document.querySelector('#wall-photo canvas');
const field = document.querySelector('#f-corners');
const say = document.querySelector('#wall-say');
const usual = say?.textContent;
let held = -1;

function corners() {
  return (field.value.trim() ? field.value.trim().split(/\s+/) : []).map((pair) => pair.split(',').map(Number))
    .filter((p) => p.length === 2 && p.every(Number.isFinite));
}

function keep(list) {
  field.value = list.map(([x, y]) => `${x.toFixed(4)},${y.toFixed(4)}`).join(' ');
  draw();
}

function draw() {
  const { width, height } = canvas;
  const pen = canvas.getContext('2d');
  pen.drawImage(photo, 0, 0, width, height);
  const list = corners();
  if (list.length === 0) {
    say.textContent = usual;
    return;
  }
  for (const [colour, thick] of [['#000', 5], ['#fff', 2]]) {
    pen.strokeStyle = colour;
    pen.lineWidth = thick;
    pen.beginPath();
    list.forEach(([x, y], i) => pen[i ? 'lineTo' : 'moveTo'](x * width, y * height));
    if (list.length > 2) pen.closePath();
    pen.stroke();
    list.forEach(([x, y], i) => {
      pen.beginPath();
      pen.arc(x * width, y * height, i === held ? 12 : 8, 0, 2 * Math.PI);
      pen.stroke();
    });
  }
  say.textContent = list.length < 2 ? t('One end. Click the other, or three more corners.') : list.length === 2
    ? t('One length: type how long it is. Two more clicks make a patch.') : list.length === 3 ? t('One more corner.')
    : t('Drag a corner to adjust it, or select it with Tab and move it with the arrow keys.');
}

function at(event) {
  const box = canvas.getBoundingClientRect();
  return [(event.clientX - box.left) / box.width, (event.clientY - box.top) / box.height];
}

function near([x, y]) {
  const box = canvas.getBoundingClientRect();
  return corners().findIndex(([px, py]) => Math.hypot((px - x) * box.width, (py - y) * box.height) < 18);
}

const photo = new Image();
if (canvas) {
  photo.addEventListener('load', () => {
    canvas.width = photo.naturalWidth;
    canvas.height = photo.naturalHeight;
    draw();
  });
  photo.src = canvas.dataset.room;
  field.addEventListener('input', draw);
  canvas.addEventListener('pointerdown', (event) => {
    const list = corners();
    held = near(at(event));
    if (held < 0) {
      if (list.length >= 4) list.length = 0;
      held = list.push(at(event)) - 1;
    }
    canvas.setPointerCapture(event.pointerId);
    keep(list);
  });
  canvas.addEventListener('pointermove', (event) => {
    if (held < 0 || !event.buttons) return;
    const list = corners();
    list[held] = at(event);
    keep(list);
  });
  canvas.addEventListener('keydown', (event) => {
    const list = corners();
    const step = { ArrowLeft: [-1, 0], ArrowRight: [1, 0], ArrowUp: [0, -1], ArrowDown: [0, 1] }[event.key];
    if (event.key === 'Tab' && !event.shiftKey && held + 1 < list.length) {
      held += 1;
      draw();
      event.preventDefault();
    } else if (step && list[held]) {
      const far = event.shiftKey ? 10 : 1;
      list[held] = [list[held][0] + (step[0] * far) / canvas.width, list[held][1] + (step[1] * far) / canvas.height];
      keep(list);
      event.preventDefault();
    } else if (event.key === 'Enter' && list.length < 4) {
      held = list.push([0.5, 0.5]) - 1;
      keep(list);
      event.preventDefault();
    } else if (event.key === 'Backspace' && list[held]) {
      list.splice(held, 1);
      held = list.length - 1;
      keep(list);
      event.preventDefault();
    }
  });
}
