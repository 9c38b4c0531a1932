// Picks the colours of a drawdown from a photograph. The picture stays in the
// browser; a pick is the mean of a small square, as a probe would see it.
import { t } from './texts.js';

const file = document.querySelector('#pick-file');
const canvas = document.querySelector('#pick-canvas');
const say = document.querySelector('#pick-say');
const names = ['over_black', 'over_white', 'chart_white'];
let next = 0;

file?.addEventListener('change', async () => {
  if (!file.files.length) return;
  try {
    const picture = await createImageBitmap(file.files[0], { resizeWidth: 900, resizeQuality: 'medium' });
    canvas.width = picture.width;
    canvas.height = picture.height;
    canvas.getContext('2d', { willReadFrequently: true }).drawImage(picture, 0, 0);
    canvas.hidden = false;
    next = 0;
    tell();
  } catch {
    canvas.hidden = true;
    say.textContent = t('This is not a picture the browser can read; choose a JPEG or PNG.');
  }
});

function tell() {
  const label = document.querySelector(`label[for="f-${names[next]}"]`)?.textContent.toLowerCase();
  say.textContent = t('Click {1}.', label);
}

const probe = 4; // half the side of the square, in pixels of the copy
function pick(x, y) {
  const left = Math.max(0, Math.min(canvas.width - 2 * probe, x - probe));
  const top = Math.max(0, Math.min(canvas.height - 2 * probe, y - probe));
  const { data } = canvas.getContext('2d').getImageData(left, top, 2 * probe, 2 * probe);
  const sum = [0, 0, 0];
  for (let i = 0; i < data.length; i += 4) for (let c = 0; c < 3; c++) sum[c] += data[i + c];
  const hex = sum.map((v) => Math.round(v / (data.length / 4)).toString(16).padStart(2, '0')).join('');
  document.querySelector(`#f-${names[next]}`).value = `#${hex}`;
  next = (next + 1) % names.length;
  tell();
}

canvas?.addEventListener('click', (e) => {
  const box = canvas.getBoundingClientRect();
  pick(Math.round((e.clientX - box.left) * canvas.width / box.width),
    Math.round((e.clientY - box.top) * canvas.height / box.height));
});
// By keyboard: the arrows move a mark, Enter takes the colour under it.
let mark = null;
canvas?.addEventListener('keydown', (e) => {
  const step = { ArrowLeft: [-10, 0], ArrowRight: [10, 0], ArrowUp: [0, -10], ArrowDown: [0, 10] }[e.key];
  mark ??= { x: canvas.width / 2, y: canvas.height / 2 };
  if (step) {
    mark = { x: Math.max(0, Math.min(canvas.width, mark.x + step[0])),
      y: Math.max(0, Math.min(canvas.height, mark.y + step[1])) };
    say.textContent = t('At {1} % across, {2} % down; Enter picks the colour.', Math.round(100 * mark.x / canvas.width),
      Math.round(100 * mark.y / canvas.height));
  } else if (e.key === 'Enter') pick(Math.round(mark.x), Math.round(mark.y));
  else return;
  e.preventDefault();
});
