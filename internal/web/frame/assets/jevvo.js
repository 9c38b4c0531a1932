// What the pages do beyond htmx: mark changed figures, show the fields that
// matter, move by keyboard. Nothing is calculated here.
import './drafts.js';
import { letterKeys } from './keys.js';
import { t } from './texts.js';

const $ = (selector, root = document) => root.querySelector(selector);
const all = (selector, root = document) => [...root.querySelectorAll(selector)];

// Changed figures are marked after each recompute.
let before = new Map();
const figures = () => new Map(all('[data-fig]').map((e) => [e.dataset.fig, e.textContent]));
document.addEventListener('htmx:beforeRequest', () => { before = figures(); });
document.addEventListener('htmx:afterSettle', () => {
  for (const e of all('[data-fig]')) {
    const old = before.get(e.dataset.fig);
    e.classList.toggle('changed', old !== undefined && old !== e.textContent);
  }
  arrange();
});

// A field with data-for="outline:round,oval" shows only for those choices.
function arrange() {
  for (const e of all('[data-for]')) {
    const [name, values] = e.dataset.for.split(':');
    const field = $(`[name="${name}"]`);
    e.hidden = Boolean(field) && !values.split(',').includes(field.value);
  }
  for (const say of all('.say')) {
    for (const input of all(`[aria-describedby="${say.id}"]`)) {
      if (say.classList.contains('bad')) input.setAttribute('aria-invalid', 'true');
      else input.removeAttribute('aria-invalid');
    }
  }
}
document.addEventListener('change', arrange);
arrange();

// A device that was sent away keeps no page of the studio.
if (location.pathname === '/pair') navigator.serviceWorker?.controller?.postMessage('forget');

// A device is offered what its role may change; the program holds it to that.
const may = document.body.dataset.may && new RegExp(document.body.dataset.may);
function offer() {
  if (!may) return;
  for (const form of all('main form')) {
    const to = form.getAttribute('hx-post') ?? (form.method === 'post' ? form.getAttribute('action') : null);
    if (!to || may.test(to)) continue;
    // What is read within a form can still be opened.
    const held = form.querySelector('details') ? all('input, select, textarea, button', form) : [form];
    for (const hand of held) hand.inert = true;
  }
  for (const hand of all('main [data-base] :is([data-post], [data-post-form])')) {
    const to = `${hand.closest('[data-base]').dataset.base}/${hand.dataset.post ?? hand.dataset.postForm}`;
    if (!may.test(to)) hand.inert = true;
  }
}
document.addEventListener('htmx:afterSettle', offer);
offer();

// A request that did not get through is said, and what was typed stays.
const alertBox = $('#alert');
document.addEventListener('htmx:sendError', (e) => {
  if (e.detail.requestConfig.verb === 'post' && $('[data-stream]')) return; // it is kept and sent later
  alertBox.textContent = t(
    'The program does not answer. What you typed is still here; start it again and change any field to send it.');
});
document.addEventListener('htmx:afterOnLoad', (e) => {
  if (e.detail.xhr.status < 400 && e.detail.requestConfig.verb !== 'get') alertBox.textContent = '';
});

// A refused form says which fields, and the first of them has the focus.
const wrong = all('main form [aria-invalid="true"]');
if (wrong.length) {
  const names = wrong.map((e) => e.labels[0]?.textContent.trim() || e.getAttribute('aria-label'));
  alertBox.textContent = t('Not saved. Look again at: {1}.', [...new Set(names)].join(', '));
  wrong[0].focus();
}

// Theme.
$('#theme')?.addEventListener('click', () => {
  const dark = document.documentElement.dataset.theme
    ? document.documentElement.dataset.theme === 'dark'
    : matchMedia('(prefers-color-scheme: dark)').matches;
  document.documentElement.dataset.theme = dark ? 'light' : 'dark';
  document.cookie = `theme=${document.documentElement.dataset.theme}; path=/; max-age=31536000; samesite=lax`;
});

// A screen that is left is locked: the program knows by itself, the page goes with it.
const locks = Number(document.body.dataset.locks) * 1000;
let leaving = 0;
const stay = () => {
  clearTimeout(leaving);
  leaving = setTimeout(() =>
    location.assign(`/unlock?${new URLSearchParams({ to: location.pathname + location.search })}`), locks);
};
if (locks) for (const sign of ['keydown', 'pointerdown', 'htmx:afterRequest']) document.addEventListener(sign, stay);
if (locks) stay();

// Dialogs and the keyboard.
const jump = $('#jump');
const keys = $('#keys');
const openJump = () => { if (jump) { jump.showModal(); $('input', jump).select(); } };
$('#open-jump')?.addEventListener('click', openJump);
$('#open-keys')?.addEventListener('click', () => keys.showModal());
$('#jump-form')?.addEventListener('submit', (e) => {
  const first = $('#jump-list a');
  if (first) { e.preventDefault(); location.assign(first.href); }
});

// The lever falls back when it is let go, as a jug is set down.
const lever = $('[data-lever]');
const leverDown = () => {
  if (!lever || lever.value === '0') return;
  lever.value = '0';
  lever.dispatchEvent(new Event('change', { bubbles: true }));
};
lever?.addEventListener('pointerup', leverDown);
$('[data-lever-down]')?.addEventListener('click', leverDown);

let chord = '';
document.addEventListener('keydown', (e) => {
  const typing = e.target.closest?.('input, select, textarea, [contenteditable]');
  if (typing || e.ctrlKey || e.metaKey || e.altKey || $('dialog[open]')) return;
  if (e.key === ' ' && !e.target.closest('button, a, summary') && $('[data-confirm]')) {
    e.preventDefault();
    $('[data-confirm]').click();
  }
  if (!letterKeys()) return;
  const go = { h: '/', d: '/days', c: '/commissions', p: '/pieces', b: '/bench', j: '/journal', l: '/palettes',
    s: '/materials', u: '/calculators', t: '/settings' };
  if (chord === 'g' && go[e.key]) { chord = ''; location.assign(go[e.key]); return; }
  chord = '';
  if (e.key === 'g') chord = 'g';
  else if (e.key === '/') { e.preventDefault(); openJump(); }
  else if (e.key === '?') keys?.showModal();
  else if (e.key === 'n') location.assign('/pieces/new');
  else if (e.key === 'u') $('#undo')?.click();
  else if (e.key === 'r') $('#redo')?.click();
  else if (e.key === 'p') $('#to-sheet')?.click();
});

document.addEventListener('click', (e) => {
  if (e.target.closest('[data-print]')) window.print();
  const side = e.target.closest('[data-side]'); // of the board: its tape comes off first
  const field = side && $('select[name$=".tape_first"]');
  if (field) {
    field.value = field.value === side.dataset.side ? '' : side.dataset.side;
    field.dispatchEvent(new Event('change', { bubbles: true }));
  }
});
