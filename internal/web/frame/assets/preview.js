// Shows a coat being poured: the program calculates the frames, this only draws them,
// and sends what is drawn by hand on the board.

import { Board } from './preview-board.js';
import { t as inWords } from './texts.js';

const root = () => document.querySelector('#preview');
// What is given a style here has no id: htmx would carry the style over as an
// attribute, which the page's policy forbids.
const by = (name) => document.getElementById(name) ?? document.querySelector(`[data-el="${name}"]`);
const calm = window.matchMedia('(prefers-reduced-motion: reduce)');

let mine = null; // the board that is played
let theirs = null; // the one put aside to compare with
let playing = null;
let later = null; // ends what is asked for beside the play

async function show(n) {
  if (!mine) return;
  const lit = by('light').checked;
  if (theirs && mine.told[n]) theirs.show(theirs.near(mine.told[n].minute), lit);
  const board = mine;
  if (await board.show(n, lit) && board === mine) say(board.told[n]);
}

function say(t) {
  by('course').value = t.n;
  by('course').setAttribute('aria-valuetext', t.at);
  by('moment').textContent = t.at;
  for (const [id, text] of [['t-on', t.on], ['t-off', t.off], ['t-sides', t.sides], ['t-film', t.film],
    ['t-thin', t.thin], ['t-ground', t.ground]]) by(id).textContent = text;
  t.visible.forEach((text, i) => { document.querySelector(`[data-visible="${i}"]`).textContent = text; });
  by('t-cells').replaceChildren(...t.cells.map((text) => Object.assign(document.createElement('li'),
    { textContent: text })));
  if (!playing) by('words').textContent = t.words;
  by('still').href = mine.frame(t.n, 'still.png');
  const minute = by('h-minute');
  if (!minute.dataset.typed) minute.value = Math.round(t.minute * 10) / 10;
}

function stop() {
  clearTimeout(playing);
  playing = null;
  by('run').hidden = false;
  by('rest').hidden = true;
  const t = mine?.told[mine.at];
  if (t) by('words').textContent = t.words;
}

function play() {
  const { told } = mine;
  if (!told.length) return;
  if (mine.at >= told.length - 1) mine.at = 0;
  by('run').hidden = true;
  by('rest').hidden = false;
  const next = () => {
    const { at } = mine;
    if (at >= told.length - 1) { stop(); return; }
    const wait = 60000 * (told[at + 1].minute - told[at].minute) / Number(by('pace').value);
    playing = setTimeout(async () => { await show(at + 1); if (playing) next(); }, Math.min(wait, 60000));
  };
  playing = setTimeout(next, 0);
}

// lay puts the windows and the steps where they lie on the time line, and makes the
// board as large as there is room.
function lay() {
  for (const span of document.querySelectorAll('.course-lane [data-from]')) {
    span.style.left = `${span.dataset.from}%`;
    span.style.width = `${span.dataset.wide}%`;
  }
  const pool = by('pool');
  if (!pool) return;
  const { wide, high } = root().dataset;
  const which = by('beside')?.value ?? 'a';
  by('mine').hidden = which === 'b';
  if (by('theirs')) by('theirs').hidden = which === 'a';
  const shown = which === 'both' ? 2 : 1;
  const parts = [by('film'), by('drawn'), by('over'), by('film-kept')].filter(Boolean);
  for (const part of parts) part.style.width = 0; // a board that is too wide must not hold its room open
  const style = getComputedStyle(pool);
  const across = pool.clientWidth - parseFloat(style.paddingLeft) * 2 - (shown - 1) * 16;
  const tall = pool.clientHeight - parseFloat(style.paddingTop) * 2 - (by('theirs') ? 28 : 0);
  const scale = Math.min(across / shown / wide, tall / high);
  for (const part of parts) {
    part.style.width = `${Math.floor(scale * wide)}px`;
    part.style.height = `${Math.floor(scale * high)}px`;
  }
}
window.addEventListener('resize', lay);

function begin() {
  later?.abort();
  mine?.close();
  theirs?.close();
  clearTimeout(playing);
  [mine, theirs, playing] = [null, null, null];
  shape();
  lay();
  const { key, kept } = root()?.dataset ?? {};
  if (!key) return;
  mine = new Board(key, by('film'));
  mine.follow({
    words: (text) => { by('words').textContent = text; },
    frame: (t) => {
      by('ready').style.width = `${100 * (t.n + 1) / Number(root().dataset.frames)}%`;
      if (t.n === 0 || (!playing && !root().dataset.chosen && !calm.matches)) show(t.n);
    },
    whole: () => {
      root().dataset.whole = 'yes';
      by('moving').hidden = false;
      by('moving').href = mine.address('moving.png');
      if (!playing && !root().dataset.chosen) show(mine.told.length - 1);
      others();
    },
    end: () => { by('halt').hidden = true; },
  });
  if (!kept) return;
  theirs = new Board(kept, by('film-kept'));
  const catchUp = () => { const t = mine.told[mine.at]; if (t) theirs.show(theirs.near(t.minute), by('light').checked);
    };
  theirs.follow({ words: () => {}, frame: (t) => { if (t.n % 12 === 0) catchUp(); }, whole: catchUp, end: () => {} });
}

// load shows a picture, and gives it up when it is not wanted any more.
const load = (image, src, signal) => new Promise((done) => {
  signal.addEventListener('abort', () => { image.removeAttribute('src'); done(); }, { once: true });
  image.onload = done;
  image.onerror = done;
  image.src = src;
});

// small asks for the small pictures in a part of the page, one after the other: a browser
// keeps few connections, and what the painter does next must not wait for a picture.
async function small(part, signal) {
  for (const image of part.querySelectorAll('[data-small]')) {
    if (signal.aborted) return;
    await load(image, `${root().dataset.base}/small.png${image.dataset.small}`, signal);
  }
}

const asked = (what, more = {}) =>
  `${root().dataset.base}/${what}?${new URLSearchParams({ coat: root().dataset.coat, ...more })}`;

// fill loads a part of the page for itself: what is asked of the body would make a move
// made meanwhile wait in htmx's queue.
const fill = (part, url) => window.htmx.ajax('GET', url, { source: by(part), target: by(part), swap: 'innerHTML' });

// others asks, once the large picture is whole, for what would change it, the small ones,
// and how sure it all is.
async function others() {
  later = new AbortController();
  const { signal } = later;
  await fill('helps', asked('helps'));
  if (!signal.aborted) await ranges(signal).catch(() => {});
  small(document, signal);
}

// ranges shows what the coat comes to in several plays.
async function ranges(signal) {
  by('spread-wait').hidden = false;
  const answer = await fetch(asked('ranges'), { signal });
  by('spread-wait').hidden = true;
  if (!answer.ok) return;
  const r = await answer.json();
  r.visible.forEach((text, i) => { const cell = document.querySelector(`[data-range="${i}"]`);
    if (cell) cell.textContent = text; });
  by('r-ground').textContent = r.ground;
  by('r-off').textContent = r.off && inWords('range {1}', r.off);
  by('spread-words').textContent = r.words;
  by('spread-cells').replaceChildren(...r.cells.map((text) => Object.assign(document.createElement('li'),
    { textContent: text })));
  by('differing').src = asked('differing.png');
  by('spread').hidden = false;
}

// most looks for what shows most of a colour.
async function most(colour) {
  by('found').textContent = inWords('Trying orders and tilts…');
  await fill('found', asked('most', { colour }));
  small(by('found'), later.signal);
}

// shape shows the fields that the chosen move has.
function shape() {
  const option = by('h-kind')?.selectedOptions[0];
  if (!option) return;
  if (window.matchMedia('(pointer: coarse)').matches && window.DeviceOrientationEvent) by('by-tablet').hidden = false;
  for (const field of document.querySelectorAll('#hand [data-has]')) {
    const what = field.dataset.has;
    field.hidden = what === 'points' ? option.dataset.points === '0' : option.dataset[what] !== 'true';
  }
}

// post makes one move after the other: each answer brings the element the next is sent from.
let posting = Promise.resolve();
const post = (path, values) => {
  posting = posting.then(() => window.htmx.ajax('POST', `${root().dataset.base}/${path}`,
    { source: root(), target: root(), swap: 'outerHTML', values })).catch(() => {});
};
document.addEventListener('htmx:afterSwap', (e) => { if (e.target === root()) begin(); });

// Where a pointer is on the board, in mm from its upper left.
function place(e) {
  const box = by('film').getBoundingClientRect();
  const { wide, high } = root().dataset;
  return [(e.clientX - box.left) / box.width * Number(wide), (e.clientY - box.top) / box.height * Number(high)]
    .map((v) => Math.round(v * 10) / 10);
}

let drawn = null;
document.addEventListener('pointerdown', (e) => {
  if (e.target !== by('film') || e.button) return;
  drawn = [place(e)];
  e.target.setPointerCapture(e.pointerId);
});
document.addEventListener('pointermove', (e) => {
  if (drawn && e.target === by('film')) {
    const p = place(e);
    const last = drawn[drawn.length - 1];
    if (Math.hypot(p[0] - last[0], p[1] - last[1]) > Number(root().dataset.wide) / 60) drawn.push(p);
    trace();
  } else if (e.target === by('film')) look(e);
});
document.addEventListener('pointerup', () => {
  if (!drawn) return;
  const points = drawn;
  drawn = null;
  by('drawn').replaceChildren();
  const needed = Number(by('h-kind').selectedOptions[0].dataset.points);
  if (!needed) return;
  if (points.length < needed) points.push(points[0].map((v) => v + 1));
  by('h-points').value = (needed === 1 ? points.slice(0, 1) : points).map((p) => p.join(',')).join(' ');
  by('hand').querySelector('button').focus();
});

function trace() {
  const svg = by('drawn');
  svg.setAttribute('viewBox', `0 0 ${root().dataset.wide} ${root().dataset.high}`);
  const line = document.createElementNS('http://www.w3.org/2000/svg', 'polyline');
  line.setAttribute('points', drawn.map((p) => p.join(',')).join(' '));
  svg.replaceChildren(line);
}

let looking = 0;
function look(e) {
  const [x, y] = place(e);
  const turn = ++looking;
  setTimeout(async () => {
    if (turn !== looking || !mine?.told[mine.at]) return;
    const answer = await fetch(`${mine.frame(mine.at, 'layers')}?x=${x}&y=${y}`);
    if (!answer.ok || turn !== looking) return;
    const layers = await answer.json();
    const list = document.createElement('ol');
    list.append(...layers.map((l) => {
      const item = document.createElement('li');
      const swatch = by('plain-swatch').content.firstElementChild.cloneNode(true);
      swatch.querySelector('rect:last-child').setAttribute('fill', l.swatch || '#808080');
      item.append(swatch, inWords(' {1}, {2}, covers {3}', l.name, l.film, l.hides));
      return item;
    }));
    by('loupe').replaceChildren(layers.length ? list : Object.assign(document.createElement('p'),
      { className: 'hint', textContent: inWords('Nothing there.') }));
  }, 80);
}

document.addEventListener('click', (e) => {
  const button = e.target.closest('[data-post], [data-most], #run, #rest, #halt, #by-tablet');
  if (!button || !root()?.contains(button)) return;
  if (button.dataset.most) { by('m-colour').value = button.dataset.most; most(button.dataset.most); return; }
  const acts = { run: () => { root().dataset.chosen = 'yes'; play(); }, rest: stop, halt: () =>
    fetch(mine.address('stop'), { method: 'POST' }), 'by-tablet': byTablet };
  if (acts[button.id]) acts[button.id]();
  else post(button.dataset.post, { coat: root().dataset.coat });
});
document.addEventListener('submit', (e) => {
  if (e.target.matches('[data-most-form]')) {
    e.preventDefault();
    most(new FormData(e.target).get('colour'));
    return;
  }
  const path = e.target.dataset?.postForm;
  if (!path) return;
  e.preventDefault();
  const values = Object.fromEntries(new FormData(e.target));
  if (e.submitter?.name) values[e.submitter.name] = e.submitter.value;
  post(path, values);
});
document.addEventListener('input', (e) => {
  if (e.target.id === 'course') { root().dataset.chosen = 'yes'; stop();
    show(Math.min(Number(e.target.value), mine.told.length - 1)); }
  if (e.target.dataset.slides) by(e.target.dataset.slides).value = e.target.value;
  if (e.target.id === 'h-minute') e.target.dataset.typed = 'yes';
});
// over lays the photograph of what came over the board.
function over() {
  const photo = by('o-photo')?.value;
  by('over').hidden = !photo;
  if (!photo) return;
  const image = by('over-image');
  if (image.getAttribute('src') !== photo) image.src = photo;
  by('over').style.opacity = Number(by('o-seen').value) / 100;
  image.style.transform = `translate(${by('o-x').value}%, ${by('o-y').value}%) scale(${Number(by('o-zoom').value) / 100})`;
}
document.addEventListener('input', (e) => { if (e.target.id?.startsWith('o-')) over(); });

document.addEventListener('change', (e) => {
  if (e.target.id === 'h-kind') shape();
  if (e.target.id === 'light') show(mine.at);
  if (e.target.id === 'beside') lay();
});
// tip tilts the board by hand at the moment that is shown.
const tip = (x, y, seconds) => post('moves', { coat: root().dataset.coat, kind: 'tilt', minute: by('h-minute').value,
  tilt_x: x, tilt_y: y, for: seconds });

// byTablet fills the tilt in from how the tablet is held, once it has been asked for.
async function byTablet() {
  const events = window.DeviceOrientationEvent;
  if (events.requestPermission && await events.requestPermission() !== 'granted') return;
  const take = (e) => {
    by('h-x').value = Math.round(-2 * Math.max(-15, Math.min(15, e.gamma))) / 2;
    by('h-y').value = Math.round(2 * Math.max(-15, Math.min(15, e.beta))) / 2;
  };
  window.addEventListener('deviceorientation', take);
  by('h-x').closest('form').addEventListener('submit', () => window.removeEventListener('deviceorientation', take),
    { once: true });
}

const degrees = 3; // of a tip by an arrow key
const tips = { ArrowLeft: [degrees, 0], ArrowRight: [-degrees, 0], ArrowUp: [0, -degrees], ArrowDown: [0, degrees] };

// around shows A, B and both in turn.
function around() {
  const choose = by('beside');
  if (!choose) return;
  choose.selectedIndex = (choose.selectedIndex + 1) % choose.options.length;
  lay();
}

document.addEventListener('keydown', (e) => {
  if (!root() || e.target.closest('input:not([type=range]), select, textarea, button, a') || e.ctrlKey || e.metaKey ||
    e.altKey) return;
  if (e.target === by('film') && tips[e.key]) {
    e.preventDefault();
    tip(...tips[e.key], 3);
    return;
  }
  const keys = { ' ': () => (playing ? stop() : (root().dataset.chosen = 'yes', play())), ',': () => show(mine.at - 1),
    '.': () => show(mine.at + 1), u: () => by('undo').click(), r: () => by('redo').click(), b: around };
  if (!keys[e.key]) return;
  e.preventDefault();
  keys[e.key]();
});

begin();
