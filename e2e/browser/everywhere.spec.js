import AxeBuilder from '@axe-core/playwright';
import { test, expect } from '../fixtures.js';

const pages = ['/', '/days', '/days?if=days-off', '/days/print', '/days/month', '/commissions', '/commissions/new',
  '/commissions/1', '/outbox', '/bench', '/pieces/1/bench', '/benches/1', '/rehearsals/1', '/techniques',
    '/techniques/swipe', '/techniques/own-1',
  '/pieces', '/pieces/new', '/pieces/1', '/pieces/3?coat=second', '/pieces/1/run-sheet', '/pieces/1/level',
    '/pieces/1/weigh', '/weighings/1',
  '/pieces/1/composition', '/pieces/2/composition?sel=t3', '/pieces/1/coats/first/cups/c3', '/pieces/1/card',
    '/pieces/1/rescale?size=90+x+60+cm', '/palettes', '/palettes/1',
  '/materials', '/materials/1', '/materials/pigments', '/pigments/1', '/journal', '/findings', '/faults', '/faults/mud',
    '/pieces/12/result', '/pieces/12/faults?seen=fog', '/pieces/12/journal', '/calculators', '/calculators/level',
      '/calculators/clock',
    '/settings', '/devices',
  '/screens', '/pair', '/unlock', '/labels', '/pieces/1/labels', '/scan/piece/2', '/scan/cup/1/first/c3',
    '/scan/resin/1', '/scan/place/1', '/shared',
  '/stock', '/stock?all=1', '/stock/of/resin-1', '/stock/orders', '/stock/goods/new', '/stock/goods/1',
    '/pieces/1/price', '/settings/money', '/year', '/import', '/first/resin', '/first/colours', '/first/hours',
    '/pieces/1/history', '/papers/1', '/commissions/1/wall', '/first/tile', '/glossary', '/help',
    '/help/bench', '/pieces?state=open&technique=cell', '/client?name=The%20island%20ferry%20line%2C%20Maren%20Quill'];

async function prepare(page, program) {
  const site = { headers: { Origin: program.url } };
  await page.request.post(`${program.url}/pieces/1/level`, { ...site, form: { along: '0.2', across: '-0.1' } });
  await page.request.post(`${program.url}/pieces/1/weigh/first`, site);
  await page.request.post(`${program.url}/pieces/1/bench/first`, { ...site, form: { anyway: 'yes' } });
  await page.request.post(`${program.url}/benches/1/done`, { ...site, form: { rev: '1' } });
  await page.request.post(`${program.url}/benches/1/done`, { ...site, form: { rev: '2' } });
  await page.request.post(`${program.url}/pieces/1/bench/first`, { ...site, form: { speed: '60' } });
  await page.request.post(`${program.url}/techniques/flow/copy`, site);
  await page.request.post(`${program.url}/outbox`, site);
  await page.request.post(`${program.url}/pieces/1/coats/first/used`, { ...site, form: { used: '400 mL' } });
}

const groups = [...Array(4).keys()].map((g) => pages.filter((_, i) => i % 4 === g));

// Every page is looked at in one of these, at night in each.
const views = [
  ['at a desk', 1280, 800, {}],
  ['on a telephone', 360, 740, {}],
  ['in the dark', 1280, 800, { colorScheme: 'dark' }],
  ['on a tablet', 768, 1024, {}],
  // whose contrast is the system's: what is computed are still the page's own
  ['in forced colours', 1280, 800, { forcedColors: 'active' }],
];
const viewsOf = (path) => (process.env.JEVVO_NIGHTLY ? views : [views[pages.indexOf(path) % views.length]]);
// It is as wide as each of these at night, by day as a telephone and one other.
const telephone = ['a telephone', 360, 740];
const wider = [['a desk', 1280, 800], ['a tablet', 768, 1024], ['a window at 200 % zoom', 640, 400]];
const widthsOf = (path) =>
  (process.env.JEVVO_NIGHTLY ? [...wider, telephone] : [wider[pages.indexOf(path) % wider.length], telephone]);

// settled waits until the page is drawn and its colours have changed over.
async function settled() {
  await new Promise((drawn) => { requestAnimationFrame(() => requestAnimationFrame(drawn)); });
  // what lies in a closed part is not drawn, and its colours change over when it is opened
  const drawn = (a) => a.effect.getTiming().iterations < 100 && a.effect.target.checkVisibility();
  await Promise.all(document.getAnimations().filter(drawn).map((a) => a.finished.catch(() => {})));
}

// cut finds text that leaves the window or its box, and words broken in two where they
// lead: in headings, buttons and labels.
function cut() {
  const out = new Set();
  const unseen = (e) => e.closest('.sr, [hidden], template, dialog:not([open]), .skip, script, style, svg, select') ||
    !e.checkVisibility({ visibilityProperty: true });
  const say = (what, e, text) =>
    out.add(`${what}: ${e.tagName.toLowerCase()}.${[...e.classList].join('.')} "${text.trim().slice(0, 40)}"`);
  const parents = (e) => { const all = []; for (let p = e; p && p !== document.body; p = p.parentElement) all.push(
    [p, getComputedStyle(p)]); return all; };
  const words = document.createTreeWalker(document.body, NodeFilter.SHOW_TEXT);
  for (let n = words.nextNode(); n; n = words.nextNode()) {
    const e = n.parentElement;
    if (!n.data.trim() || !e || unseen(e)) continue;
    const range = document.createRange();
    range.selectNodeContents(n);
    const box = range.getBoundingClientRect();
    if (!box.width) continue;
    const around = parents(e);
    if (!around.some(([, s]) => ['auto', 'scroll'].includes(s.overflowX)) && (box.right > innerWidth + 1 ||
      box.left < -1)) say('off the window', e, n.data);
    for (const [p, s] of around) {
      const q = p.getBoundingClientRect();
      if (['hidden', 'clip'].includes(s.overflowX) && s.textOverflow !== 'ellipsis' && box.right > q.right + 1.5) say(
        'cut', e, n.data);
      if (['hidden', 'clip'].includes(s.overflowY) && box.bottom > q.bottom + 2.5) say('cut below', e, n.data);
    }
    if (!e.closest('h1, h2, h3, button, label, th, .button, summary, dt')) continue;
    for (const m of n.data.matchAll(/[\p{L}\d]+/gu)) {
      range.setStart(n, m.index);
      range.setEnd(n, m.index + m[0].length);
      if (new Set([...range.getClientRects()].map((r) => Math.round(r.top))).size > 1) say('broken', e, n.data);
    }
  }
  return [...out];
}

for (const [g, group] of groups.entries()) {
  test(`pages are accessible, and nothing runs off or is cut, part ${g + 1}`, async ({ page, program }) => {
    test.setTimeout(300_000);
    await prepare(page, program);
    const found = [];
    for (const path of group) {
      for (const [i, [name, width, height, media]] of viewsOf(path).entries()) {
        await page.emulateMedia({ colorScheme: 'light', forcedColors: 'none', reducedMotion: 'reduce', ...media });
        await page.setViewportSize({ width, height });
        if (i === 0) await page.goto(program.url + path);
        await page.evaluate(settled);
        // there are no frames, so no second page is opened to gather them in
        const axe = new AxeBuilder({ page }).setLegacyMode().options({ resultTypes: ['violations'] })
          .withTags(['wcag2a', 'wcag2aa', 'wcag21a', 'wcag21aa', 'wcag22aa']);
        const { violations } = await (media.forcedColors ? axe.disableRules('color-contrast') : axe).analyze();
        found.push(...violations.map((v) => `${path}, ${name}: ${v.id} ${v.nodes.map((n) => n.target).join(' | ')}`));
      }
      for (const [name, width, height] of widthsOf(path)) {
        await page.setViewportSize({ width, height });
        await page.evaluate(settled);
        const over = await page.evaluate(() =>
          document.documentElement.scrollWidth - document.documentElement.clientWidth);
        if (over > 0) found.push(`${path} is ${over} wider on ${name}`);
        found.push(...(await page.evaluate(cut)).map((f) => `${path} on ${name}: ${f}`));
      }
    }
    expect(found).toEqual([]);
  });
}

test('the keyboard reaches everything', async ({ page, program }) => {
  await page.goto(`${program.url}/pieces`);
  await page.keyboard.press('?');
  await expect(page.getByRole('dialog', { name: 'Keyboard shortcuts' })).toBeVisible();
  await page.keyboard.press('Escape');
  await page.keyboard.press('/');
  await page.keyboard.type('puddle');
  await expect(page.locator('#jump-list a').first()).toContainText('How far will a puddle run?');
  await page.keyboard.press('Enter');
  await expect(page).toHaveURL(/calculators\/puddle/);
  await page.locator('h1').click();
  await page.keyboard.press('g');
  await page.keyboard.press('s');
  await expect(page).toHaveURL(/materials/);
  await page.waitForLoadState();
  await page.keyboard.press('n');
  await expect(page).toHaveURL(/pieces\/new/);
});

test('the theme is kept', async ({ page, program }) => {
  await page.goto(`${program.url}/pieces`);
  await page.getByRole('button', { name: 'Light or dark' }).click();
  await expect(page.locator('html')).toHaveAttribute('data-theme', 'dark');
  await page.reload();
  await expect(page.locator('html')).toHaveAttribute('data-theme', 'dark');
});

test.describe('in an empty studio', () => {
  test.use({ command: 'serve' });
  test('the first page says what to do', async ({ page, program }) => {
    await page.goto(program.url);
    await expect(page.getByText('Nothing is planned yet.')).toBeVisible();
    await page.getByRole('link', { name: 'Plan a piece' }).click();
    await expect(page.getByRole('heading', { name: 'New piece' })).toBeVisible();
    await page.getByRole('link', { name: 'Copy an example' }).click();
    await page.getByLabel(/Hollin Bench 45/).check();
    await page.getByRole('button', { name: 'Copy to my materials' }).first().click();
    await page.goto(`${program.url}/pieces/new`);
    await page.getByLabel('Name', { exact: true }).fill('First board');
    await page.getByRole('button', { name: 'Plan it' }).click();
    await expect(page.getByRole('heading', { name: 'First board' })).toBeVisible();
  });
  test('three steps lead to a tile poured on the screen', async ({ page, program }) => {
    await page.goto(program.url);
    await page.getByRole('link', { name: 'Set up the studio' }).click();
    await page.getByLabel('Name', { exact: true }).fill('Barrow 40');
    await page.getByLabel('Ratio A:B').fill('3:1');
    await page.getByRole('button', { name: 'Save this resin' }).click();
    await page.getByLabel('Your colours, one line each').fill('Sea green\nChalk white; paste; #f4f3ee\nDeep navy');
    await page.getByRole('button', { name: 'Show what it makes' }).click();
    await expect(page.locator('.list-table tbody tr')).toHaveCount(3);
    await page.getByRole('button', { name: 'Save 3 of them' }).click();
    await page.getByLabel('Opening hours').fill('tue-sat 10:00-18:00');
    await page.getByRole('button', { name: 'Save and go on' }).click();
    await expect(page.getByLabel('Resin')).toContainText('Barrow 40');
    await expect(page.getByRole('checkbox', { name: 'Sea green' })).toBeChecked();
    await page.getByRole('button', { name: 'Pour it on the screen' }).click();
    await expect(page.getByRole('heading', { name: 'Pour it on the screen' })).toBeVisible();
    await page.goto(`${program.url}/settings`);
    await expect(page.getByLabel('Opening hours')).toHaveValue('tue-sat 10:00-18:00');
  });
});

test.describe('where nothing is', () => {
  test.use({ allowedErrors: ['404'] });
  test('an unknown address says so', async ({ page, program }) => {
    await page.goto(`${program.url}/pieces/4711`);
    await expect(page.getByText('There is nothing at this address')).toBeVisible();
  });
});

test('what is typed and not saved survives leaving, and says that it is a draft', async ({ page, program }) => {
  await page.goto(`${program.url}/settings`);
  const humidity = page.locator('#f-humidity');
  const was = await humidity.inputValue();
  await humidity.fill('61 %');
  await page.goto(`${program.url}/days`);
  await page.goto(`${program.url}/settings`);
  await expect(humidity).toHaveValue('61 %');
  await expect(page.getByText(/A draft of .*, not saved yet/)).toBeVisible();
  await page.getByRole('button', { name: 'Discard it' }).click();
  await expect(humidity).toHaveValue(was);
  await page.reload();
  await expect(humidity).toHaveValue(was);
  // What was saved is no draft any more.
  await humidity.fill('62 %');
  const save = page.getByRole('button', { name: 'Save', exact: true }).first();
  await expect(save).toBeInViewport();
  await save.click();
  await expect(page.getByText('Saved.')).toBeVisible();
  await page.goto(`${program.url}/settings`);
  await expect(humidity).toHaveValue('62 %');
  await expect(page.getByText(/A draft of/)).toHaveCount(0);
});
