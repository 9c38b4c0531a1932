// Stock, prices, papers and the client's wall, as a painter goes through them.
import { test, expect } from '../fixtures.js';

test.use({ allowedErrors: ['422'] }); // what cannot be is answered so

// opened is a PDF read with a library of its own.
async function opened(data) {
  globalThis.DOMMatrix ??= class {}; // it is drawn with only
  const { getDocument } = await import('pdfjs-dist/legacy/build/pdf.mjs');
  const fonts = { useSystemFonts: false, disableFontFace: true };
  const pdf = await getDocument({ data: new Uint8Array(data), ...fonts, verbosity: 0 }).promise;
  return Promise.all(Array.from({ length: pdf.numPages }, (_, n) => pdf.getPage(n + 1)));
}

async function words(data) {
  let text = '';
  for (const page of await opened(data)) text += (await page.getTextContent()).items.map((i) => i.str).join(' ');
  return text.replace(/\s+/g, ' ');
}

// readAloud is what the structure of a PDF's first page gives a screen reader: the words
// of each element under its name, and what pictures are called.
async function readAloud(data) {
  const [page] = await opened(data);
  const text = {};
  let at;
  for (const i of (await page.getTextContent({ includeMarkedContent: true })).items) {
    if (i.type === 'beginMarkedContentProps') at = i.id;
    else if (i.type === 'endMarkedContent') at = undefined;
    else if (at && i.str) text[at] = (text[at] ?? '') + i.str;
  }
  const heard = [];
  const walk = (e) => {
    if (e.alt) heard.push([e.role, e.alt]);
    const own = e.children?.filter((c) => c.type === 'content').map((c) => text[c.id] ?? '').join(' ').trim();
    if (own) heard.push([e.role, own]);
    e.children?.filter((c) => c.role).forEach(walk);
  };
  walk(await page.getStructTree());
  return heard;
}

// amount is a sum as it is printed, with small spaces between thousands.
const amount = (v) => Number(v.replace(/[^\d.-]/g, ''));

test('what runs short is ordered and booked in', async ({ page, program }) => {
  await page.goto(program.url);
  await page.getByRole('link', { name: 'Lamp soot' }).click();
  await expect(page.getByText('Lamp soot runs short on')).toContainText('Night ferry');
  await page.goto(`${program.url}/stock/orders`);
  const came = page.getByLabel('How much Lamp soot arrived');
  await came.fill('a lot');
  await page.locator('form', { has: came }).getByRole('button', { name: 'Enter what arrived' }).click();
  await expect(page.locator('.wrong')).toBeVisible();
  await expect(came).toHaveValue('a lot');
  await came.fill('2 bottles');
  await page.getByLabel('What was paid for Lamp soot').fill('15,80');
  await page.locator('form', { has: came }).getByRole('button', { name: 'Enter what arrived' }).click();
  await expect(came).toHaveCount(0);
  await page.goto(program.url);
  await expect(page.getByRole('link', { name: 'Lamp soot' })).toHaveCount(0);
  const sheet = await page.request.get(`${program.url}/stock/orders.csv`);
  expect(await sheet.text()).toContain('supplier,what,packs');
});

test('a count puts the stock right and is never taken away', async ({ page, program }) => {
  await page.goto(`${program.url}/stock/of/resin-1`);
  const counted = page.locator('form', { hasText: 'Counted now' });
  await counted.getByLabel('Counted now').fill('1.2 L');
  await counted.getByRole('button').click();
  await expect(page.locator('.wrong')).toContainText('why it is counted');
  await expect(counted.getByLabel('Counted now')).toHaveValue('1.2 L');
  await counted.getByLabel('Why it differs').fill('a bottle leaked');
  await counted.getByRole('button').click();
  await expect(page.locator('.figures-row dd').first()).toHaveText('1200 mL');
  await expect(page.getByText('counted: a bottle leaked')).toBeVisible();
});

test('from a price to a paid invoice', async ({ page, program }) => {
  await page.goto(`${program.url}/pieces/1/price`);
  await page.getByLabel('Pricing').selectOption('own');
  await page.getByLabel('List price of a board').fill('1.250,00');
  await page.getByRole('button', { name: 'Save', exact: true }).click();
  await expect(page.locator('.figures-row dd').first()).toContainText('250.00');
  await page.getByRole('link', { name: 'Quote it' }).click();
  await expect(page.locator('#offer')).toContainText('Ask for a new approval');
  await page.getByRole('button', { name: 'Create it' }).click();
  await expect(page.getByRole('heading', { level: 1 })).toContainText('Quote Q');
  const toPay = amount(await page.locator('.sums .sum td').innerText());
  const file = await page.request.get(await page.getByRole('link', { name: 'PDF' }).evaluate((a) => a.href));
  const text = await words(await file.body());
  expect(text).toContain('The island ferry line, Maren Quill');
  expect(text).toMatch(/Quote Q\d{4}-0002/);
  const sums = [...text.matchAll(/To pay\s*([\d\s\u202f]+\.\d\d)/g)].map((m) => amount(m[1]));
  expect(sums).toContain(toPay);
  const heard = await readAloud(await file.body());
  const of = (role) => heard.filter(([r]) => r === role).map(([, said]) => said);
  expect(of('H1')).toEqual([expect.stringMatching(/^Quote Q\d{4}-0002$/)]);
  expect(of('TH')).toHaveLength(4);
  expect(of('TD').some((said) => amount(said) === toPay)).toBe(true);
  expect(of('Figure').length).toBeGreaterThan(0);

  await page.goto(`${program.url}/commissions/1`);
  await page.getByLabel('How it was agreed again').fill('on the phone, the new price');
  await page.getByRole('button', { name: 'Save as agreed' }).click();
  await expect(page.locator('#offer')).not.toContainText('Ask for a new approval');
  await expect(page.locator('.next-step')).toContainText('Deposit not received');
  await page.getByLabel('Amount').fill(String(toPay));
  await page.getByRole('button', { name: 'Save the payment' }).click();
  await expect(page.locator('#papers')).toContainText('Outstanding');
  await expect(page.locator('.next-step')).toContainText('Pour');
  await page.goto(`${program.url}/year`);
  expect(amount(await page.locator('.figures-row dd').first().innerText())).toBe(toPay);
});

test('a paper goes to the outbox, and a label prints', async ({ page, program }) => {
  await page.goto(`${program.url}/papers/1`);
  await page.getByLabel('Send it to').fill('nobody');
  await page.getByRole('button', { name: 'Send' }).click();
  await expect(page.locator('.wrong')).toContainText('is not an address');
  await page.getByLabel('Send it to').fill('maren@islandferry.example');
  await page.getByRole('button', { name: 'Send' }).click();
  await expect(page.getByRole('status')).toContainText('outbox');
  await page.goto(`${program.url}/outbox`);
  await expect(page.getByText('Quote Q').first()).toBeVisible();
  await page.goto(`${program.url}/commissions/1`);
  await page.getByLabel('Document', { exact: true }).selectOption('label');
  await page.getByLabel('Language', { exact: true }).selectOption('de');
  await page.getByRole('button', { name: 'Create it' }).click();
  await expect(page.locator('.sheet-paper')).toContainText('Unikat');
});

test('boards are hung by mouse and by keys', async ({ page, program }) => {
  await page.goto(`${program.url}/commissions/1/wall`);
  const room = page.locator('#wall-photo canvas');
  await page.waitForFunction(() => document.querySelector('#wall-photo canvas').width > 400);
  const box = await room.boundingBox();
  for (const [x, y] of [[0.3, 0.3], [0.5, 0.3]]) await page.mouse.click(box.x + x * box.width, box.y + y * box.height);
  await expect(page.locator('#wall-say')).toContainText('One length');
  const before = await page.locator('#f-corners').inputValue();
  await room.focus();
  await page.keyboard.press('Shift+ArrowRight');
  expect(await page.locator('#f-corners').inputValue()).not.toBe(before);
  await page.getByRole('button', { name: 'Hang them' }).click();
  await expect(page.locator('.wrong')).toContainText('size of the patch');
  await page.getByLabel('Width of the patch').fill('80 cm');
  await page.getByRole('button', { name: 'Hang them' }).click();
  await expect(page.locator('.wall-beside img')).toHaveCount(2);
  const jpeg = await page.request.get(new URL(await page.locator('.wall-beside img').first().getAttribute('src'),
    program.url).href);
  expect([...(await jpeg.body()).subarray(0, 2)]).toEqual([0xff, 0xd8]);
});
