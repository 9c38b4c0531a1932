// The bench screen: a countdown that does not go by the clock on the wall, a
// screen that stays awake, and keys for gloved hands. The program says how many
// seconds are left; here they are only counted.
import { tell, speak } from './bench-tell.js';
import { letterKeys } from './keys.js';
import { t } from './texts.js';

const $ = (s) => document.querySelector(s);
let left = 0;
let rate = 1;
let since = 0;

// take reads what the program has just sent.
function take() {
  const body = $('#bench-body');
  if (!body) return;
  left = Number(body.dataset.seconds);
  rate = Number(body.dataset.rate) || 1;
  since = performance.now(); // monotonic: a clock that is set does not move it
  const now = $('.bench-step')?.textContent.trim() ?? '';
  const verdict = $('.bench-verdict')?.textContent.trim() ?? '';
  const until = $('#countdown')?.nextElementSibling?.textContent ?? '';
  if (now !== step && step) speak([now.replace(/\.$/, ''), verdict].filter(Boolean).join('. '));
  if (now !== step || until !== what) toTell = marks.filter((mark) => mark < left);
  [step, what] = [now, until];
  for (const rev of document.querySelectorAll('[data-rev]')) if (rev.matches('input')) rev.value = body.dataset.rev;
  refocus();
  tick();
}

const two = (n) => String(n).padStart(2, '0');
function spoken(seconds) {
  if (seconds >= 3600) return `${Math.floor(seconds / 3600)}:${two(Math.floor(seconds / 60) % 60)}:${two(seconds % 60)}`;
  return `${Math.floor(seconds / 60)}:${two(seconds % 60)}`;
}

// Told once a step, when so much is left: enough to get ready, and the end.
const marks = [120, 60, 30, 10, 0]; // s
let toTell = [];
let step = '';
let what = ''; // the time is left for
function tick() {
  const shown = $('#countdown');
  if (!shown || !left) return;
  const rest = Math.max(0, Math.ceil(left - rate * (performance.now() - since) / 1000));
  shown.textContent = spoken(rest);
  const passed = toTell.filter((mark) => rest <= mark);
  if (!passed.length) return;
  toTell = toTell.filter((mark) => rest > mark);
  tell(rest ? t('{1} {2}', spoken(rest), what) : t('Time: {1}', step), Math.min(...passed));
  if (rest === 0) refresh();
}
setInterval(tick, 250);

function refresh() {
  window.htmx.ajax('GET', location.pathname, { target: '#bench-body', swap: 'outerHTML' });
}
document.addEventListener('htmx:afterSettle', take);
document.addEventListener('jevvo:told', take);
document.addEventListener('visibilitychange', () => { if (!document.hidden) { refresh(); stayAwake(); } });

// Skipping asks about the step in hand, and goes by what was asked even when another screen
// moves the bench on meanwhile.
const ask = $('#ask-skip');
ask?.addEventListener('beforetoggle', (e) => {
  if (e.newState !== 'open') return;
  ask.querySelector('span').textContent = step;
  ask.querySelector('[name=step]').value = $('#skip').dataset.step;
});
ask?.addEventListener('submit', () => ask.hidePopover());

// The focus stays on what was pressed, or goes to the one thing to press next: the part of the
// page it was in may have been brought anew, by an answer or by another screen.
let focused = '';
document.addEventListener('focusin', ({ target }) => {
  focused = target.closest('#bench-body') ? target.id || target.dataset.press || 'other' : '';
});
function refocus() {
  if (!focused || document.activeElement !== document.body) return;
  const same = document.getElementById(focused) ?? $(`[data-press="${focused}"]`);
  (same ?? $('.bench-actions .knuckle'))?.focus({ preventScroll: true });
}

async function stayAwake() {
  try {
    await navigator.wakeLock.request('screen');
    $('#awake').textContent = t('the screen stays on');
  } catch { $('#awake').textContent = ''; }
}
stayAwake();

document.addEventListener('keydown', (e) => {
  if (e.target.closest?.('input, select, textarea') || e.ctrlKey || e.metaKey || e.altKey ||
    document.querySelector('dialog[open]')) return;
  if (e.key === 'PageDown') { e.preventDefault(); $('[data-confirm]')?.click(); } // a foot pedal turns pages
  else if (e.key === 'PageUp') { e.preventDefault(); $('#undo')?.click(); }
  if (!letterKeys()) return;
  if (e.key === 's') $('#skip')?.click();
  else if (e.key === '1' || e.key === '2') $(`[data-press="${e.key}"]`)?.click();
  else if (e.key === 'm') { e.preventDefault(); $('#f-note')?.focus(); }
  else if (e.key === 'p') $('#f-photo')?.click();
});
// A knuckle held on the step is a press: long enough that a sleeve is none.
const held = 700;
let holding = 0;
const release = () => {
  clearTimeout(holding);
  document.querySelector('.bench-now.held')?.classList.remove('held');
};
document.addEventListener('pointerdown', (e) => {
  const card = e.target.closest?.('[data-hold]');
  if (!card || e.pointerType === 'mouse' || e.target.closest('button, a, input, select')) return;
  card.classList.add('held');
  holding = setTimeout(() => { release(); $(`[data-press="${card.dataset.hold}"]`)?.click(); }, held);
});
for (const end of ['pointerup', 'pointercancel', 'pointermove']) {
  document.addEventListener(end,
    (e) => { if (end !== 'pointermove' || Math.hypot(e.movementX, e.movementY) > 12) release(); });
}

// A key opens its panel at once with what is known, then as it stands now; what is
// pressed there shuts it.
document.addEventListener('click', (e) => {
  const key = e.target.closest?.('[data-panel]');
  if (!key) return;
  const panel = $(`#panel-${key.dataset.panel}`);
  panel.showModal();
  // without the program it shows what was known last
  window.htmx.ajax('GET', panel.dataset.fresh, { target: `#${panel.id}-body`, swap: 'innerHTML' }).catch(() => {});
});
document.addEventListener('htmx:beforeRequest', (e) => {
  if (e.detail.requestConfig.verb === 'post') e.target.closest?.('dialog')?.close();
});

// Heat that is held down counts its seconds.
const quick = 0.6; // s: less is one pass
let down = 0;
document.addEventListener('pointerdown',
  (e) => { if (e.target.closest?.('[data-timed] button')) down = performance.now(); });
document.addEventListener('click', (e) => {
  const form = e.target.closest?.('[data-timed] button')?.form;
  if (!form) return;
  const seconds = down ? (performance.now() - down) / 1000 : 0;
  form.elements.seconds.value = seconds > quick ? seconds.toFixed(1) : '0';
  down = 0;
}, true);

// A photograph is kept as it is taken: gloves press no second button.
$('#f-photo')?.addEventListener('change', (e) => { if (e.target.files.length) e.target.form.requestSubmit(); });
$('#note-form')?.addEventListener('htmx:afterRequest', (e) => { if (e.detail.xhr.status < 400) $('#f-note').value = '';
  });
take();
