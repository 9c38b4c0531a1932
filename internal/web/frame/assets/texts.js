// t is a text in the studio's language, as the page has brought it; {1}, {2} … are
// the values.
const texts = JSON.parse(document.getElementById('page-texts')?.textContent || '{}');
export const t = (text, ...values) => (texts[text] ?? text).replace(/\{(\d)\}/g, (_, n) => values[n - 1] ?? '');
