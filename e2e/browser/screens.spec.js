import { test, expect } from '../fixtures.js';

async function begin(page, program) {
  await page.goto(`${program.url}/pieces/1/bench`);
  await page.getByRole('button', { name: 'Start anyway, with everything open' }).first().click();
  await expect(page.locator('.bench-step')).toHaveText('Lay out');
  return page.url();
}

test('many tabs at the bench leave the program free to answer, and all hear of a step',
  async ({ page, context, watch, program }) => {
  const bench = await begin(page, program);
  const tabs = [];
  for (let k = 0; k < 8; k++) {
    const tab = await context.newPage();
    watch(tab);
    await tab.goto(bench, { timeout: 10_000 }); // a browser opens six connections to a program
    tabs.push(tab);
  }
  await page.goto(`${program.url}/pieces`);
  await expect(page.getByRole('heading', { name: 'Pieces' })).toBeVisible();
  await tabs[7].getByLabel('Note').fill('lacing at the left edge');
  await tabs[7].getByRole('button', { name: 'Save', exact: true }).first().click();
  for (const tab of tabs) await expect(tab.locator('.bench-notes')).toContainText('lacing at the left edge');
});

test.describe('a screen that may only look', () => {
  test.use({ parts: 'one' });

  test('opens and reads every part of a piece, and changes none', async ({ page, program }) => {
    // As the program tells a paired device what its role may change.
    await page.route('**/pieces/1', async (route) => {
      const answer = await route.fetch();
      const body = (await answer.text()).replace('<body', '<body data-may="^/calculators/"');
      await route.fulfill({ response: answer, body });
    });
    await page.goto(`${program.url}/pieces/1`);
    await page.locator('#cups > summary').click();
    await expect(page.locator('#out-cups table')).toBeVisible();
    await page.locator('#surface > summary').click();
    await expect(page.getByLabel('Size', { exact: true })).toBeVisible();
    expect(await page.getByLabel('Size', { exact: true }).evaluate((e) => e.inert)).toBe(true);
  });
});

test.describe('when the program goes away', () => {
  test.use({ allowedErrors: ['Failed to load resource', 'net::ERR_'] });

  test('a screen finds it again by itself and shows what is', async ({ page, program }) => {
    const bench = await begin(page, program);
    await expect(page.locator('[data-told]')).toBeVisible();
    const { port } = new URL(program.url);
    await program.kill();
    await program.start(Number(port));
    await fetch(`${bench}/note`, { method: 'POST', body: new URLSearchParams({ note: 'from elsewhere' }),
      redirect: 'manual' });
    await expect(page.locator('.bench-notes')).toContainText('from elsewhere', { timeout: 15_000 });
  });
});
