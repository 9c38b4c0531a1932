// Laying tasks by drag and by keyboard. While a task is dragged the program says what
// stands in the way there; a drop says where, and what that does to the rest is the
// program's to say too.

const two = (n) => String(n).padStart(2, '0');
const text = (d) => `${d.getFullYear()}-${two(d.getMonth() + 1)}-${two(d.getDate())}T${two(d.getHours())}:${two(d.getMinutes())}`;
const here = () => location.pathname + location.search;

function lay(task, at) {
  return window.htmx.ajax('POST', '/days/pin',
    { swap: 'none', values: { piece: task.dataset.piece, task: task.dataset.task, at, back: here() } });
}

function done(task, undo) {
  const values = { piece: task.dataset.piece, task: task.dataset.task ?? task.dataset.did, back: here() };
  if (undo) values.undo = 'yes';
  return window.htmx.ajax('POST', '/days/done', { swap: 'none', values });
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
  const { task, did, piece } = document.activeElement?.closest('.day-task')?.dataset ?? {};
  const key = task ?? did;
  if (key) held = `[data-task="${key}"][data-piece="${piece}"], [data-did="${key}"][data-piece="${piece}"]`;
});
document.addEventListener('htmx:afterSettle', () => {
  toOpening();
  if (held) document.querySelector(held)?.focus();
});

const minutesOfDay = 24 * 60;
const steps = { ArrowLeft: -15, ArrowRight: 15, ArrowUp: -minutesOfDay, ArrowDown: minutesOfDay };
document.addEventListener('keydown', (e) => {
  const task = e.target.closest?.('.day-task');
  if (!task || e.ctrlKey || e.metaKey || e.altKey) return;
  if (task.dataset.did) {
    if (e.key !== 'e') return;
    done(task, true);
  } else if (!task.dataset.task) {
    return;
  } else if (steps[e.key]) {
    const at = new Date(task.dataset.at);
    const by = Math.abs(steps[e.key]) === 15 && e.shiftKey ? steps[e.key] * 4 : steps[e.key];
    at.setMinutes(at.getMinutes() + by);
    lay(task, text(at));
  } else if (e.key === 'x') lay(task, '');
  else if (e.key === 'e') done(task, false);
  else return;
  e.preventDefault();
});

let drag = null;
// It has no id: what htmx takes over from one page to the next by id is its style too.
const bubble = () => document.querySelector('.drag-says');
const across = (svg, e) => new DOMPoint(e.clientX, e.clientY).matrixTransform(svg.getScreenCTM().inverse()).x;

// moment is where a drag would lay its task: at the time it had, moved as far as the
// pointer was, on the day it is over.
function moment(e) {
  const { task, svg, from } = drag;
  const target = document.elementsFromPoint(e.clientX, e.clientY).map((n) => n.closest('svg[data-day]'))
    .find(Boolean) ?? svg;
  const moved = across(svg, e) - from;
  const hours = Number(svg.dataset.to) - Number(svg.dataset.from);
  const at = new Date(task.dataset.at);
  const day = new Date(`${target.dataset.day}T00:00`);
  const minutes = at.getHours() * 60 + at.getMinutes() + moved / svg.viewBox.baseVal.width * hours * 60;
  day.setMinutes(Math.round(minutes / 15) * 15);
  return { at: day, moved: Math.abs(moved) >= 4 || target !== svg };
}

const spoken = new Intl.DateTimeFormat(document.documentElement.lang === 'en' ? 'en-GB' : document.documentElement.lang,
  { weekday: 'short', day: 'numeric', month: 'short', hour: '2-digit', minute: '2-digit' });

// ask lets the program say what stands in the way; only the newest answer counts.
async function ask(at) {
  const says = bubble();
  if (drag.asked === text(at)) return;
  drag.asked = text(at);
  says.hidden = false;
  says.textContent = spoken.format(at);
  says.classList.remove('no');
  drag.asking?.abort();
  drag.asking = new AbortController();
  const { task, asked, asking } = drag;
  try {
    const answer = await fetch(
      `/days/place?${new URLSearchParams({ piece: task.dataset.piece, task: task.dataset.task, at: asked })}`, {
      signal: asking.signal });
    const why = answer.ok ? await answer.text() : '';
    if (drag?.asked !== asked || !why) return;
    says.textContent = `${spoken.format(at)}. ${why}`;
    says.classList.add('no');
    task.classList.add('no');
  } catch { /* a newer question took its place */ }
}

document.addEventListener('pointerdown', (e) => {
  const task = e.target.closest('.day-task[data-task]');
  if (!task || e.button) return;
  const svg = task.closest('svg');
  drag = { task, svg, from: across(svg, e) };
});
document.addEventListener('pointermove', (e) => {
  if (!drag) return;
  const { task, svg, from } = drag;
  task.setAttribute('transform', `translate(${across(svg, e) - from} 0)`);
  const { at, moved } = moment(e);
  if (!moved) return;
  const says = bubble();
  const left = e.clientX > innerWidth / 2;
  says.style.left = left ? '' : `${e.clientX + 14}px`;
  says.style.right = left ? `${innerWidth - e.clientX + 14}px` : '';
  says.style.top = `${e.clientY + 18}px`;
  if (drag.asked !== text(at)) task.classList.remove('no');
  ask(at);
});
function drop() {
  const was = drag;
  drag = null;
  was.asking?.abort();
  was.task.removeAttribute('transform');
  was.task.classList.remove('no');
  bubble().hidden = true;
}
document.addEventListener('pointerup', (e) => {
  if (!drag) return;
  const { at, moved } = moment(e);
  const { task } = drag;
  drop();
  if (moved) lay(task, text(at));
});
document.addEventListener('pointercancel', () => { if (drag) drop(); });
document.addEventListener('keydown', (e) => { if (drag && e.key === 'Escape') drop(); });
