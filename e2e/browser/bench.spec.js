import { test, expect } from '../fixtures.js';
import { flatPNG } from '../png.js';

const step = (page) => page.locator('.bench-step');

async function begin(page, program, name = 'Start') {
  await page.goto(`${program.url}/pieces/1/bench`);
  await page.getByRole('button', { name: name === 'Start' ? 'Start anyway, with everything open' : name, exact: true })
    .first().click();
  await expect(step(page)).toHaveText('Lay out');
  await page.waitForLoadState(); // keys are heard once the scripts are there
}

test('a coat is led by one key, and goes on after a reload and a kill', async ({ page, program }) => {
  await begin(page, program);
  const address = page.url();
  await page.keyboard.press(' ');
  await expect(page.getByRole('button', { name: 'Start mixing' })).toBeVisible();
  await page.keyboard.press(' ');
  await expect(page.locator('.bench-clocks')).toContainText('Batch 1');
  await expect(step(page)).toHaveText(/^Mix/);
  await page.keyboard.press(' ');
  await expect(step(page)).toHaveText(/^Colour the cups/);
  await expect(page.locator('#countdown')).toContainText(':');
  // A letter alone does nothing until letter keys are switched on; a skip asks.
  await page.keyboard.press('s');
  await expect(page.locator('#ask-skip')).toBeHidden();
  await page.getByRole('button', { name: 'Letter keys' }).click();
  await page.keyboard.press('s');
  await expect(page.locator('#ask-skip')).toContainText('Colour the cups');
  await page.getByRole('button', { name: 'Stay with it' }).click();
  await expect(step(page)).toHaveText(/^Colour the cups/);
  await page.keyboard.press('s');
  await page.getByRole('button', { name: 'Skip it' }).click();
  await expect(step(page)).toHaveText(/^Spread the bed/);
  await page.keyboard.press('u');
  await expect(step(page)).toHaveText(/^Colour the cups/);
  await page.reload();
  await expect(step(page)).toHaveText(/^Colour the cups/);
  const { port } = new URL(program.url);
  await page.goto('about:blank'); // no stream is open while the program is away
  await program.kill('SIGKILL');
  await program.start(Number(port));
  await page.goto(address);
  await expect(step(page)).toHaveText(/^Colour the cups/);
  await expect(page.locator('.bench-clocks')).toContainText('Batch 1');
});

test('a second screen follows, and a late press does nothing twice', async ({ page, program, context, watch }) => {
  await begin(page, program);
  const other = await context.newPage();
  watch(other);
  await other.goto(page.url());
  await expect(step(other)).toHaveText('Lay out');
  await page.keyboard.press(' ');
  await expect(step(other)).toHaveText(/^Mix/);
  await page.getByLabel('Note').fill('cold hands');
  await page.getByRole('button', { name: 'Save', exact: true }).first().click();
  await expect(other.locator('.bench-notes')).toContainText('cold hands');
  await expect(other.locator('.bench-progress')).toHaveAttribute('value', '1');
});

test('targets are large enough for a knuckle', async ({ page, program }) => {
  await begin(page, program);
  for (const name of ['Done', 'Skip', 'Undo']) {
    const { height, width } = await page.getByRole('button', { name, exact: true }).boundingBox();
    expect(Math.min(height, width), name).toBeGreaterThanOrEqual(64);
  }
});

test('a typed room moves the clock, and a spoiled sensor is said', async ({ page, program }) => {
  await begin(page, program);
  await page.getByLabel('Your thermometer shows').fill('26 C');
  await page.locator('.room-form').getByRole('button', { name: 'Save', exact: true }).click();
  await expect(page.locator('.bench-clocks')).toContainText('26 °C');
  await page.goto(`${program.url}/devices`);
  await page.getByText('Simulated room sensor').click();
  await page.getByRole('button', { name: 'Loosen the probe' }).click();
  await page.goto(`${program.url}/bench`);
  await expect(page.locator('.wet')).toContainText('Ebb tide');
});

test('the bench is followed by ear, and the focus stays on the one thing to press', async ({ page, program }) => {
  // The voice is the browser's own; what it is given to say is kept here.
  await page.addInitScript(() => {
    window.heard = [];
    window.SpeechSynthesisUtterance = function Utterance(text) { this.text = text; };
    Object.defineProperty(window, 'speechSynthesis',
      { value: { cancel() {}, speak(saying) { window.heard.push(saying.text); } } });
  });
  await page.clock.install();
  await begin(page, program);
  await page.getByRole('button', { name: 'Voice' }).click();
  const said = page.locator('#bench-say');
  const main = page.locator('.bench-actions .knuckle').first();
  await main.focus();
  for (const name of [/^Mix/, /^Mix/, /^Colour the cups/]) {
    const rev = await page.locator('#bench-body').getAttribute('data-rev');
    await page.keyboard.press('Enter');
    await expect(page.locator('#bench-body')).not.toHaveAttribute('data-rev', rev);
    await expect(step(page)).toHaveText(name);
    await expect(main).toBeFocused();
  }
  await expect(said).toHaveText(/^Colour the cups/);
  const left = await page.locator('#bench-body').evaluate((body) => Number(body.dataset.seconds));
  expect(left).toBeGreaterThan(120);
  await page.clock.runFor((left - 119) * 1000);
  await expect(said).toHaveText(/^(2:00|1:5\d) /);
  await page.clock.runFor(3000);
  await expect(said).toHaveText(/^(2:00|1:5\d) /); // not every second
  expect(await page.evaluate(() => window.heard)).toEqual(expect.arrayContaining([
    expect.stringMatching(/^Colour the cups/), expect.stringMatching(/^(2:00|1:5\d) /)]));
  await page.reload(); // the choice is kept
  await expect(page.getByRole('button', { name: 'Voice' })).toHaveAttribute('aria-pressed', 'true');
});

test.describe('pressed faster than it answers', () => {
  test.use({ allowedErrors: ['409'] }); // a press on a step that is just done changes nothing
  test('a rehearsal runs fast, is scored and stays apart', async ({ page, program }) => {
    await begin(page, program, 'Rehearse 60 times as fast');
    await expect(page.locator('.rehearsing')).toContainText('60×');
    await page.getByRole('button', { name: 'Letter keys' }).click();
    await expect(async () => {
      await page.keyboard.press('1');
      await expect(step(page)).toHaveText('The rehearsal is over.', { timeout: 100 });
    }).toPass({ intervals: [30], timeout: 40_000 });
    await page.goto(`${program.url}/bench`);
    await expect(page.getByText('No coat is being poured.')).toBeVisible();
  });
});

test('a technique is copied and made the studio’s own', async ({ page, program }) => {
  await page.goto(`${program.url}/techniques/flow`);
  await page.getByRole('button', { name: 'Copy it to make it yours' }).click();
  await page.getByLabel('Name').fill('Slow river');
  await page.getByRole('button', { name: 'Save', exact: true }).click();
  await page.goto(`${program.url}/pieces/1`);
  await page.getByLabel('Technique', { exact: true }).selectOption({ label: 'Slow river' });
  await expect(page.locator('caption').first()).toContainText('Slow river');
});

test('own observations stand beside the sheet', async ({ page, program }) => {
  await page.goto(`${program.url}/materials/1`);
  await page.getByLabel('What was seen').selectOption({ label: 'it stopped lacing' });
  await page.getByLabel('After mixing').fill('30 min');
  await page.getByLabel('Room temperature then').fill('25 C');
  await page.locator('#own').getByRole('button', { name: 'Save', exact: true }).click();
  await expect(page.getByRole('columnheader', { name: 'By this studio' })).toBeVisible();
  await page.getByRole('button', { name: "Use this studio's times" }).click();
  await expect(page.getByRole('button', { name: "Use the data sheet's times again" })).toBeVisible();
});

test('a photograph is taken by one key and kept at once', async ({ page, program }) => {
  await begin(page, program);
  await page.getByRole('button', { name: 'Letter keys' }).click();
  let chooser;
  await expect(async () => { // a browser opens no chooser while it still settles
    const opened = page.waitForEvent('filechooser', { timeout: 3000 });
    await page.keyboard.press('p');
    chooser = await opened;
  }).toPass();
  await chooser.setFiles({ name: 'now.png', mimeType: 'image/png', buffer: flatPNG(40, 30, () => [30, 90, 120]) });
  const photo = page.getByRole('img', { name: /^Photograph of/ });
  await expect(photo).toBeVisible();
  expect(await photo.evaluate((img) => img.naturalWidth)).toBe(40);
});
