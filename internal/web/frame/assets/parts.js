// The parts of a piece: one is open at a time beside the board, or all of them. Which it
// is stays across edits, reloads and pieces; an address with #cups opens that part.
import { t } from './texts.js';
const keep = (store, key, value) => { try { store.setItem(key, value); } catch { /* not kept */ } };
const kept = (store, key) => { try { return store.getItem(key); } catch { return null; } };
const parts = () => [...document.querySelectorAll('details.part')];
const everything = () => kept(localStorage, 'jevvo-parts') === 'all';

function named(hash) {
  const at = hash.length > 1 ? document.getElementById(decodeURIComponent(hash.slice(1))) : null;
  return at?.closest('details.part')?.id;
}

let shown = named(location.hash) ?? kept(sessionStorage, 'jevvo-part') ?? parts().find((p) => p.open)?.id;

function apply() {
  const all = everything();
  for (const part of parts()) {
    if (all) part.removeAttribute('name');
    else part.setAttribute('name', 'part');
    part.open = all || part.id === shown;
  }
  for (const button of document.querySelectorAll('[data-parts]')) {
    button.hidden = false;
    button.textContent = all ? t('One at a time') : t('Open all');
  }
}

function show(id) {
  if (!id) return;
  shown = id;
  keep(sessionStorage, 'jevvo-part', id);
  apply();
  document.getElementById(id).scrollIntoView({ block: 'start' });
}

document.addEventListener('toggle', (e) => {
  if (!e.target.matches?.('details.part') || everything()) return;
  if (e.target.open) {
    shown = e.target.id;
    keep(sessionStorage, 'jevvo-part', shown);
  } else if (shown === e.target.id) shown = '';
}, true);
document.addEventListener('click', (e) => {
  // Known before the toggle tells: the page may be swapped between the two.
  const part = e.target.closest('details.part > summary')?.parentElement;
  if (part && !everything()) shown = part.open ? '' : part.id;
  if (e.target.closest('[data-parts]')) {
    keep(localStorage, 'jevvo-parts', everything() ? 'one' : 'all');
    apply();
  }
  const link = e.target.closest('.order a');
  if (link) show(named(link.hash));
});
addEventListener('hashchange', () => show(named(location.hash)));
for (const event of ['htmx:oobAfterSwap', 'htmx:afterSettle']) document.addEventListener(event, apply);
apply();
if (named(location.hash)) document.getElementById(shown).scrollIntoView({ block: 'start' });
