import { test, expect } from '../fixtures.js';

test('a cup made of a weak dose says it does not hide, and how to cure it', async ({ page, program }) => {
  await page.goto(`${program.url}/pieces/1`);
  const hides = page.locator('[data-fig="first-c1-h"]');
  await expect(hides).toBeVisible();
  const before = await hides.textContent();
  await page.getByText('change Wet sand').click();
  await page.getByLabel('Pigment in Wet sand').fill('0.4 %');
  await expect(hides).not.toHaveText(before);
  await expect(page.locator('#out-colours')).toContainText('wet sand will not cover what lies under it');
  await expect(page.locator('#out-colours')).toContainText('drops more of');
  await expect(page.locator('.piece-head')).toContainText('will not cover');
});

test('a chosen pigment brings its hiding and leaves what the painter named', async ({ page, program }) => {
  await page.goto(`${program.url}/pieces/3`);
  await page.getByText('change Lamp').click();
  await page.getByLabel('Pigment of Lamp', { exact: true }).selectOption({ label: 'Mustard seed, paste' });
  await expect(page.locator('[data-fig="first-c3-h"]')).toBeVisible();
  await expect(page.getByLabel('Swatch of Lamp')).toHaveValue('#d09a3c');
});

test('a pigment is added to the materials and taught by a drawdown', async ({ page, program }) => {
  await page.goto(`${program.url}/materials`);
  await page.getByRole('navigation', { name: 'Materials' }).getByRole('link', { name: 'Pigments' }).click();
  await page.getByRole('link', { name: 'New pigment' }).click();
  await page.getByLabel('Name').fill('Own ochre');
  await page.getByLabel('Swatch').fill('#b8862f');
  await page.getByRole('button', { name: 'Save', exact: true }).click();
  await expect(page.locator('.sample-strip')).toContainText('opaque');
  await page.getByLabel('Over black').fill('#5a4420');
  await page.getByLabel('Over white').fill('#c9a35a');
  await page.getByLabel('Film', { exact: true }).fill('0.2 mm');
  await page.getByLabel('Load', { exact: true }).fill('2 %');
  await page.getByRole('button', { name: 'Calculate and save' }).click();
  await expect(page.getByText('Calculated from its drawdown.')).toBeVisible();
  await page.goto(`${program.url}/materials/pigments`);
  await expect(page.locator('tr', { hasText: 'Own ochre' })).toContainText('drawdown');
});

test.describe('with a refused drawdown', () => {
  test.use({ allowedErrors: ['422'] });
  test('colours that were mixed up are said so and stay', async ({ page, program }) => {
    await page.goto(`${program.url}/pigments/1`);
    await page.getByLabel('Over black').fill('#c9a35a');
    await page.getByLabel('Over white').fill('#5a4420');
    await page.getByRole('button', { name: 'Calculate and save' }).click();
    await expect(page.locator('#say-over_white')).toContainText('mixed up');
    await expect(page.getByLabel('Over black')).toHaveValue('#c9a35a');
  });
});
