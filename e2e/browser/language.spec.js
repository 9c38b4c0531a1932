import { readFileSync, readdirSync } from 'node:fs';
import { join } from 'node:path';
import { test, expect } from '../fixtures.js';

// What is refused is answered with its status, and said on the page.
test.use({ allowedErrors: ['422'] });

// The views a painter is on all day.
const views = ['/', '/days', '/days/month', '/commissions', '/commissions/1', '/commissions/new', '/pieces',
  '/pieces/new', '/pieces/1', '/pieces/1/composition', '/pieces/1/preview', '/pieces/1/weigh', '/pieces/1/level',
    '/pieces/1/bench',
  '/benches/1', '/bench', '/pieces/1/run-sheet', '/pieces/1/price', '/journal', '/findings', '/faults', '/palettes',
    '/materials', '/materials/pigments', '/stock', '/stock/orders', '/settings', '/settings/money', '/techniques',
    '/techniques/swipe', '/techniques/mist', '/faults/mud', '/calculators', '/calculators/level', '/calculators/slab',
      '/glossary',
    '/first'];

// Words that English cannot do without and German does not have.
const english = new RegExp(`\\b(${['the and of with is are for from before after when this that to by on it its has no nothing',
  'each your until'].join(' ').replaceAll(' ', '|')})\\b`, 'i');

// What the demo's studio wrote itself, and copied from the examples while it spoke English,
// stays as it was written: rows of two words and more that stand so there.
const plain = (text) => text.toLowerCase().split(/[^\p{L}\p{N}]+/u).filter(Boolean);
const folder = (name) => join(import.meta.dirname, '../../internal', name);
const demo = [...readdirSync(folder('demo')).filter((f) => f.endsWith('.go')).map((f) => join(folder('demo'), f)),
  join(folder('studio/materials'), 'resins_table.go')]
  .map((f) => ` ${plain(readFileSync(f, 'utf8')).join(' ')} `).join('');
function withoutOwn(text) {
  const words = plain(text.replace(/\p{L}+…/gu, '')); // a word that was cut is no word
  const rest = [];
  for (let k = 0; k < words.length;) {
    let n = 1;
    while (k + n < words.length && demo.includes(` ${words.slice(k, k + n + 1).join(' ')} `)) n++;
    if (n === 1) rest.push(words[k]);
    k += n;
  }
  return rest.join(' ');
}

// texts are those a reader of the page meets, drawn or read out. What was noted in the
// journal stays in the language it was noted in.
function texts() {
  const out = [];
  const walk = document.createTreeWalker(document.body, NodeFilter.SHOW_TEXT);
  for (let n = walk.nextNode(); n; n = walk.nextNode()) {
    if (n.data.trim() && !n.parentElement.closest(
      'script, style, noscript, template, code, kbd, pre, textarea, .happening')) out.push(n.data.trim());
  }
  for (const e of document.querySelectorAll(
    'input[inputmode=decimal], input.input[type=text], input.input:not([type])')) out.push(e.value);
  for (const e of document.querySelectorAll('[aria-label], [title], [placeholder], [alt]')) {
    // hints of how to type something are said as they are typed
    for (const a of ['aria-label', 'title', 'placeholder', 'alt']) if (!/^\d/.test(e.getAttribute(a) ?? '')) if (
      e.getAttribute(a)) out.push(e.getAttribute(a));
  }
  return out;
}

// A decimal point, which German does not write; addresses, versions and pairs have other neighbours.
const point = /(^|[\s(±≈<>=+−–×:])\d+\.\d+(?![.\d]|,\d)/;

// What cannot be is refused in the language, at its field.
async function refusals(page, program) {
  await page.goto(`${program.url}/pieces/1`);
  for (const [key, typed, said] of [['depth', 'weit', /"weit" ist nicht als eine Länge zu lesen; schreibe/],
    ['depth', '9,5 m', /muss zwischen 0 mm und .* liegen/], ['size', '40 x weit',
    /ist keine Größe|hier fehlt|zu lesen/]]) {
    await page.locator(`#f-${key}`).fill(typed);
    await page.locator(`#f-${key}`).blur();
    await expect(page.locator(`#say-${key}`)).toHaveText(said);
  }
}

// A piece called like a text of the program's keeps its name.
async function ownNames(page, program) {
  await page.goto(`${program.url}/pieces/new`);
  await page.getByLabel('Name', { exact: true }).fill('Ready');
  await page.getByRole('button', { name: 'Planen' }).last().click();
  await expect(page.getByRole('heading', { level: 1 })).toHaveText('Ready');
  await page.goto(`${program.url}/pieces`);
  await expect(page.getByRole('heading', { name: 'Ready', exact: true })).toBeVisible();
}

test('a second language leaves no English on the main views', async ({ page, program }) => {
  test.setTimeout(180_000);
  await page.goto(`${program.url}/settings`);
  await page.getByLabel('Language').selectOption('de');
  await page.getByRole('button', { name: 'Save', exact: true }).first().click();
  await expect(page.locator('html')).toHaveAttribute('lang', 'de');
  await page.request.post(`${program.url}/pieces/1/bench/first`, { headers: { Origin: program.url },
    form: { anyway: 'yes' } });
  await page.request.post(`${program.url}/benches/1/done`, { headers: { Origin: program.url }, form: { rev: '1' } });
  const found = new Set();
  for (const view of views) {
    await page.goto(program.url + view);
    for (const text of await page.evaluate(texts)) {
      if (english.test(withoutOwn(text)) || point.test(text)) found.add(`${view}: ${text.slice(0, 120)}`);
    }
  }
  expect([...found]).toEqual([]);
  await refusals(page, program);
  await ownNames(page, program);
  await page.goto(`${program.url}/settings`);
  await page.getByLabel('Sprache').selectOption('en');
  await page.getByRole('button', { name: 'Speichern' }).first().click();
  await expect(page.getByRole('heading', { name: 'Settings' })).toBeVisible();
});
