import { test, expect } from '../fixtures.js';

test.use({ allowedErrors: ['422'] });

// The colour in the middle of the film, as the canvas shows it.
const middle = (page) => page.locator('[data-el=film]')
  .evaluate((c) => [...c.getContext('2d').getImageData(c.width / 2, c.height / 2, 1, 1).data].slice(0, 3).join());

test('a coat is poured on the screen, scrubbed, played, and changed by hand', async ({ page, program }) => {
  test.setTimeout(300_000);
  await page.goto(`${program.url}/pieces/1`);
  await page.getByRole('link', { name: 'Preview', exact: true }).click();
  await expect(page.locator('#words')).toContainText('on the board', { timeout: 60_000 });
  await expect(page.locator('#preview[data-whole]')).toBeVisible({ timeout: 120_000 });
  await expect(page.locator('#t-cells')).toContainText('Foam white');
  const end = await middle(page);
  const last = await page.locator('#moment').textContent();
  // Scrubbing, by keyboard too.
  await page.locator('#course').fill('1');
  await expect(page.locator('#moment')).not.toHaveText(last);
  await expect.poll(() => middle(page)).not.toBe(end);
  const early = await page.locator('#moment').textContent();
  await page.locator('[data-el=film]').focus();
  for (let i = 0; i < 4; i++) await page.keyboard.press('.');
  await expect(page.locator('#moment')).not.toHaveText(early);
  // Playing ends at the last frame.
  await page.locator('#pace').selectOption('600');
  await page.getByRole('button', { name: 'Play', exact: true }).click();
  await expect(page.getByRole('button', { name: 'Stop', exact: true })).toBeVisible();
  await expect(page.locator('#moment')).toHaveText(last, { timeout: 20_000 });
  await expect(page.getByRole('button', { name: 'Play', exact: true })).toBeVisible();
  // What lies on what under the pointer.
  const box = await page.locator('[data-el=film]').boundingBox();
  await page.mouse.move(box.x + box.width / 2, box.y + box.height / 2);
  await expect(page.locator('#loupe li').first()).toContainText('mm, covers');
  await page.getByLabel('Light across it').check();
  // A ribbon drawn on the board.
  await page.getByLabel('Move', { exact: true }).selectOption('ribbon');
  await page.getByLabel('Cup', { exact: true }).selectOption({ label: 'Foam white' });
  await page.getByLabel('Amount', { exact: true }).fill('40 mL');
  await page.mouse.move(box.x + box.width * 0.2, box.y + box.height * 0.2);
  await page.mouse.down();
  await page.mouse.move(box.x + box.width * 0.8, box.y + box.height * 0.25, { steps: 8 });
  await page.mouse.up();
  await expect(page.getByLabel('Where, mm')).not.toHaveValue('');
  await page.getByLabel('At minute').fill('30');
  await page.getByRole('button', { name: 'Make the move' }).click();
  await expect(page.locator('.made')).toContainText('Ribbon of Foam white, 40.0 mL at 30 min');
  await expect(page.locator('#words')).toContainText('on the board', { timeout: 60_000 });
  await page.getByRole('button', { name: 'Undo' }).click();
  await expect(page.locator('.made')).toHaveCount(0);
  await page.getByRole('button', { name: 'Redo' }).click();
  await expect(page.locator('.made')).toContainText('Ribbon of Foam white');
  // What cannot be is said.
  await page.getByLabel('Move', { exact: true }).selectOption('tilt');
  await expect(page.getByLabel('Amount', { exact: true })).toBeHidden();
  await page.getByLabel('Right side up, °').fill('80');
  await page.getByRole('button', { name: 'Make the move' }).click();
  await expect(page.locator('.work .verdict.wrong')).toContainText('at most 45°');
});

test('two takes are compared, tipped by a key, and leave the program as pictures', async ({ page, program }) => {
  test.setTimeout(300_000);
  // A move made while what would change the play is still calculated does not wait for it.
  const held = [];
  await page.route('**/preview/helps*', (route) => { held.push(route); }, { times: 1 });
  await page.goto(`${program.url}/pieces/1/preview`);
  await expect(page.locator('#preview[data-whole]')).toBeVisible({ timeout: 120_000 });
  await expect.poll(() => held.length).toBe(1);
  await page.getByRole('button', { name: 'Put this aside to compare' }).click();
  await expect(page.locator('[data-el=theirs]')).toBeVisible();
  await held[0].fulfill({ body: '' });
  // The arrow tips the board; both boards stand side by side and differ.
  await page.locator('[data-el=film]').focus();
  await page.keyboard.press('ArrowRight');
  await expect(page.locator('.made')).toContainText('Board tilted');
  await expect(page.locator('#preview[data-whole]')).toBeVisible({ timeout: 120_000 });
  const data = (el) => page.locator(`[data-el=${el}]`).evaluate((c) => c.toDataURL().length);
  await expect.poll(() => data('film-kept')).toBeGreaterThan(5000);
  const boxes = await Promise.all(['film', 'film-kept'].map((el) => page.locator(`[data-el=${el}]`).boundingBox()));
  expect(Math.abs(boxes[0].width - boxes[1].width)).toBeLessThan(2);
  expect(boxes[0].x + boxes[0].width).toBeLessThan(boxes[1].x);
  await page.locator('[data-el=film]').focus();
  await page.keyboard.press('b');
  await expect(page.locator('[data-el=theirs]')).toBeHidden();
  await page.keyboard.press('b');
  await expect(page.locator('[data-el=mine]')).toBeHidden();
  // The moving picture has its frames, as the browser reads them.
  const frames = await page.locator('#moving').evaluate(async (a) => {
    const answer = await fetch(a.href);
    const decoder = new ImageDecoder({ type: answer.headers.get('content-type'), data: await answer.arrayBuffer() });
    await decoder.tracks.ready;
    return decoder.tracks.selectedTrack.frameCount;
  });
  const all = Number(await page.locator('#preview').getAttribute('data-frames'));
  expect(frames).toBe(Math.ceil(all / Math.ceil(all / 36)));
  // The board drawn small is the preview's from now on.
  await page.getByRole('button', { name: 'Play B instead' }).click();
  await expect(page.locator('#preview[data-whole]')).toBeVisible({ timeout: 120_000 });
  await page.goto(`${program.url}/pieces`);
  await expect(page.locator('svg.board image[href*="/pieces/1/preview/still.png"]')).toHaveCount(1);
});

test('beside a play stands how sure it is, what would change it, and what shows most of a colour',
  async ({ page, program }) => {
  test.setTimeout(300_000);
  await page.goto(`${program.url}/pieces/2/preview`);
  await expect(page.locator('#preview[data-whole]')).toBeVisible({ timeout: 120_000 });
  await expect(page.locator('.sureness')).toBeVisible({ timeout: 90_000 });
  await expect(page.locator('[data-range="0"]')).toHaveText(/^(\d+–)?\d+ %$/);
  await expect(page.locator('.sureness')).toContainText('runs on a coarse grid');
  await page.getByLabel('Show most of').selectOption({ label: 'Salt' });
  await page.getByRole('button', { name: 'Find it' }).click();
  await expect(page.locator('[data-el=found]')).toContainText('orders and tilts', { timeout: 90_000 });
  // The best of them is played, and can be taken back.
  await page.locator('[data-el=found] button.other').first().click();
  await expect(page.locator('input[name=order]').first()).toBeAttached();
  await expect(page.getByRole('button', { name: 'Colours in their own order' })).toBeVisible();
  // A narrow screen is not held wide by the board.
  await page.setViewportSize({ width: 360, height: 740 });
  await expect.poll(() => page.evaluate(() => document.documentElement.scrollWidth)).toBe(360);
});
