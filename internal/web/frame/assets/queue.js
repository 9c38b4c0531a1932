// Keeps what is pressed, typed, noted and photographed while the program cannot be
// reached, and sends it in order when it can: each with its number, by which what
// arrives twice is known, and with how long ago it was.
import { openDB } from './vendor/idb/idb.js';
import { t } from './texts.js';

const shown = document.querySelector('[data-stream]');
const kept = openDB('jevvo', 1,
  { upgrade: (db) => db.createObjectStore('queue', { keyPath: 'n', autoIncrement: true }) });
const tryEvery = 3000; // ms

const number = () => [...crypto.getRandomValues(new Uint8Array(16))].map((b) => b.toString(16).padStart(2, '0'))
  .join('');
const clock = (at) => new Date(at).toLocaleTimeString([], { hour: '2-digit', minute: '2-digit', hour12: false });

// What is pressed here carries its number from the first time it is sent.
document.addEventListener('htmx:configRequest', (e) => {
  if (e.detail.verb !== 'post') return;
  e.detail.parameters.once = number();
  e.detail.parameters.late = '0';
});
document.addEventListener('htmx:sendError', (e) => {
  const { requestConfig } = e.detail;
  if (requestConfig.verb !== 'post') return;
  const fields = Object.fromEntries(requestConfig.formData ?? new FormData());
  keep(requestConfig.path, fields);
});

// Forms that are not htmx's, a photograph's and a thermometer's, are sent here too, so
// that they do not lead to a page that is not there.
document.addEventListener('submit', async (e) => {
  const form = e.target;
  if (form.method !== 'post' || form.hasAttribute('hx-post') || !form.matches('.photo-form, .room-form')) return;
  e.preventDefault();
  const fields = { ...Object.fromEntries(new FormData(form)), once: number(), late: '0' };
  form.reset();
  const said = await send(form.action, fields, 0);
  if (said === null || said.failed) await keep(new URL(form.action).pathname, fields);
  else if (said) note(said);
  else refresh();
});

async function keep(path, fields) {
  delete fields.rev; // it goes on top of what others did
  await (await kept).add('queue', { path, fields, at: Date.now() });
  await show();
}

// One press the program fails at, again and again while all else works, does not hold up
// the rest.
const mostTries = 3;
const alive = () => fetch('/healthz').then((a) => a.ok, () => false);

// send returns '' for what was taken, words for what was refused, { failed } for what the
// program broke at, null when it was not reached.
async function send(path, fields, late) {
  const form = new FormData();
  for (const [k, v] of Object.entries({ ...fields, late: String(late) })) form.append(k, v);
  const files = [...form.values()].some((v) => v instanceof File);
  try {
    const answer = await fetch(path, { method: 'POST', body: files ? form : new URLSearchParams(form),
      redirect: 'manual' });
    if (answer.type === 'opaqueredirect' || answer.ok) return '';
    if (answer.status === 500) return { failed: true };
    if (answer.status > 500 || answer.status === 401) return null; // full, busy, locked: later
    const words = new DOMParser().parseFromString(await answer.text(), 'text/html');
    return words.querySelector('.wrong, main p')?.textContent.trim() || `refused (${answer.status})`;
  } catch { return null; }
}

let sending = false;
async function flush() {
  if (sending) return;
  sending = true;
  try {
    const db = await kept;
    const items = await db.getAll('queue');
    if (!items.length) return;
    for (const item of items) {
      const said = await send(item.path, item.fields, Date.now() - item.at);
      if (said === null) return;
      const tries = (item.tries ?? 0) + 1;
      if (said.failed && (tries < mostTries || !await alive())) {
        await db.put('queue', { ...item, tries });
        return;
      }
      await db.delete('queue', item.n);
      if (said) note(t('Of {1}: {2}', clock(item.at), said.failed
        ? t('Jevvo could not accept this press; it was set aside') : said));
    }
    refresh();
  } finally {
    sending = false;
    await show();
  }
}

const refresh = () => shown && window.htmx.ajax('GET', location.pathname, { target: place(), swap: 'innerHTML' });

// While the program is away the screen goes by the steps it knew last.
const place = () => shown.querySelector('[data-part="body"]');
const whole = () => [...document.querySelectorAll('[data-ahead] li')]
  .map((li) => ({ name: li.textContent, ...li.dataset }));
let known = [];
let held = null; // the keys for what nobody planned: they work without the program too
const waits = document.createElement('p');
waits.className = 'waits';
waits.setAttribute('role', 'status');
waits.hidden = true;
shown?.before(waits);

function note(words) {
  const line = document.createElement('p');
  line.className = 'wrong';
  line.setAttribute('role', 'alert');
  line.textContent = words;
  waits.after(line);
}

async function show() {
  const items = await (await kept).getAll('queue');
  waits.hidden = !items.length;
  document.body.classList.toggle('is-away', items.length > 0);
  const photos = items.filter((i) => i.fields.photo).length;
  const presses = items.length - photos;
  const kinds = [presses === 1 ? t('{1} press', presses) : t('{1} presses', presses), photos === 1
    ? t('{1} photograph', photos) : t('{1} photographs', photos)];
  const what = photos ? t('{1} and {2}', ...kinds) : kinds[0];
  waits.textContent = items.length
    ? t('Jevvo cannot be reached. {1} kept on this device since {2}; they are sent by themselves.', what,
    clock(items[0].at)) : '';
  if (!shown) return;
  if (document.querySelector('[data-ahead]')) known = whole();
  const keys = document.querySelector('.bench-keys:not(.away-keys)');
  if (keys) held = keys.cloneNode(true);
  const steps = items.filter((i) => i.path.startsWith(shown.dataset.stream) &&
    /\/(done|tare|typed)$/.test(i.path)).length;
  if (steps) place().replaceChildren(away(known[steps], known[steps + 1]));
}

function element(tag, className, text) {
  const e = document.createElement(tag);
  e.className = className;
  e.textContent = text;
  return e;
}

// away makes the screen of a step that is known from before.
function away(now, next) {
  const screen = element('div', 'bench-now away', '');
  screen.id = `${shown.className}-body`; // where presses look for the screen
  screen.append(...(now ? lay(now, next)
    : [element('p', 'bench-step', t('That was the last step this device knows.'))]));
  if (held) {
    const keys = held.cloneNode(true);
    keys.classList.add('away-keys');
    for (const b of keys.querySelectorAll('button')) b.disabled = false; // the program judges when it is back
    screen.append(keys);
    window.htmx.process(keys);
  }
  return screen;
}

function lay(now, next) {
  const form = element('form', 'away-form', '');
  let field = null;
  if (now.ask) {
    field = element('input', 'input', '');
    field.inputMode = 'decimal';
    field.setAttribute('aria-label', t('The display shows, {1}', now.ask));
    form.append(field);
  }
  const button = element('button', 'button is-primary knuckle', now.button);
  button.dataset.confirm = '';
  form.append(button);
  form.addEventListener('submit', (e) => {
    e.preventDefault();
    e.stopPropagation();
    if (field && !field.value.trim()) { field.focus(); return; }
    const fields = { once: number() };
    if (now.step) Object.assign(fields, { step: now.step, said: now.said });
    if (field) fields.grams = field.value;
    keep(now.path, fields);
  });
  return [element('p', 'bench-step', now.name), element('p', 'bench-do', now.what), form,
    element('p', 'soft', next ? t('Next: {1}', next.name) : t('The last step'))];
}

window.addEventListener('online', flush);
document.addEventListener('jevvo:told', flush);
setInterval(async () => { if ((await (await kept).count('queue')) > 0) flush(); }, tryEvery);
show();
flush();

// The pages of the bench open without the program too.
navigator.serviceWorker?.register('/worker.js').catch(() => { /* only where the certificate is trusted */ });
