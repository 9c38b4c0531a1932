// Placing things on the board by mouse and by keyboard. Where a point lies is
// all this knows; sizes, shares and snapping are the program's.

const page = () => document.querySelector('#compose');
const stage = () => document.querySelector('#stage');
const tools = () => Object.fromEntries(new FormData(document.querySelector('#tools')));

const where = (e) => new DOMPoint(e.clientX, e.clientY).matrixTransform(stage().getScreenCTM().inverse());
const round = (v) => Math.round(v * 10) / 10;

function send(path, values = {}) {
  const { coat, sel, base } = page().dataset;
  const t = tools();
  return window.htmx.ajax('POST', `${base}/${path}`, {
    target: '#compose', swap: 'outerHTML',
    values: { coat, sel, kind: t.kind, cup: t.cup, grid: t.grid, snap: t.snap ?? 'no', ...values },
  });
}

function choose(thing) {
  const { coat, base } = page().dataset;
  const t = tools();
  const query = new URLSearchParams({ coat, sel: thing, grid: t.grid, snap: t.snap ?? 'no' });
  return window.htmx.ajax('GET', `${base}?${query}`, { target: '#compose', swap: 'outerHTML' });
}

// One gesture at a time: drawing a new thing, or dragging a thing or a point.
let gesture = null;
document.addEventListener('pointerdown', (e) => {
  if (!stage()?.contains(e.target) || e.button) return;
  const at = where(e);
  const kind = tools().kind;
  const handle = e.target.closest('[data-point]');
  const thing = e.target.closest('[data-thing]');
  if (handle) gesture = { node: handle, thing: page().dataset.sel, point: handle.dataset.point, from: at };
  else if (kind) gesture = { kind, from: at };
  else if (thing) gesture = { node: thing, thing: thing.dataset.thing, from: at };
  else return;
  e.preventDefault();
  stage().setPointerCapture(e.pointerId);
});
document.addEventListener('pointermove', (e) => {
  if (!gesture) return;
  const at = where(e);
  if (gesture.kind) document.querySelector('#draft')
    .setAttribute('d', `M${gesture.from.x} ${gesture.from.y}L${at.x} ${at.y}`);
  else gesture.node.setAttribute('transform', `translate(${at.x - gesture.from.x} ${at.y - gesture.from.y})`);
});
document.addEventListener('pointerup', (e) => {
  if (!gesture) return;
  const g = gesture;
  gesture = null;
  const at = where(e);
  const dx = round(at.x - g.from.x);
  const dy = round(at.y - g.from.y);
  const far = Math.hypot(dx, dy) > stage().viewBox.baseVal.width / 150;
  const spot = (p) => `${round(p.x)},${round(p.y)}`;
  if (g.kind) {
    const one = document.querySelector('#t-kind').selectedOptions[0].dataset.points < 2;
    if (one || far) send('things', { points: one ? spot(at) : `${spot(g.from)} ${spot(at)}` });
    document.querySelector('#draft').setAttribute('d', '');
  } else if (far) {
    send(`things/${g.thing}/move`, { dx, dy, ...(g.point === undefined ? {} : { at: g.point }) });
  } else if (g.point === undefined) {
    choose(g.thing);
  }
});
document.addEventListener('pointercancel', () => { gesture = null; });

const arrows = { ArrowLeft: [-1, 0], ArrowRight: [1, 0], ArrowUp: [0, -1], ArrowDown: [0, 1] };
document.addEventListener('keydown', (e) => {
  const thing = e.target.closest?.('[data-thing]')?.dataset.thing;
  if (!thing || e.ctrlKey || e.metaKey || e.altKey) return;
  if (arrows[e.key]) {
    const by = e.shiftKey ? 10 : 1;
    send(`things/${thing}/move`, { dx: arrows[e.key][0] * by, dy: arrows[e.key][1] * by, snap: 'no' });
  } else if (e.key === 'Enter' || e.key === ' ') choose(thing);
  else if (e.key === 'Delete' || e.key === 'Backspace') send(`things/${thing}/remove`);
  else if (e.key === 'c') send(`things/${thing}/copy`);
  else return;
  e.preventDefault();
});

document.addEventListener('click', (e) => {
  const post = e.target.closest('[data-post]');
  const pick = e.target.closest('[data-choose]');
  if (post && page()) send(post.dataset.post, post.dataset.start ? { start: post.dataset.start } : {});
  else if (pick) { e.preventDefault(); choose(pick.dataset.choose); }
  else if (e.target.closest('[data-add]')) {
    const kind = tools().kind;
    if (kind) send('things', { points: '' });
    else document.querySelector('#t-kind').focus();
  }
});

// The keyboard goes on where it was.
let focused = '';
document.addEventListener('htmx:beforeSwap',
  () => { focused = document.activeElement?.closest('[data-thing]')?.dataset.thing ?? ''; });
document.addEventListener('htmx:afterSwap', () => {
  if (focused) document.querySelector(`[data-thing="${focused}"]`)?.focus();
});
