// A bench day as it comes: two additions, a shortage, a complaint and a stop, by the
// screen alone; then the coat that follows from looking at it.
import { test, expect } from '../fixtures.js';

const step = (page) => page.locator('.bench-step').first();
const done = (page) => page.locator('[data-confirm]');

async function until(page, name) {
  for (let k = 0; k < 30; k++) {
    if (name.test(await step(page).innerText())) return;
    const rev = await page.locator('#bench-body').getAttribute('data-rev');
    await done(page).click();
    await expect(page.locator('#bench-body')).not.toHaveAttribute('data-rev', rev);
  }
  throw new Error(`the day never came to ${name}`);
}

async function key(page, name) {
  await page.locator(`[data-panel="${name}"]`).click();
  const panel = page.locator(`#panel-${name}`);
  await expect(panel).toBeVisible();
  return panel;
}

async function begin(page, program) {
  await page.goto(`${program.url}/pieces/1/bench`);
  await page.getByRole('button', { name: 'Start anyway, with everything open', exact: true }).first().click();
  await expect(step(page)).toHaveText('Lay out');
}

test('two additions, a shortage, a complaint and a stop, and the coat that follows', async ({ page, program }) => {
  await begin(page, program);
  const bench = page.url();
  await until(page, /Break bubbles/);

  // an addition nobody planned, done with two presses
  let panel = await key(page, 'move');
  await panel.locator('.spot-board label').nth(4).click();
  await panel.getByRole('button', { name: 'Tap the board' }).click();
  await expect(panel).toBeHidden();
  await expect(step(page)).toContainText('Tap the board');
  await expect(page.locator('.bench-with')).toContainText('middle');
  await done(page).click();

  // a shortage: the cup is empty, so a card says what to mix
  panel = await key(page, 'more');
  await panel.locator('.panel-cups li').nth(1).getByRole('button', { name: 'two palms' }).click();
  await expect(step(page)).toContainText('Mix');
  await expect(page.locator('.bench-with').first()).toContainText(/A \d/);
  await expect(page.locator('.bench-with').first()).toContainText('pour it within');
  await expect(page.getByRole('button', { name: 'Start mixing' })).toBeVisible();
  await done(page).click();
  await expect(page.locator('.bench-clocks')).toContainText('Batch 2');
  await done(page).click();
  await expect(step(page)).toContainText('More of');
  await done(page).click();
  await expect(step(page)).not.toContainText('More of'); // before what is chosen could be drawn anew

  // a complaint, answered by the film there, mended, and judged
  panel = await key(page, 'wrong');
  await panel.locator('.spot-board label').nth(8).click();
  await panel.getByRole('button', { name: 'Too white' }).click();
  await expect(panel.locator('.advice')).toContainText('for another');
  await panel.getByRole('button', { name: 'Scrape it off' }).click();
  await expect(step(page)).toContainText('Scrape it off');
  await done(page).click();
  await expect(page.locator('.bench-ask')).toContainText('did it help?');
  await page.getByRole('button', { name: 'Better' }).click();
  await expect(page.locator('.bench-ask')).toHaveCount(0);

  // something went otherwise, and is taken back
  panel = await key(page, 'else');
  await panel.getByRole('button', { name: 'Lid was off' }).click();
  await expect(page.locator('.bench-otherwise')).toContainText('Cover it.');
  await page.locator('#undo').click();
  await expect(page.locator('.bench-otherwise')).toHaveCount(0);

  // a second addition: heat at one place, which the account knows
  panel = await key(page, 'heat');
  await panel.locator('.heat-board button').nth(0).click();
  await expect(panel).toBeHidden();
  panel = await key(page, 'heat');
  await expect(panel.locator('.heat-board button').nth(0)).not.toContainText('0 passes');
  await panel.getByRole('button', { name: 'Close' }).click();

  // liked: the rest of the moves go, what keeps the coat stays
  await page.getByRole('button', { name: 'I like it: stop' }).click();
  await expect(step(page)).toContainText('Cover');
  await expect(page.locator('.bench-notes')).toContainText('Stopped: good as it is');
  await expect(page.locator('.bench-notes')).toContainText('Too white, near right corner: scrape it off');
  await page.reload();
  await expect(step(page)).toContainText('Cover');

  // it is over; the record has it, and the next coat follows from looking at it
  page.once('dialog', (d) => d.accept());
  await page.getByRole('button', { name: 'End this bench day here' }).click();
  await expect(page.locator('.bench-step')).toContainText('This coat is done');
  expect(page.url()).toBe(bench);
  await page.goto(`${program.url}/pieces/1/judge?coat=first`);
  await expect(page.getByText('Too white, near right corner: scrape it off, better for it')).toBeVisible();
  await page.getByRole('link', { name: 'Calm it' }).click();
  await page.locator('.judge-spots button').nth(8).click();
  await expect(page.locator('.judge-spots button').nth(8)).toContainText('Calm it');
  const veil = page.locator('.offers > li').filter({ hasText: 'A thin veil' });
  await expect(veil).toContainText('near right corner');
  await veil.getByRole('button', { name: 'Plan it' }).click();
  await expect(page).toHaveURL(/\/pieces\/1\?coat=veil/);
  await expect(page.locator('main')).toContainText('Veil');
});

test('the keys are large enough, and a panel is shut by Escape', async ({ page, program }) => {
  await begin(page, program);
  await until(page, /Lay the stripes/);
  for (const button of await page.locator('.bench-keys button').all()) {
    expect((await button.boundingBox()).height).toBeGreaterThanOrEqual(64);
  }
  const panel = await key(page, 'wrong');
  await page.keyboard.press('Escape');
  await expect(panel).toBeHidden();
});
