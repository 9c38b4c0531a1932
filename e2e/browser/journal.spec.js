import { test, expect } from '../fixtures.js';

test('a result is filled in, found in the journal, and teaches', async ({ page, program }) => {
  await page.goto(`${program.url}/pieces/12/result`);
  await expect(page.getByText('Spot 1 differs by')).toBeHidden();
  await expect(page.locator('.changes li')).toHaveCount(2);
  // Another place is pressed in the first photograph.
  const shot = page.locator('[data-shot=wet]');
  await page.getByLabel('Grey card, wet').fill('0.5,0.05');
  await page.getByLabel('Grey card, cured').fill('0.5,0.05');
  await shot.click({ position: { x: 60, y: 120 } });
  await expect(page.locator('.press.spot')).toHaveCount(6);
  await page.getByLabel('In a sentence').fill('quiet, like fog over the flat');
  await page.getByRole('button', { name: 'Save the changes' }).click();
  await expect(page.locator('.changes li')).toHaveCount(3);
  // The journal finds it by any of its words, as they are typed.
  await page.goto(`${program.url}/journal`);
  await page.getByLabel('Find', { exact: true }).pressSequentially('fog fl');
  await expect(page.locator('.happening')).toHaveCount(1);
  await expect(page.locator('.happening')).toContainText('quiet, like fog over the flat');
  await page.goto(`${program.url}/findings`);
  await expect(page.getByRole('heading', { name: 'Silicone' })).toBeVisible();
  await expect(page.getByRole('row', { name: /^2 to 3 drops of silicone/ })).toContainText('5');
  // Beside a plan with the same colours stands what they taught.
  await page.goto(`${program.url}/pieces/1`);
  await expect(page.locator('.taught')).toContainText('Swipe with Hollin Bench 45');
});

test('a wall shows what was poured as it was photographed, with what came of it', async ({ page, program }) => {
  await page.goto(`${program.url}/pieces`);
  const card = page.locator('.card-piece', { hasText: 'Study, slate seam again' });
  await expect(card).toContainText('Rated 5 of 5; repeat: yes, as it is.');
  await expect.poll(() => card.getByAltText('Photograph of the piece').evaluate((i) => i.naturalWidth))
    .toBeGreaterThan(100);
  await expect(page.locator('.card-piece', { hasText: 'Salt pans from above' }).locator('.board')).toBeVisible();
});

test('a fault is traced by question and answer, and its remedy joins the days', async ({ page, program }) => {
  await page.goto(`${program.url}/pieces/3/faults`);
  await page.getByText('Bubbles that come back').click();
  await page.getByRole('button', { name: 'What causes it' }).click();
  await expect(page.locator('.causes')).toContainText('Damp air or a damp board');
  const question = await page.locator('.ask').textContent();
  await page.getByRole('link', { name: 'No', exact: true }).click();
  await expect(page.locator('.ask')).not.toHaveText(question);
  await page.getByRole('button', { name: /Add to the plan.*One quick pass/s }).click();
  await expect(page.getByRole('status')).toContainText('in the plan now');
  await page.goto(`${program.url}/pieces/3`);
  await expect(page.locator('main')).toContainText('One quick pass');
  await page.goto(`${program.url}/faults/bubbles-from-below`);
  await expect(page.getByRole('heading', { name: 'What to do about it' })).toBeVisible();
});
