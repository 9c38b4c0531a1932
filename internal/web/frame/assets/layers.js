// Layers, and the moves of a coat, are put in order by drag, or by the arrow keys on
// their grip.
import Sortable from './vendor/sortable/sortable.min.js';

const items = (list) => [...list.querySelectorAll('li[data-layer]')];

function place(list, item, before) {
  const to = list.dataset.place.replace('ID', encodeURIComponent(item));
  return window.htmx.ajax('POST', to, { swap: 'none', values: { before } });
}

function begin() {
  for (const list of document.querySelectorAll('ol.layers')) {
    if (Sortable.get(list)) continue;
    Sortable.create(list, {
      handle: '.layer-grip',
      draggable: 'li[data-layer]',
      animation: matchMedia('(prefers-reduced-motion: reduce)').matches ? 0 : 120,
      ghostClass: 'dragged',
      onEnd: ({ item, oldIndex, newIndex }) => {
        if (oldIndex !== newIndex) place(list, item.dataset.layer, item.nextElementSibling?.dataset.layer ?? '');
      },
    });
  }
}
begin();

// The keyboard goes on at the layer that was moved.
let held = '';
document.addEventListener('keydown', (e) => {
  if (e.key === 'Tab') held = '';
  const grip = e.target.closest?.('.layer-grip');
  if (!grip || (e.key !== 'ArrowUp' && e.key !== 'ArrowDown')) return;
  e.preventDefault();
  const list = grip.closest('ol.layers');
  const all = items(list);
  const at = all.indexOf(grip.closest('li'));
  const to = e.key === 'ArrowUp' ? at - 1 : at + 2; // before which one
  if (to < 0 || (at === all.length - 1 && e.key === 'ArrowDown')) return;
  held = all[at].dataset.layer;
  place(list, held, all[to]?.dataset.layer ?? '');
});
document.addEventListener('htmx:afterSettle', () => {
  begin();
  // the list may come in more than one swap
  if (held) document.querySelector(`li[data-layer="${held}"] .layer-grip`)?.focus();
});
document.addEventListener('pointerdown', () => { held = ''; });
