// The parts of a piece: each reads as a sentence; opened, it is fetched and changed in place.
// One is open at a time beside the board, or all of them. Which it is stays across edits and
// reloads; an address with #cups opens that part.
import { t } from './texts.js';
const keep = (id) => { try { sessionStorage.setItem('jevvo-part', id); } catch { /* not kept */ } };
const kept = () => { try { return sessionStorage.getItem('jevvo-part'); } catch { return null; } };
const parts = () => [...document.querySelectorAll('details.part')];
const everything = () => document.cookie.split('; ').includes('jevvo-parts=all');

function named(hash) {
  const at = hash.length > 1 ? document.getElementById(decodeURIComponent(hash.slice(1))) : null;
  return at?.closest('details.part')?.id;
}

let shown = named(location.hash) ?? kept() ?? parts().find((p) => p.open)?.id;

function apply() {
  const all = everything();
  for (const part of parts()) {
    if (all) part.removeAttribute('name');
    else part.setAttribute('name', 'part');
    part.open = all || part.id === shown;
  }
  for (const button of document.querySelectorAll('[data-parts]')) {
    button.hidden = false;
    button.textContent = all ? t('One part at a time') : t('Open all parts');
  }
}

function show(id) {
  if (!id) return;
  shown = id;
  keep(id);
  apply();
  document.getElementById(id).scrollIntoView({ block: 'start' });
}

document.addEventListener('toggle', (e) => {
  if (!e.target.matches?.('details.part') || everything()) return;
  if (e.target.open) shown = e.target.id;
  else if (shown === e.target.id) shown = '';
  keep(shown);
}, true);
document.addEventListener('click', (e) => {
  // Known before the toggle tells: the page may be swapped between the two.
  const part = e.target.closest('details.part > summary')?.parentElement;
  if (part && !everything()) shown = part.open ? '' : part.id;
  if (!e.target.closest('[data-parts]')) return;
  document.cookie = `jevvo-parts=${everything() ? 'one' : 'all'}; path=/; max-age=31536000; samesite=lax`;
  apply();
});
addEventListener('hashchange', () => show(named(location.hash)));

// A change answers with the parts that are in the page.
document.addEventListener('htmx:configRequest', (e) => {
  if (e.detail.verb === 'get') return;
  for (const body of document.querySelectorAll('.part-body')) e.detail.formData.append('part', body.dataset.part);
});
// A part that was drawn before a change came back is drawn anew.
document.addEventListener('htmx:beforeSwap', (e) => {
  const from = Number(e.detail.xhr.getResponseHeader('Piece-Revision'));
  if (!from || from >= Number(document.getElementById('rev').value)) return;
  e.detail.shouldSwap = false;
  window.htmx.trigger(e.detail.target, 'again');
});
for (const event of ['htmx:oobAfterSwap', 'htmx:afterSettle']) document.addEventListener(event, apply);
apply();
if (named(location.hash)) document.getElementById(shown).scrollIntoView({ block: 'start' });
