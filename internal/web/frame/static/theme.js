// Runs before the page is drawn, so that the chosen theme does not flash.
(function () {
  let theme = null;
  try { theme = localStorage.getItem('jevvo-theme'); } catch { /* private window: follow the system */ }
  if (theme === 'dark' || theme === 'light') document.documentElement.dataset.theme = theme;
})();
