import { test, expect } from '../fixtures.js';

test('today is the front door: what to do, in order, ticked off', async ({ page, program }) => {
  await page.goto(program.url);
  await expect(page.getByRole('heading', { name: 'To do, in order' })).toBeVisible();
  await page.goto(`${program.url}/days`);
  const first = page.locator('.day-task[data-task]').first();
  const words = await first.getAttribute('aria-label');
  await first.focus();
  await page.keyboard.press('e');
  await expect(page.locator('.day-task.done').first()).toHaveAttribute('aria-label', /, done/);
  expect(words).toMatch(/^\d\d:\d\d /);
});

test('a task is pinned by keyboard, the rest reflows, and it is let go', async ({ page, program }) => {
  await page.goto(`${program.url}/days`);
  // One in the morning: whenever the test runs, a quarter of an hour later has room before the evening.
  const pour = page.locator('.day-task.pour[data-task]')
    .and(page.locator('[data-at*="T08:"], [data-at*="T09:"], [data-at*="T10:"], [data-at*="T11:"]')).first();
  const key = await pour.getAttribute('data-task');
  const piece = await pour.getAttribute('data-piece');
  const same = page.locator(`.day-task[data-task="${key}"][data-piece="${piece}"]`);
  const before = await pour.getAttribute('data-at');
  await pour.focus();
  await page.keyboard.press('ArrowRight');
  await expect(same).toHaveClass(/pinned/);
  expect(await same.getAttribute('data-at')).not.toBe(before);
  await same.focus();
  await page.keyboard.press('x');
  await expect(same).not.toHaveClass(/pinned/);
});

// place returns where on the page a task must be let go to lie early in the
// opening of a later day that has room for it.
const place = (task) => {
  const rect = task.querySelector('rect');
  const width = Number(rect.getAttribute('width'));
  const days = [...document.querySelectorAll('svg[data-day]')];
  for (const day of days.slice(days.indexOf(task.closest('svg')) + 1)) {
    const nights = [...day.querySelectorAll('.night')]
      .map((n) => Number(n.getAttribute('x')) + Number(n.getAttribute('width')));
    const opens = nights[0];
    const shuts = Number(day.querySelectorAll('.night')[1]?.getAttribute('x') ?? 0);
    if (shuts - opens < width + 40) continue;
    const box = day.getBoundingClientRect();
    const scale = box.width / day.viewBox.baseVal.width;
    return { x: box.x + (opens + 10 + width / 2) * scale, y: box.y + box.height / 2 };
  }
  return null;
};

test('a task is dragged to another day', async ({ page, program }) => {
  await page.setViewportSize({ width: 1280, height: 3000 });
  await page.goto(`${program.url}/days`);
  const pour = page.locator('.day-task.pour[data-task]').first();
  const key = await pour.getAttribute('data-task');
  const piece = await pour.getAttribute('data-piece');
  const from = await pour.locator('rect').boundingBox();
  const to = await pour.evaluate(place);
  await page.mouse.move(from.x + from.width / 2, from.y + from.height / 2);
  await page.mouse.down();
  await page.mouse.move(to.x, to.y, { steps: 5 });
  await page.mouse.up();
  await expect(page.locator(`.day-task.pinned[data-task="${key}"][data-piece="${piece}"]`)).toBeVisible();
});

test('what stands in the way is said while a task is dragged', async ({ page, program }) => {
  await page.setViewportSize({ width: 1280, height: 3000 });
  await page.goto(`${program.url}/days`);
  // A second coat onto its own first pour, whenever that is.
  const piece = await page.evaluate(() => [...document.querySelectorAll('[data-task="top:pour"]')]
    .map((t) => t.dataset.piece)
    .find((id) => document.querySelector(`[data-task="first:pour"][data-piece="${id}"]`)));
  const bar = (task) => page.locator(`.day-task[data-task="${task}"][data-piece="${piece}"]`);
  const second = bar('top:pour');
  const box = await second.locator('rect').boundingBox();
  const before = await second.getAttribute('data-at');
  const first = await bar('first:pour').locator('rect').boundingBox();
  await page.mouse.move(box.x + 5, box.y + 5);
  await page.mouse.down();
  await page.mouse.move(first.x + 8, first.y + 5, { steps: 5 });
  await expect(page.locator('.drag-says')).toContainText('Not before');
  await expect(page.locator('.drag-says')).toContainText(/: .* (has to|needs|lets) /);
  await page.keyboard.press('Escape'); // and it stays where it was
  await page.mouse.up();
  await expect(page.locator('.drag-says')).toBeHidden();
  await expect(second).toHaveAttribute('data-at', before);
});

test('what was ticked off is taken back, on both pages', async ({ page, program }) => {
  await page.goto(`${program.url}/days`);
  const key = await page.locator('.day-task[data-task]').first().getAttribute('data-task');
  await page.locator('.day-task[data-task]').first().focus();
  await page.keyboard.press('e');
  const did = page.locator(`.day-task.done[data-did="${key}"]`);
  await expect(did).toBeFocused();
  await page.keyboard.press('e');
  await expect(did).toHaveCount(0);
  await page.locator('.day-task[data-task]').first().focus();
  await page.keyboard.press('e');
  await expect(page.locator('.day-task.done')).not.toHaveCount(0);
  await page.goto(program.url);
  await expect(page.getByRole('heading', { name: 'Done today' })).toBeVisible();
  await page.locator('.did').getByRole('button', { name: /^Undo/ }).click();
  await expect(page.getByRole('heading', { name: 'Done today' })).toHaveCount(0);
});

test.describe('hours out of the usual', () => {
  test.use({ allowedErrors: ['422'] });
  test('are said in words, seen in the days and the month, and taken back', async ({ page, program }) => {
    await page.goto(`${program.url}/days`);
    await page.getByLabel('A day', { exact: true }).fill('some evening');
    await page.getByRole('button', { name: 'Save', exact: true }).click();
    await expect(page.locator('#f-day-no')).toContainText('is not a day');
    await expect(page.getByLabel('A day', { exact: true })).toHaveValue('some evening');
    await page.getByLabel('A day', { exact: true }).fill('tomorrow shut');
    await page.getByRole('button', { name: 'Save', exact: true }).click();
    await expect(page.locator('.own-hours')).toContainText('closed');
    await expect(page.locator('.day-row').nth(1)).toContainText('closed');
    await page.getByRole('link', { name: 'Month' }).click();
    await expect(page.locator('.month td.is-today')).toBeVisible();
    await page.goBack();
    await page.getByRole('button', { name: /^As usual/ }).click();
    await expect(page.locator('.own-hours')).toHaveCount(0);
  });
});

test('a commission goes from a brief over tiles to boards', async ({ page, program }) => {
  await page.goto(`${program.url}/commissions`);
  await page.getByRole('link', { name: 'New commission' }).click();
  await page.getByLabel('Commission', { exact: true }).fill('Harbour office');
  await page.getByLabel('Client', { exact: true }).fill('Tove Ansel');
  await page.getByLabel('Colours wanted').fill('slate and foam');
  await page.getByRole('button', { name: 'Save', exact: true }).click();
  await page.getByLabel('A tile of').selectOption('flow');
  await page.getByRole('button', { name: 'Pour a test tile' }).click();
  await expect(page.getByRole('heading', { name: 'Harbour office, tile 1' })).toBeVisible();
  await page.goBack();
  await page.reload();
  await page.getByLabel(/^Why/).fill('the calmest');
  await page.getByRole('button', { name: 'Chosen' }).click();
  await expect(page.locator('.chosen-why')).toContainText('the calmest');
  await page.getByLabel('Boards from the chosen recipe').fill('60 x 90 cm');
  await page.getByLabel('how many').fill('2');
  await page.getByRole('button', { name: 'Plan them, from one batch' }).click();
  await expect(page.getByLabel('Boards like this')).toHaveValue('2');
  await expect(page.locator('caption').first()).toContainText('Flow');
});

test('a coat plan is edited and checked', async ({ page, program }) => {
  await page.goto(`${program.url}/pieces/1`);
  await page.locator('#f-layer').selectOption('wash');
  await page.getByRole('button', { name: 'Add it' }).click();
  await expect(page.locator('#layers .layers')).toContainText('Tint wash');
  const wash = page.locator('.layer', { hasText: 'Tint wash' });
  await wash.getByRole('button', { name: /Later/ }).click(); // behind the coat that would seal it
  await expect(page.locator('#out-days')).toContainText('is not sealed');
  await page.getByRole('button', { name: 'Undo' }).click();
});

test('the letter of the day is written and kept', async ({ page, program }) => {
  await page.goto(`${program.url}/outbox`);
  await page.getByRole('button', { name: 'Write today’s letter now' })
    .or(page.getByRole('button', { name: "Write today's reminder now" })).click();
  await expect(page.locator('.letter').first()).toContainText(/to do/);
});

test.describe('a place outside the hours', () => {
  test.use({ allowedErrors: ['422'] });
  test('is refused in words and nothing moves', async ({ page, program }) => {
    await page.goto(`${program.url}/days`);
    const pour = page.locator('.day-task.pour[data-task]').first();
    const before = await pour.getAttribute('data-at');
    const box = await pour.locator('rect').boundingBox();
    const day = await pour.locator('xpath=ancestor::*[name()="svg"]').boundingBox();
    await page.mouse.move(box.x + 5, box.y + box.height / 2);
    await page.mouse.down();
    await page.mouse.move(day.x + day.width * 0.99, box.y + box.height / 2, { steps: 5 }); // past closing time
    await page.mouse.up();
    await expect(page.locator('#alert')).toContainText('The studio is closed');
    await expect(pour).toHaveAttribute('data-at', before);
  });
});
