// What is chosen once on a device and kept there: buttons with data-choice show it and turn it over.
const name = (choice) => `jevvo-${choice}`;
export function chosen(choice) {
  try { return localStorage.getItem(name(choice)); } catch { return null; } // a private window keeps nothing
}

const usually = (button) => button.dataset.usually ?? 'off';
function show() {
  for (const button of document.querySelectorAll('[data-choice]')) {
    button.setAttribute('aria-pressed', String((chosen(button.dataset.choice) ?? usually(button)) === 'on'));
  }
}
document.addEventListener('click', (e) => {
  const button = e.target.closest?.('[data-choice]');
  if (!button) return;
  const next = button.getAttribute('aria-pressed') === 'true' ? 'off' : 'on';
  try { localStorage.setItem(name(button.dataset.choice), next); } catch { /* for this page alone */ }
  button.setAttribute('aria-pressed', String(next === 'on'));
  const detail = { choice: button.dataset.choice, on: next === 'on' };
  document.dispatchEvent(new CustomEvent('jevvo:chosen', { detail }));
});
show();
