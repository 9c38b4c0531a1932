import { test, expect } from '../fixtures.js';
import { flatPNG } from '../png.js';

test('a board is composed by mouse, by keyboard and by numbers, and the cups follow', async ({ page, program }) => {
  await page.goto(`${program.url}/pieces/1/composition`);
  await page.getByRole('button', { name: /^Lanes/ }).click();
  const things = page.locator('[data-thing]');
  await expect(things).toHaveCount(4);
  // By mouse: a puddle.
  await page.getByLabel('Thing', { exact: true }).selectOption('puddle');
  await page.getByLabel('Cup', { exact: true }).selectOption({ label: 'Slate' });
  const box = await page.locator('#stage').boundingBox();
  await page.mouse.click(box.x + box.width * 0.3, box.y + box.height * 0.42);
  await expect(things).toHaveCount(5);
  await expect(page.locator('#inspector')).toContainText('Puddle of Slate');
  // By typed numbers.
  await page.getByLabel('Width once level').fill('60 mm');
  await page.keyboard.press('Tab');
  await expect(page.getByLabel('Part of the coat')).toHaveValue('1.35 %'); // π·30²/457.2²
  // By keyboard.
  const points = page.getByLabel('Points, mm from the upper left');
  const before = await points.inputValue();
  await page.locator('.thing.chosen').focus();
  await page.keyboard.press('Shift+ArrowRight');
  await expect(points).not.toHaveValue(before);
  await expect(page.locator('.thing.chosen')).toBeFocused();
  await page.keyboard.press('c');
  await expect(things).toHaveCount(6);
  await page.keyboard.press('Delete');
  await expect(things).toHaveCount(5);
  await page.getByRole('button', { name: 'Undo' }).click();
  await expect(things).toHaveCount(6);
  await page.goto(`${program.url}/pieces/1`);
  await expect(page.getByLabel('Share of Slate')).not.toHaveValue('20 %');
});

test('the mixer adds by the drop and says what it does', async ({ page, program }) => {
  await page.goto(`${program.url}/pieces/1`);
  await page.getByText('change Eelgrass').click();
  await page.getByRole('link', { name: /Mix Eelgrass/ }).click();
  await page.getByRole('button', { name: 'Remove Eelgrass' }).click();
  await expect(page.locator('.mix-rows')).toHaveCount(0);
  await page.getByLabel('Add', { exact: true }).selectOption({ label: 'Kelp tint, liquid tint' });
  await page.getByLabel('How much').fill('3 drops');
  await page.getByRole('button', { name: 'Add it' }).click();
  await expect(page.locator('.mix-verdict')).toContainText('will not cover');
  await page.getByRole('button', { name: '1 drop of Kelp tint' }).last().click();
  await expect(page.locator('.mix-dose')).toContainText('4 drops');
  await page.getByLabel('Look at it on').selectOption({ label: 'Metal tray' });
  await expect(page.locator('.mixer-caption')).toContainText('metal tray');
});

test('a picture becomes a palette, recipes and cups', async ({ page, program }) => {
  await page.goto(`${program.url}/palettes`);
  await page.getByLabel(/A cushion/).setInputFiles({ name: 'cushion.png', mimeType: 'image/png',
    buffer: flatPNG(40, 30, (x) => (x < 20 ? [160, 140, 116] : [0, 250, 20])) });
  await page.getByRole('button', { name: 'Read it' }).click();
  await expect(page.getByRole('heading', { name: 'cushion' })).toBeVisible();
  await expect(page.locator('.palette-colours > li')).toHaveCount(2);
  await expect(page.locator('.recipe-words').filter({ hasText: 'Nothing you own comes closer' })).toBeVisible();
  await page.getByRole('button', { name: 'Make the cups' }).click();
  await expect(page.locator('.colour:not(.head)')).toHaveCount(2);
});

test.describe('refused pictures', () => {
  test.use({ allowedErrors: ['422'] });
  test('what is not a picture is said so', async ({ page, program }) => {
    await page.goto(`${program.url}/palettes`);
    await page.getByLabel(/A cushion/)
      .setInputFiles({ name: 'x.png', mimeType: 'image/png', buffer: Buffer.from('no picture') });
    await page.getByRole('button', { name: 'Read it' }).click();
    await expect(page.locator('#say-picture')).toContainText('not a JPEG or PNG');
  });
});

test('a drawdown is picked from a photograph', async ({ page, program }) => {
  await page.goto(`${program.url}/pigments/9`);
  await page.getByLabel('or pick the three').setInputFiles({ name: 'chart.png', mimeType: 'image/png',
    buffer: flatPNG(90, 30, (x) => (x < 30 ? [60, 50, 40] : x < 60 ? [180, 160, 120] : [230, 230, 228])) });
  const canvas = page.locator('#pick-canvas');
  await expect(canvas).toBeVisible();
  const { width, height } = await canvas.boundingBox();
  for (const at of [0.15, 0.5, 0.85]) await canvas.click({ position: { x: width * at, y: height / 2 } });
  await expect(page.getByLabel('Over black')).toHaveValue('#3c3228');
  await expect(page.getByLabel('Over white')).toHaveValue('#b4a078');
  await expect(page.getByLabel('The white itself')).toHaveValue('#e6e6e4');
});
