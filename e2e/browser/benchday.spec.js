import { test, expect } from '../fixtures.js';

// What is refused is answered with its status, and said on the page.
test.use({ allowedErrors: ['422'] });

const step = (page) => page.locator('.bench-step').first();

// fill plans a piece of the demo anew; what is typed is taken before it goes on.
async function plan(page, program, values) {
  await page.goto(`${program.url}/pieces/1`);
  for (const [label, value] of Object.entries(values)) {
    const field = page.getByLabel(label, { exact: true });
    const answered = page.waitForResponse((r) => r.url().endsWith('/edit') && r.request().method() === 'POST');
    if (await field.evaluate((e) => e.tagName) === 'SELECT') await field.selectOption({ label: value });
    else {
      await field.fill(value);
      await field.blur();
    }
    await answered;
  }
}

async function begin(page, program) {
  await page.goto(`${program.url}/pieces/1/bench`);
  await page.getByRole('button', { name: 'Start anyway, with everything open' }).first().click();
  await expect(step(page)).toHaveText('Lay out');
  await page.waitForLoadState(); // keys are heard once the scripts are there
  await page.getByRole('button', { name: 'Letter keys' }).click();
  await page.locator('.bench-step').click();
}

// press does what the large key says and waits until the bench has moved on.
async function press(page, how = 'Space') {
  const rev = await page.locator('#bench-body').getAttribute('data-rev');
  await page.keyboard.press(how);
  if (how === 's') await page.keyboard.press('Enter'); // a skip asks
  await expect(page.locator('#bench-body')).not.toHaveAttribute('data-rev', rev);
}

test('a whole day of a swipe: two lots, a mixer, a second screen, a restart',
  async ({ page, program, context, watch }) => {
  test.slow();
  await plan(page, program, { Size: '90 x 60 cm', 'People at the bench': '2' });
  await begin(page, program);
  const other = await context.newPage();
  watch(other);
  await other.goto(page.url());
  await press(page, 'PageDown'); // the pedal
  await expect(page.getByRole('button', { name: 'Start mixing' })).toBeVisible();
  await press(page);
  await expect(page.locator('.bench-clocks')).toContainText('Batch 1');
  await expect(page.locator('.bench-clocks')).toContainText('in its jug');
  while (!(await page.locator('.bench-now.beside').isVisible())) await press(page);
  await expect(page.locator('.bench-who')).toHaveText(['Pourer', 'Mixer']);
  await expect(other.locator('.bench-who')).toHaveText(['Pourer', 'Mixer']);

  // The mixer presses on the second screen, the pourer on the first.
  await other.locator('[data-press="2"]').click();
  await expect(page.locator('.bench-clocks')).toContainText('Batch 2');
  const pouring = await step(page).textContent();
  await page.locator('[data-press="1"]').click();
  await expect(step(page)).not.toHaveText(pouring);

  const address = page.url();
  const { port } = new URL(program.url);
  const before = await page.locator('.bench-progress').getAttribute('value');
  await page.goto('about:blank');
  await other.close();
  await program.kill('SIGKILL');
  await program.start(Number(port));
  await page.goto(address);
  await expect(page.locator('.bench-progress')).toHaveAttribute('value', before);
  await expect(page.locator('.bench-clocks')).toContainText('Batch 2');

  await page.getByRole('button', { name: 'Laced' }).click();
  await expect(page.locator('.bench-notes')).toContainText('Laced');
  await page.goto(`${program.url}/days`);
  await expect(page.locator('.running')).toContainText('Ebb tide');
  await page.locator('.running a').click();
  await page.waitForURL(/benches/);
  await page.waitForLoadState();

  while (await page.locator('#skip').isVisible()) await press(page, 's'); // what has no window yet is left out
  await expect(step(page)).toHaveText('This coat is done.');
  await expect(page.locator('.bench-verdict', { hasText: 'Next:' })).toBeVisible();
  await page.reload();
  await page.getByLabel(/; left over/).fill('30 mL');
  await page.getByRole('button', { name: 'Save', exact: true }).first().click();
  await expect(page.getByText(/^Used/)).toBeVisible();
  await page.goto(`${program.url}/days`);
  await expect(page.locator('.running')).toBeHidden();
});

test('an alcohol mist: no flame while it is wet', async ({ page, program }) => {
  await plan(page, program, { Technique: 'Alcohol mist' });
  await begin(page, program);
  await expect(page.locator('.bench-side')).toContainText('Mix the mist');
  while ((await step(page).textContent()) !== 'Mist') await press(page, 's');
  await expect(page.locator('.safety').filter({ hasText: 'no flame until it has flashed off' }).first()).toBeVisible();
  await press(page);
  await expect(page.locator('.flame-lock')).toContainText('No flame for');
  await expect(step(page)).toHaveText('Let it flash off');
  while (!(await page.locator('[data-confirm]').isDisabled())) await press(page, 's');
  await expect(page.locator('.flame-lock')).toBeVisible();
  await expect(page.locator('[data-confirm]')).toBeDisabled(); // the look with the torch is locked
});

test('it reads at two metres, and a knuckle held on the step presses', async ({ page, program }) => {
  await begin(page, program);
  await press(page);
  await press(page);
  await press(page);
  const size = (selector) => page.locator(selector).first().evaluate((e) => parseFloat(getComputedStyle(e).fontSize));
  // 20/40 sight reads ten arc minutes: 5.8 mm at 2 m, 22 px on a screen of 96 to the inch.
  expect(await size('.bench-step')).toBeGreaterThanOrEqual(44);
  expect(await size('#countdown')).toBeGreaterThanOrEqual(80);
  expect(await size('.bench-verdict')).toBeGreaterThanOrEqual(24);
  const rev = await page.locator('#bench-body').getAttribute('data-rev');
  const at = await page.locator('.bench-step').boundingBox();
  await page.locator('.bench-step').dispatchEvent('pointerdown', { pointerType: 'touch', clientX: at.x, clientY: at.y,
    bubbles: true });
  await expect(page.locator('#bench-body')).not.toHaveAttribute('data-rev', rev);
});

test('what is open is answered before the first step', async ({ page, program }) => {
  await page.goto(`${program.url}/pieces/1/bench`);
  await page.getByRole('button', { name: 'Start', exact: true }).first().click();
  await expect(page.locator('.wrong')).toContainText('Answer each, or start anyway');
  const points = page.locator('.start-coat.next .guard');
  for (let i = 0; i < await points.count(); i++) await points.nth(i).getByRole('radio').first().check();
  const last = points.last();
  await last.getByLabel('Not needed because').check();
  await last.getByLabel('Why it is not needed').fill('ground flat');
  await page.getByRole('button', { name: 'Start', exact: true }).first().click();
  await expect(step(page)).toHaveText('Lay out');
  await expect(page.getByText(/^Begun with/)).toBeHidden();
});
