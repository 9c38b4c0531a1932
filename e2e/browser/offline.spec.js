import { test, expect } from '../fixtures.js';
import { flatPNG } from '../png.js';

test.use({ allowedErrors: ['Failed to load resource', 'net::ERR_', 'htmx:sendError', 'Failed to fetch'] });

const step = (page) => page.locator('.bench-step').first();

async function begin(page, program) {
  await page.goto(`${program.url}/pieces/1/bench`);
  await page.getByRole('button', { name: 'Start anyway, with everything open' }).first().click();
  await expect(step(page)).toHaveText('Lay out');
  await expect(page.locator('[data-told]')).toBeVisible();
}

test('a bench goes on without the network, and is merged in order when it is back',
  async ({ page, context, program }) => {
  await begin(page, program);
  await context.setOffline(true);
  await page.keyboard.press(' ');
  await expect(page.locator('.waits')).toContainText('1 press kept');
  await expect(step(page)).toHaveText(/^Mix/);
  await page.keyboard.press(' '); // the parts meet
  await expect(page.locator('.waits')).toContainText('2 presses kept');
  await page.keyboard.press(' '); // mixed
  await expect(step(page)).toHaveText(/^Colour the cups/);
  await page.getByLabel('Note').fill('no network in the cellar');
  await page.getByRole('button', { name: 'Save', exact: true }).first().click();
  await page.locator('#f-photo')
    .setInputFiles({ name: 'wet.png', mimeType: 'image/png', buffer: flatPNG(64, 64, () => [180, 120, 60]) });
  await page.getByLabel('Your thermometer shows').fill('19 °C');
  await page.locator('.room-form button').click();
  await expect(page.locator('.waits')).toContainText('5 presses and 1 photograph kept');
  await context.setOffline(false);
  await expect(page.locator('.waits')).toBeHidden({ timeout: 15_000 });
  await expect(step(page)).toHaveText(/^Colour the cups/);
  await expect(page.locator('.bench-clocks')).toContainText('Batch 1');
  await expect(page.locator('.bench-notes li')).toHaveCount(2);
  await expect(page.locator('.bench-clocks')).toContainText('19 °C');
  await expect(page.locator('.bench-notes')).toContainText('no network in the cellar');
});

test('what nobody planned is pressed without the network, and judged when it is back',
  async ({ page, context, program }) => {
  await begin(page, program);
  await context.setOffline(true);
  await page.keyboard.press(' ');
  await expect(step(page)).toHaveText(/^Mix/);
  await page.keyboard.press(' '); // the parts meet
  await expect(page.locator('.waits')).toContainText('2 presses kept');
  await page.keyboard.press(' '); // mixed
  await expect(step(page)).toHaveText(/^Colour the cups/);
  await page.locator('[data-panel="heat"]').click();
  await page.locator('#panel-heat').getByRole('button', { name: 'Close' }).click();
  await page.locator('[data-panel="else"]').click();
  await page.locator('#panel-else').getByRole('button', { name: 'Lid was off' }).click();
  await expect(page.locator('.waits')).toContainText('4 presses kept');
  await context.setOffline(false);
  await expect(page.locator('.waits')).toBeHidden({ timeout: 15_000 });
  await expect(page.locator('.bench-clocks')).toContainText('Batch 1');
  await expect(page.locator('.bench-otherwise')).toContainText('Cover it.');
});

test('a press the program always fails at is set aside, and the rest goes on', async ({ page, context, program }) => {
  await begin(page, program);
  await context.setOffline(true);
  await page.keyboard.press(' ');
  await expect(page.locator('.waits')).toContainText('1 press kept');
  await page.getByLabel('Note').fill('the one that breaks');
  await page.getByRole('button', { name: 'Save', exact: true }).first().click();
  await page.locator('[data-panel="else"]').click();
  await page.locator('#panel-else').getByRole('button', { name: 'Lid was off' }).click();
  await expect(page.locator('.waits')).toContainText('3 presses kept');
  await page.route('**/note', (route) => route.fulfill({ status: 500, body: 'broken' }));
  await context.setOffline(false);
  await expect(page.locator('.waits')).toBeHidden({ timeout: 30_000 });
  await expect(page.getByText('could not accept this press')).toBeVisible();
  await expect(page.locator('.bench-otherwise')).toContainText('Cover it.');
});

test('the bench opens without the program, as it was seen last', async ({ page, program }) => {
  await begin(page, program);
  await page.evaluate(() => navigator.serviceWorker.ready);
  await page.reload(); // seen once by the worker
  await expect(step(page)).toHaveText('Lay out');
  const { port } = new URL(program.url);
  await program.kill();
  await page.reload();
  await expect(step(page)).toHaveText('Lay out');
  await page.keyboard.press(' ');
  await expect(step(page)).toHaveText(/^Mix/);
  await page.reload(); // what was pressed is still known
  await expect(step(page)).toHaveText(/^Mix/);
  await program.start(Number(port));
  await expect(page.locator('.waits')).toBeHidden({ timeout: 15_000 });
  await expect(step(page)).toHaveText(/^Mix/);
  await expect(page.locator('.bench-progress')).toHaveAttribute('value', '1');
});

test('a device that is let in no longer keeps nothing', async ({ page, program }) => {
  await begin(page, program);
  await page.evaluate(() => navigator.serviceWorker.ready);
  await page.reload();
  await expect(step(page)).toHaveText('Lay out');
  await expect.poll(() => page.evaluate(() => caches.keys())).not.toEqual([]);
  // after a day without the program
  await page.evaluate(async () => (await caches.open((await caches.keys())[0]))
    .put('/~seen', new Response(String(Date.now() - 25 * 3600 * 1000))));
  const address = page.url();
  const { port } = new URL(program.url);
  await program.kill();
  await page.goto(address).catch(() => {});
  await expect(page.locator('.bench-step')).toHaveCount(0);
  // at the next contact
  await program.start(Number(port));
  await page.goto(address);
  await expect(step(page)).toHaveText('Lay out');
  await expect.poll(() => page.evaluate(async (at) => Boolean(await caches.match(at, { ignoreVary: true })), address))
    .toBe(true);
  await fetch(`${program.url}/screens/passphrase`,
    { method: 'POST', body: new URLSearchParams({ passphrase: 'tide marks on grey sand' }), redirect: 'manual' });
  await page.goto(address);
  await expect(page.getByLabel('Passphrase')).toBeVisible();
  expect(await page.evaluate(async (at) => Boolean(await caches.match(at, { ignoreVary: true })), address)).toBe(false);
});

test('a weigh-out goes on without the network', async ({ page, context, program }) => {
  await page.goto(`${program.url}/pieces/1/weigh`);
  await page.getByRole('button', { name: 'Start' }).first().click();
  await expect(page.locator('[data-told]')).toBeVisible();
  const before = await page.locator('[data-ahead] li').count();
  expect(before).toBeGreaterThan(3);
  await context.setOffline(true);
  await page.locator('form[action$="/tare"] button').first().click();
  await expect(page.locator('.waits')).toContainText('1 press kept');
  await expect(page.locator('.away .bench-do')).toContainText('part A');
  await context.setOffline(false);
  await expect(page.locator('.waits')).toBeHidden({ timeout: 15_000 });
  await expect(page.locator('.dial-what')).toContainText('part A');
});
