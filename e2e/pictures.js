// Takes the pictures in docs/screenshots, and those of the help, from the demo data:
//   node pictures.js            those that are kept
//   node pictures.js NAME …     some; with --at WIDTH, --dark, --to FOLDER
//   node pictures.js --lang de  those of the help, as readers of German see them
import { chromium } from '@playwright/test';
import { mkdirSync, readdirSync } from 'node:fs';
import { join } from 'node:path';
import { parseArgs } from 'node:util';
import { Program } from './program.js';

const options = {
  at: { type: 'string', default: '1280' }, dark: { type: 'boolean' }, full: { type: 'boolean' },
  to: { type: 'string', default: join(import.meta.dirname, '..', 'docs', 'screenshots') },
  command: { type: 'string', default: 'demo' }, url: { type: 'string' }, lang: { type: 'string', default: 'en' },
};
const { values, positionals } = parseArgs({ allowPositionals: true, options });

// What is pressed on the way to a picture.
const said = {
  en: { anyway: 'Start anyway, with everything open', start: 'Start', empty: 'It is empty, begin',
    left: 'still to pour' },
  de: { anyway: 'Trotzdem beginnen, obwohl alles offen ist', start: 'Start', empty: 'Er ist leer, anfangen',
    left: 'noch zu gießen' },
}[values.lang];

// Each picture: an address and what is done before it is taken.
const views = {
  today: ['/'],
  days: ['/days'],
  week: ['/days/print'],
  commissions: ['/commissions'],
  commission: ['/commissions/5'],
  outbox: ['/outbox'],
  stock: ['/stock'],
  'stock-thing': ['/stock/of/resin-1'],
  orders: ['/stock/orders'],
  price: ['/pieces/19/price'],
  terms: ['/settings/money'],
  year: ['/year'],
  offer: ['/commissions/5', async (page) => { await page.locator('#offer').scrollIntoViewIfNeeded();
    await page.evaluate(() => document.querySelector('#offer').scrollIntoView()); }],
  wall: ['/commissions/5/wall',
    async (page) => { await page.waitForFunction(() => document.querySelector('canvas').width > 400);
    await page.locator('#hung').evaluate((e) => e.scrollIntoView()); }],
  paper: ['/papers/9'],
  pieces: ['/pieces'],
  piece: ['/pieces/19'],
  'second-coat': ['/pieces/21?coat=second#layers'],
  devices: ['/devices'],
  'weigh-list': ['/pieces/19/weigh'],
  'bench-start': ['/pieces/19/bench'],
  'piece-cups': ['/pieces/19#cups'],
  'piece-clock': ['/pieces/20#clock', async (page) => { await page.getByText('Forecast: cells').click(); }],
  'new-piece': ['/pieces/new'],
  composition: ['/pieces/20/composition', async (page) => {
    await page.locator('[data-thing="t4"]').focus();
    await page.keyboard.press('Enter');
    await page.locator('#inspector').waitFor();
  }],
  preview: ['/pieces/19/preview', async (page) => { await page.locator('[data-whole]').waitFor({ timeout: 240000 }); }],
  mixer: ['/pieces/19/coats/first/cups/c3'],
  palettes: ['/palettes'],
  palette: ['/palettes/1', async (page) => { await page.locator('.recipe').nth(12).waitFor(); }],
  bench: ['/pieces/19/bench', async (page) => {
    await page.getByRole('button', { name: said.anyway }).first().click();
    for (let i = 0; i < 3; i++) {
      const before = await page.locator('#bench-body').getAttribute('data-rev');
      await page.locator('[data-confirm]').click();
      await page.locator(`#bench-body:not([data-rev="${before}"])`).waitFor();
    }
  }],
  benches: ['/bench'],
  'weigh-out': ['/pieces/19/weigh', async (page) => {
    await page.getByRole('button', { name: said.start }).first().click();
    await page.getByRole('button', { name: said.empty }).click();
    await page.locator('[data-key="7"]').waitFor();
    for (const key of '100') await page.locator(`[data-key="${key}"]`).click();
    await page.waitForFunction((left) => new RegExp(`\\d g\\s+${left}`).test(document.querySelector('main').innerText),
      said.left);
  }],
  card: ['/pieces/19/card'],
  rescale: ['/pieces/19/rescale?size=60+x+90+cm'],
  level: ['/pieces/19/level'],
  labels: ['/pieces/19/labels'],
  scan: ['/scan/piece/20'],
  'run-sheet': ['/pieces/19/run-sheet'],
  techniques: ['/techniques'],
  technique: ['/techniques/swipe'],
  materials: ['/materials'],
  pigments: ['/materials/pigments'],
  pigment: ['/pigments/9'],
  journal: ['/journal'],
  findings: ['/findings'],
  faults: ['/pieces/24/faults?seen=no-cells'],
  result: ['/pieces/30/result'],
  fault: ['/faults/mud'],
  diary: ['/pieces/30/journal'],
  calculators: ['/calculators'],
  calculator: ['/calculators/cells'],
  settings: ['/settings'],
};

// Those that are kept; the others are for looking at.
const kept = ['stock', 'wall', 'new-piece', 'year', 'run-sheet', 'journal', 'findings', 'piece', 'today', 'days',
  'bench', 'composition', 'mixer', 'palette', 'piece-clock', 'commission', 'pieces', 'weigh-out', 'preview'];

// The help shows some of them too, smaller: a view is in it by its file being there.
const help = join(import.meta.dirname, '..', 'internal', 'web', 'help', 'pictures');
const ofHelp = readdirSync(help).filter((f) => f.endsWith('.jpg')).map((f) => f.replace('.jpg', ''));
const asKept = values.at === '1280' && !values.dark && !values.full && values.to === options.to.default;
const english = values.lang === 'en';

const program = values.url ? null : await new Program(values.command, true).start();
const home = values.url ?? program.url;
const browser = await chromium.launch({ executablePath: '/usr/bin/chromium', args: ['--no-sandbox', '--disable-gpu',
  '--disable-background-networking'] });
const context = await browser.newContext({ viewport: { width: Number(values.at), height: 800 },
  colorScheme: values.dark ? 'dark' : 'light', reducedMotion: 'reduce' });
const page = await context.newPage();
mkdirSync(values.to, { recursive: true });
if (!english) mkdirSync(join(help, values.lang), { recursive: true });
try {
  if (!english) {
    await page.goto(`${home}/settings`);
    await page.locator('[name=language]').selectOption(values.lang);
    await page.getByRole('button', { name: 'Save', exact: true }).first().click();
    await page.locator(`html[lang=${values.lang}]`).waitFor();
  }
  for (const name of positionals.length ? positionals : english ? kept : ofHelp) {
    const [path, before] = views[name] ?? [name];
    await page.goto(home + path);
    if (before) await before(page);
    await page.evaluate(() => document.fonts.ready);
    const file = join(values.to, `${name.replaceAll(/\W+/g, '-')}.png`);
    if (english) await page.screenshot({ path: file, fullPage: Boolean(values.full) });
    if (asKept && ofHelp.includes(name)) {
      await page.screenshot({ path: join(help, english ? '' : values.lang, `${name}.jpg`), quality: english ? 80 : 70 });
    }
    console.log(name);
  }
} finally {
  await browser.close();
  await program?.end();
}
