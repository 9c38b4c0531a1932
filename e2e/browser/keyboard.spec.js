// A whole commission without a pointer: what cannot be reached by Tab cannot be done.
import { test, expect } from '../fixtures.js';

// reach tabs on until a thing has the focus.
async function reach(page, thing) {
  for (let k = 0; k < 260; k++) {
    if (await thing.evaluate((e) => e === document.activeElement).catch(() => false)) return;
    await page.keyboard.press('Tab');
  }
  throw new Error(`the keyboard does not reach ${thing}`);
}

const fill = async (page, thing, text) => {
  await reach(page, thing);
  await page.keyboard.press('ControlOrMeta+A');
  await page.keyboard.type(text);
};

const press = async (page, thing) => {
  await reach(page, thing);
  const before = page.url();
  await page.keyboard.press('Enter');
  return before;
};

// choose takes an option of a list by typing how it begins.
const choose = async (page, thing, text) => {
  await reach(page, thing);
  await page.keyboard.type(text);
};

test('a commission from the wish to the paid invoice, by keys alone', async ({ page, program }) => {
  test.setTimeout(180_000);
  const button = (name) => page.getByRole('button', { name, exact: name === 'Save' }).first();
  await page.goto(program.url);
  await page.keyboard.press('g');
  await page.keyboard.press('c');
  await expect(page.getByRole('heading', { name: 'Commissions', level: 1 })).toBeVisible();
  await press(page, page.getByRole('link', { name: 'New commission' }));
  await expect(page.getByLabel('Commission', { exact: true })).toBeVisible();
  await fill(page, page.getByLabel('Commission', { exact: true }), 'Lighthouse stairs');
  await fill(page, page.getByLabel('Client', { exact: true }), 'Tove Ansel');
  await fill(page, page.getByLabel('Colours wanted'), 'slate and foam');
  await press(page, button('Save'));
  await expect(page.getByRole('heading', { name: 'Lighthouse stairs' })).toBeVisible();
  const commission = page.url();

  // A tile, which the client chooses.
  await choose(page, page.getByLabel('A tile of'), 'Swipe');
  await press(page, button('Pour a test tile'));
  await expect(page.getByRole('heading', { name: 'Lighthouse stairs, tile 1' })).toBeVisible();
  await page.goto(commission);
  await fill(page, page.getByLabel(/^Why/), 'the calmest');
  await press(page, button('Chosen'));
  await expect(page.locator('.chosen-why')).toContainText('the calmest');

  // Boards by its recipe, with a price.
  await fill(page, page.getByLabel('Boards from the chosen recipe'), '40 x 30 cm');
  await press(page, button('Plan them, from one batch'));
  await expect(page).toHaveURL(/\/pieces\/\d+/);
  const piece = new URL(page.url()).pathname;
  await page.goto(`${program.url}${piece}/price`);
  await choose(page, page.getByLabel('Pricing'), 'as');
  await fill(page, page.getByLabel('List price of a board'), '400');
  await press(page, button('Save'));
  await expect(page.locator('.figures-row dd').first()).toContainText('400.00');

  // Quote, approval, deposit, invoice.
  const make = async (kind) => {
    await page.goto(commission);
    await choose(page, page.getByLabel('Document', { exact: true }), kind);
    await press(page, button('Create it'));
    await expect(page.getByRole('heading', { level: 1 })).toContainText(kind);
  };
  await make('Quote');
  await page.goto(commission);
  await fill(page, page.getByLabel(/^How it was agreed/), 'by letter');
  await press(page, button('Save as agreed'));
  await expect(page.locator('.next-step')).toContainText('Invoice the deposit');
  await make('Deposit invoice');
  await page.goto(commission);
  await fill(page, page.getByLabel('Amount'), '200');
  await press(page, button('Save the payment'));
  await expect(page.locator('#papers')).toContainText('Outstanding');
  await make('Invoice');
  await page.goto(commission);
  const open = (await page.locator('#papers').innerText()).match(/Outstanding\s+([\d.,]+)/)?.[1];
  expect(open).toBeTruthy();
  await fill(page, page.getByLabel('Amount'), open);
  await press(page, button('Save the payment'));
  await expect(page.locator('#papers')).toContainText(/Outstanding\s*0\.00/);
});
