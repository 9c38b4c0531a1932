// The number pad of the weigh-out: keys large enough for gloves that write into
// the field beside them, which a keyboard or a scale that types fills as well.

const edit = (value, key) => {
  if (key === '<') return value.slice(0, -1);
  return /[.,]/.test(key) && /[.,]/.test(value) ? value : value + key;
};

document.addEventListener('click', (e) => {
  const key = e.target.closest?.('[data-key]');
  if (!key) return;
  const field = document.getElementById(key.closest('[data-pad]').dataset.pad);
  field.value = edit(field.value, key.dataset.key);
  field.dispatchEvent(new Event('input', { bubbles: true }));
});

// Without scripts there is a keyboard; with them the pad is shown.
const show = () => document.querySelectorAll('[data-pad]').forEach((pad) => { pad.hidden = false; });
document.addEventListener('htmx:afterSettle', show);
document.addEventListener('jevvo:told', show);
show();
