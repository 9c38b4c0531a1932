import { test, expect } from '../fixtures.js';

// What is refused is answered with its status, and said on the page.
test.use({ allowedErrors: ['422'] });

async function standIn(page, program) {
  await page.goto(`${program.url}/devices`);
  await page.getByRole('button', { name: 'Switch on a simulated one' }).first().click();
}

async function emptyCup(page) {
  await page.getByText('Simulated scale').click();
  await page.getByRole('button', { name: 'Set an empty cup' }).click();
}

async function startWeighing(page, program) {
  await standIn(page, program);
  await page.goto(`${program.url}/pieces/1`);
  await page.getByRole('link', { name: 'Weigh out', exact: true }).click();
  await page.getByRole('button', { name: 'Start' }).first().click();
  await emptyCup(page);
  await expect(page.locator('.dial-net data')).not.toHaveText('0.0');
  await tare(page);
}

// tare waits for the scale to rest, as the button asks one to.
async function tare(page) {
  await expect(page.locator('.dial-moving')).toBeHidden();
  await page.getByRole('button', { name: 'Zero' }).click();
  // a jug, or a cup that is filled from it
  await expect(page.locator('.dial-what')).toContainText(/part A|mixed resin/);
}

test('pour with the lever, slow down, overshoot, correct', async ({ page, program }) => {
  await startWeighing(page, program);
  const lever = page.getByLabel('Jug', { exact: true });
  await lever.fill('60');
  await expect(page.locator('.dial')).toHaveClass(/almost|stop|over/, { timeout: 30_000 });
  await page.getByRole('button', { name: 'Set the jug down' }).click();
  await expect(lever).toHaveValue('0');
  await expect(page.locator('.dial-moving')).toBeVisible();
  await expect(page.locator('.dial-moving')).toBeHidden();
  await page.getByRole('button', { name: 'Use the reading' }).click();
  await expect(page.locator('.dial-what')).toContainText('part B');
  await expect(page.locator('.dial-net small')).toContainText('of');
  await page.getByLabel('or type this amount').fill('200 g'); // far too much
  await page.getByRole('button', { name: 'Use the typed value' }).click();
  await expect(page.locator('.dial-what')).toContainText('part A, correction');
  await page.getByRole('button', { name: 'Undo' }).click();
  await expect(page.locator('.dial-what')).toContainText(/part B$/);
});

test('a second screen follows, and pressing twice does a step once', async ({ page, context, program, watch }) => {
  await startWeighing(page, program);
  const other = await context.newPage();
  watch(other);
  await other.goto(page.url());
  await expect(other.locator('.dial-what')).toContainText('part A');
  await page.getByLabel('or type this amount').fill('88.5');
  await page.getByRole('button', { name: 'Use the typed value' }).click();
  await expect(page.locator('.dial-what')).toContainText('part B');
  await expect(other.locator('.dial-what')).toContainText('part B');
  await other.reload();
  await expect(other.locator('.dial-what')).toContainText('part B');
});

test('the bench is led by one key', async ({ page, program }) => {
  await standIn(page, program);
  await page.goto(`${program.url}/pieces/1/weigh`);
  await page.getByRole('button', { name: 'Start' }).first().click();
  await emptyCup(page);
  await expect(page.locator('.dial-net data')).not.toHaveText('0.0');
  await expect(page.locator('.dial-moving')).toBeHidden();
  await page.locator('.dial').click();
  await page.keyboard.press('Space');
  await expect(page.locator('.dial-what')).toContainText('part A');
  await page.getByRole('button', { name: 'Use the reading' }).click(); // nothing was poured yet
  await expect(page.locator('.wrong')).toContainText('Nothing has been poured');
  const target = page.getByRole('button', { name: 'Use the reading' });
  expect((await target.boundingBox()).height).toBeGreaterThanOrEqual(64);
  await page.keyboard.press('u');
  await expect(page.locator('.dial-what')).toContainText('empty jug');
});

test('a typed reading that cannot be stays in its field', async ({ page, program }) => {
  await startWeighing(page, program);
  await page.getByLabel('or type this amount').fill('a spoonful');
  await page.getByRole('button', { name: 'Use the typed value' }).click();
  await expect(page.locator('.wrong')).toContainText('is not a weight');
  await expect(page.getByLabel('or type this amount')).toHaveValue('a spoonful');
});

const press = async (page, keys) => { for (const key of keys) await page.locator(`[data-key="${key}"]`).click(); };

test('a whole coat is weighed with gloves on: the pad, the drops, no cable', async ({ page, program }) => {
  await page.goto(`${program.url}/pieces/1/weigh`);
  await page.getByRole('button', { name: 'Start' }).first().click();
  for (let i = 0; i < 60 && !(await page.getByRole('link', { name: 'Show what was weighed' }).isVisible()); i++) {
    const rev = page.locator('#weigh-body input[name="rev"]').first();
    const before = await rev.inputValue();
    const begin = page.getByRole('button', { name: 'It is empty, begin' });
    const counted = page.getByRole('button', { name: /, in$/ });
    if (await begin.isVisible()) await begin.click();
    else if (await counted.isVisible()) await counted.click();
    else {
      const key = await page.locator('[data-key="7"]').boundingBox();
      expect(Math.min(key.width, key.height)).toBeGreaterThanOrEqual(64);
      const figure = await page.locator('.dial-net data').textContent();
      await press(page, '9<');
      await press(page, figure);
      await expect(page.locator('.dial-verdict')).toContainText('Stop: on target');
      await page.getByRole('button', { name: 'Save the reading' }).click();
    }
    await expect(rev).not.toHaveValue(before);
  }
  await page.getByRole('link', { name: 'Show what was weighed' }).click();
  // the jug, its four cups, and the colour that is mixed again for later
  await expect(page.locator('.weighed tbody tr')).toHaveCount(6);
  await expect(page.locator('.weighed')).toContainText('done');
});

test('level: two angles in, shims out, until it is enough', async ({ page, program }) => {
  await page.goto(`${program.url}/pieces/1/level`);
  const read = async (along, across) => {
    await page.getByLabel('Along').fill(along);
    await page.getByLabel('Across').fill(across);
    await page.getByRole('button', { name: 'Read' }).click();
  };
  await read('0.2', '0.1°');
  await expect(page.locator('.big-verdict')).toContainText('Not yet');
  await expect(page.locator('.shim.sw')).toHaveText('2.4 mm'); // 457.2 mm · (tan 0.2° + tan 0.1°)
  await expect(page.locator('.shim.ne')).toHaveText('none');
  await read('0.01', '-0.01');
  await expect(page.locator('.big-verdict')).toContainText('Level enough');
  await expect(page.locator('tbody tr')).toHaveCount(2);
});

test('a sum answers while it is typed, in the other unit too', async ({ page, program }) => {
  await page.goto(`${program.url}/calculators`);
  await page.getByRole('link', { name: 'How much resin does a coat take?' }).click();
  await page.getByLabel('Cups').fill('0');
  await page.getByLabel('Run-off').fill('0');
  await page.getByLabel('Face (width × height)').fill('18 x 18 in');
  await expect(page.locator('.lead-figures')).toContainText('12.0 fl oz');
  await page.getByLabel('Stays in a cup').fill('1 oz');
  await expect(page.locator('#say-cup_loss_ml')).toContainText('taken as US fluid ounces');
  await page.getByLabel('Film').fill('0');
  await expect(page.locator('#say-film_mm')).toContainText('more than 0');
});

test('a resin is added to the materials, used, and retired', async ({ page, program }) => {
  await page.goto(`${program.url}/materials`);
  await page.getByRole('link', { name: 'New resin' }).click();
  await page.getByLabel('Name').fill('Own mix');
  await page.getByLabel('Ratio A:B').fill('3:1');
  await page.getByLabel('Ratio by').selectOption('weight');
  await page.getByRole('button', { name: 'Save', exact: true }).click();
  const row = page.locator('tr', { hasText: 'Own mix' });
  await expect(row).toContainText('3.000:1');
  await page.goto(`${program.url}/pieces/1`);
  await page.getByLabel('Resin', { exact: true }).selectOption({ label: 'Own mix' });
  await expect.poll(async () => {
    const grams = async (part) => parseFloat(await page.locator(`[data-fig="first-jug-${part}"]`).textContent());
    return (await grams('a')) / (await grams('b'));
  }).toBeCloseTo(3, 1);
  await page.goto(`${program.url}/materials`);
  await row.getByRole('button', { name: 'Retire' }).click();
  await expect(row).toContainText('retired');
});

test('the studio reads in inches and fluid ounces when it likes', async ({ page, program }) => {
  await page.goto(`${program.url}/settings`);
  await page.getByLabel('Units').selectOption('us');
  await page.getByRole('button', { name: 'Save', exact: true }).click();
  await expect(page.getByRole('status')).toContainText('Saved');
  await page.goto(`${program.url}/pieces/1`);
  await expect(page.getByLabel('Size')).toHaveValue('18 in × 18 in');
  await expect(page.locator('[data-fig="total"]')).toContainText('fl oz');
  await expect(page.locator('[data-fig="first-c1-r"]')).toContainText('g', { useInnerText: true });
});
