// What is typed into a form and not saved yet survives leaving the page: it is kept on this
// device, and the page says that it is a draft. One of a form that was saved meanwhile is dropped.
import { t } from './texts.js';

const prefix = 'jevvo-draft ';
const store = (act) => { try { return act(localStorage); } catch { return null; } }; // a private window keeps nothing
const fields = (form) => [...form.elements].filter((e) => e.name &&
  !['hidden', 'password', 'file', 'submit', 'button'].includes(e.type));
const value = (e) => (['checkbox', 'radio'].includes(e.type) ? e.checked : e.value);
const revision = (form) => form.elements.rev?.value ?? '';
const place = (form) => `${prefix}${location.pathname} ${form.getAttribute('action')}`;
const shape = (form) => fields(form).map((e) => e.name).join(' ');

function keep(form) {
  const draft = { at: Date.now(), rev: revision(form), shape: shape(form), values: fields(form).map(value) };
  store((s) => s.setItem(place(form), JSON.stringify(draft)));
}

function say(form, at) {
  const notice = Object.assign(document.createElement('p'), { className: 'notice' });
  notice.setAttribute('role', 'status');
  const clock = new Date(at).toLocaleTimeString(document.documentElement.lang, { hour: 'numeric', minute: '2-digit' });
  const discard = Object.assign(document.createElement('button'),
    { type: 'button', className: 'linkish', textContent: t('Discard it') });
  discard.addEventListener('click', () => {
    store((s) => s.removeItem(place(form)));
    form.reset();
    notice.remove();
  });
  notice.append(t('A draft of {1}, not saved yet.', clock), ' ', discard);
  form.before(notice);
}

function restore(form) {
  const draft = JSON.parse(store((s) => s.getItem(place(form))) ?? 'null');
  if (!draft) return;
  const list = fields(form);
  const same = list.every((e, i) => value(e) === draft.values[i]);
  if (draft.rev !== revision(form) || draft.shape !== shape(form) || same) {
    store((s) => s.removeItem(place(form)));
    return;
  }
  list.forEach((e, i) => { e[['checkbox', 'radio'].includes(e.type) ? 'checked' : 'value'] = draft.values[i]; });
  form.dispatchEvent(new Event('change', { bubbles: true }));
  say(form, draft.at);
}

// A device that was sent away keeps nothing.
if (location.pathname === '/pair') {
  store((s) => Object.keys(s).filter((key) => key.startsWith(prefix)).forEach((key) => s.removeItem(key)));
}
const kept = 'main form.stack[method=post]:not([hx-post]), main form.new-piece';
for (const form of document.querySelectorAll(kept)) {
  restore(form);
  form.addEventListener('input', () => keep(form));
  form.addEventListener('submit', () => { if (!revision(form)) store((s) => s.removeItem(place(form))); });
}
