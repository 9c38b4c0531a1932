// Laying tasks by drag and by keyboard. A drop says where; whether it can lie
// there, and what that does to the rest, is the program's to say.

const minutesOfDay = 24 * 60;
const two = (n) => String(n).padStart(2, '0');
const text = (d) => `${d.getFullYear()}-${two(d.getMonth() + 1)}-${two(d.getDate())}T${two(d.getHours())}:${two(d.getMinutes())}`;

function lay(task, at) {
  const back = location.pathname + location.search;
  return window.htmx.ajax('POST', '/days/pin', { swap: 'none', values: { piece: task.dataset.piece, task: task.dataset.task, at, back } });
}

// Where a day is wider than the screen, it is first seen from its opening on.
const beforeOpening = 40;
function toOpening() {
  for (const day of document.querySelectorAll('.day-scroll')) {
    const night = day.querySelector('.night');
    if (night) day.scrollLeft = night.getBoundingClientRect().width - beforeOpening;
  }
}
toOpening();

// The keyboard goes on where it was, wherever the task has gone.
let held = '';
document.addEventListener('htmx:beforeSwap', () => {
  const { task, piece } = document.activeElement?.closest('.day-task')?.dataset ?? {};
  if (task) held = `[data-task="${task}"][data-piece="${piece}"]`;
});
document.addEventListener('htmx:afterSettle', () => {
  toOpening();
  if (held) document.querySelector(held)?.focus();
});

const steps = { ArrowLeft: -15, ArrowRight: 15, ArrowUp: -minutesOfDay, ArrowDown: minutesOfDay };
document.addEventListener('keydown', (e) => {
  const task = e.target.closest?.('.day-task[data-task]');
  if (!task || e.ctrlKey || e.metaKey || e.altKey) return;
  if (steps[e.key]) {
    const at = new Date(task.dataset.at);
    const by = Math.abs(steps[e.key]) === 15 && e.shiftKey ? steps[e.key] * 4 : steps[e.key];
    at.setMinutes(at.getMinutes() + by);
    lay(task, text(at));
  } else if (e.key === 'x') lay(task, '');
  else if (e.key === 'e') window.htmx.ajax('POST', '/days/done', { swap: 'none', values: { piece: task.dataset.piece, task: task.dataset.task, back: location.pathname + location.search } });
  else return;
  e.preventDefault();
});

let drag = null;
const across = (svg, e) => new DOMPoint(e.clientX, e.clientY).matrixTransform(svg.getScreenCTM().inverse()).x;
document.addEventListener('pointerdown', (e) => {
  const task = e.target.closest('.day-task[data-task]');
  if (!task || e.button) return;
  const svg = task.closest('svg');
  drag = { task, svg, from: across(svg, e) };
});
document.addEventListener('pointermove', (e) => {
  if (!drag) return;
  drag.task.setAttribute('transform', `translate(${across(drag.svg, e) - drag.from} 0)`);
});
document.addEventListener('pointerup', (e) => {
  if (!drag) return;
  const { task, svg, from } = drag;
  drag = null;
  const target = document.elementsFromPoint(e.clientX, e.clientY).map((n) => n.closest('svg[data-day]')).find(Boolean) ?? svg;
  const moved = across(svg, e) - from;
  task.removeAttribute('transform');
  if (Math.abs(moved) < 4 && target === svg) return;
  const at = new Date(task.dataset.at);
  const day = new Date(`${target.dataset.day}T00:00`);
  const minutes = at.getHours() * 60 + at.getMinutes() + moved / svg.viewBox.baseVal.width * minutesOfDay;
  day.setMinutes(Math.round(minutes / 15) * 15);
  lay(task, text(day));
});
