import { test, expect, typed } from '../fixtures.js';

test('a new user plans an 18 × 18 in swipe board', async ({ page, program }) => {
  await page.goto(`${program.url}/`);
  await page.getByRole('link', { name: 'New piece' }).click();
  await page.getByLabel('Name', { exact: true }).fill('My first board');
  await page.getByLabel('Size').fill('18 x 18 in');
  await page.getByText('Change', { exact: true }).click();
  await page.getByLabel('How much').fill('1.7 mm');
  await page.getByLabel('Resin', { exact: true }).selectOption({ label: 'Hollin Slow 60' });
  await page.getByRole('button', { name: 'Plan it' }).click();
  await expect(page.getByRole('heading', { name: 'My first board' })).toBeVisible();
  // Common practice: 1.70 mm on 18 × 18 in is 12 US fl oz, 355 mL.
  await expect(page.locator('[data-fig="Face"]')).toHaveText('355 mL');
  await expect(page.locator('[data-fig="Face"]')).toHaveAttribute('title', '12.0 fl oz');
  // Worked example: 2:1 by volume of 1130 and 970 kg/m³ is weighed 2.330:1.
  const grams = async (part) => parseFloat(await page.locator(`[data-fig="first-jug-${part}"]`).textContent());
  expect((await grams('a')) / (await grams('b'))).toBeCloseTo(2.33, 2);
  await expect(page.locator('.board')).toBeVisible();
});

test.describe('with a refused share', () => {
  test.use({ allowedErrors: ['422'] });
  test('a new piece takes its own colours and shares', async ({ page, program }) => {
    await page.goto(`${program.url}/pieces/new`);
    await page.getByLabel('Name', { exact: true }).fill('Own colours');
    await page.getByRole('radio', { name: /Clear flood/ }).check();
    await expect(page.getByLabel('Pigment of Second colour')).toHaveCount(0); // the technique's own cups are shown
    await page.getByRole('radio', { name: /Flow/ }).check();
    const pigments = page.getByLabel('Pigment of Second colour');
    await pigments.selectOption(await pigments.locator('option', { hasText: 'Eelgrass' }).getAttribute('value'));
    await page.getByLabel('Share of Eelgrass').fill('a third'); // the cup has the pigment's name at once
    await page.getByRole('button', { name: 'Plan it' }).click();
    await expect(page.locator('#say-coat\\.first\\.colour\\.c3\\.share')).toContainText('is not a share');
    await expect(page).toHaveTitle(/^Not saved: New piece/);
    await expect(page.getByRole('alert').first()).toContainText('Look again at: Share of Eelgrass.');
    await expect(page.getByLabel('Share of Eelgrass')).toBeFocused();
    await expect(page.locator('[name="coat.first.colour.c3.share"]')).toHaveValue('a third');
    await page.locator('[name="coat.first.colour.c3.share"]').fill('33%');
    await page.getByRole('button', { name: 'Plan it' }).click();
    await expect(page.locator('#cups')).toContainText('Eelgrass');
    await expect(page.getByLabel('Share of Eelgrass')).toHaveValue('33 %');
  });
});

test('a changed field recomputes the plan in place and can be undone', async ({ page, program }) => {
  await page.goto(`${program.url}/pieces/1`);
  const total = page.locator('[data-fig="total"]');
  const before = await total.textContent();
  await typed(page, 'How much', '2.5 mm');
  await expect(total).not.toHaveText(before);
  await expect(total).toHaveClass(/changed/);
  await expect(page.locator('#layer-said-first')).toContainText('2.50 mm');
  await expect(page.getByLabel('How much', { exact: true })).toBeFocused();
  await page.reload();
  await expect(page.getByLabel('How much', { exact: true })).toHaveValue('2.5 mm');
  await page.getByRole('button', { name: 'Undo' }).click();
  await expect(total).toHaveText(before);
  await expect(page.getByLabel('How much', { exact: true })).toHaveValue('1.7 mm');
  await page.getByRole('button', { name: 'Redo' }).click();
  await expect(page.getByLabel('How much', { exact: true })).toHaveValue('2.5 mm');
});

test.describe('with refused values', () => {
  test.use({ allowedErrors: ['422'] });
  test('bad input is said beside its field and loses nothing', async ({ page, program }) => {
    await page.goto(`${program.url}/pieces/1`);
    const total = await page.locator('[data-fig="total"]').textContent();
    await typed(page, 'How much', 'rather thick');
    await expect(page.locator('#say-coat\\.first\\.amount')).toContainText('is not an amount');
    await expect(page.getByLabel('How much', { exact: true })).toHaveValue('rather thick');
    await expect(page.getByLabel('How much', { exact: true })).toHaveAttribute('aria-invalid', 'true');
    await expect(page.locator('[data-fig="total"]')).toHaveText(total);
    await typed(page, 'Side depth', '1 in');
    await expect(page.locator('#say-coat\\.first\\.amount')).toContainText('is not an amount');
    await typed(page, 'How much', '1/16 in');
    await expect(page.locator('#say-coat\\.first\\.amount')).toBeEmpty();
    await expect(page.getByLabel('How much', { exact: true })).not.toHaveAttribute('aria-invalid', 'true');
  });

  test('only the fields that matter are shown', async ({ page, program }) => {
    await page.goto(`${program.url}/pieces/1`);
    await expect(page.getByLabel('Corners in mm')).toBeHidden();
    await page.getByLabel('Outline', { exact: true }).selectOption('polygon');
    await expect(page.getByLabel('Corners in mm')).toBeVisible();
    await expect(page.locator('#say-points')).toContainText('type the corners');
    await typed(page, 'Corners in mm', '0,0 400,0 200,300');
    await expect(page.locator('[data-fig="face"]')).toHaveText('600 cm²');
  });
});

test('two open pages keep each other’s changes', async ({ page, context, program, watch }) => {
  const other = await context.newPage();
  watch(other);
  await page.goto(`${program.url}/pieces/1`);
  await other.goto(`${program.url}/pieces/1`);
  await typed(page, 'How much', '2 mm');
  await typed(other, 'Side depth', '40 mm');
  await page.reload();
  await expect(page.getByLabel('How much', { exact: true })).toHaveValue('2 mm');
  await expect(page.getByLabel('Side depth')).toHaveValue('40 mm');
});

test('layers are put in order by drag and by keys', async ({ page, program }) => {
  await page.emulateMedia({ reducedMotion: 'reduce' }); // no row is on its way while the pointer is over it
  await page.goto(`${program.url}/pieces/1`);
  const names = page.locator('li.layer strong');
  const was = await names.allInnerTexts();
  const grips = page.locator('.layer-grip');
  await grips.nth(2).evaluate((el) => el.scrollIntoView({ block: 'center' }));
  const from = await grips.nth(0).boundingBox();
  const to = await grips.nth(2).boundingBox();
  await page.mouse.move(from.x + 8, from.y + 8);
  await page.mouse.down();
  await page.mouse.move(to.x + 8, to.y - 4, { steps: 10 });
  await expect(names.first()).toHaveText(was[1]);
  await Promise.all([page.waitForResponse((r) => r.url().includes('/place')), page.mouse.up()]);
  await page.reload();
  await expect(names.first()).toHaveText(was[1]); // it was kept
  const at = (await names.allInnerTexts()).indexOf(was[0]);
  expect(at).toBeGreaterThan(0);
  await grips.nth(at).focus();
  for (let k = at; k > 0; k--) {
    await page.keyboard.press('ArrowUp');
    await expect(names.nth(k - 1)).toHaveText(was[0]);
    await expect(grips.nth(k - 1)).toBeFocused();
  }
  expect(await names.allInnerTexts()).toEqual(was);
});

test('colours are added, shared out and removed', async ({ page, program }) => {
  await page.goto(`${program.url}/pieces/2`);
  const rows = page.locator('.colour:not(.head)');
  await expect(rows).toHaveCount(4);
  await page.getByRole('button', { name: 'Another cup' }).click();
  await expect(rows).toHaveCount(5);
  const answer = page.waitForResponse((r) => r.url().endsWith('/edit'));
  await page.getByLabel('Share of Salt').fill('60%');
  await answer;
  await expect(page.locator('#cups tbody tr').first()).toContainText('Brine');
  await page.getByText('change Salt').click();
  await page.getByRole('button', { name: 'Remove Salt' }).click();
  await expect(rows).toHaveCount(4);
  await expect(page.locator('#cups')).not.toContainText('Salt');
});

test.describe('an outline from a drawing', () => {
  test.use({ allowedErrors: ['422'] }); // it is refused while there is none
  test('an outline is taken from a drawing', async ({ page, program }) => {
    await page.goto(`${program.url}/pieces/1`);
    await expect(page.getByLabel('Take the outline from an SVG drawing')).toBeHidden(); // until an outline is drawn
    await page.getByLabel('Outline', { exact: true }).selectOption('Drawn');
    const upload = async (svg) => {
      await page.getByLabel('Take the outline from an SVG drawing')
        .setInputFiles({ name: 'board.svg', mimeType: 'image/svg+xml', buffer: Buffer.from(svg) });
      await page.getByRole('button', { name: 'Upload' }).click();
    };
    await upload('<svg xmlns="http://www.w3.org/2000/svg" width="300mm" height="300mm" viewBox="0 0 300 300">' +
      '<path d="M0 0H300V300H0Z M140 150a10 10 0 1 0 20 0a10 10 0 1 0 -20 0Z"/></svg>');
    await expect(page.locator('[data-fig="face"]')).toHaveText('897 cm²'); // 900 less a hole of π·1² cm²
  });
  test('a drawing with a script is refused in words', async ({ page, program }) => {
    await page.goto(`${program.url}/pieces/1`);
    await page.getByLabel('Outline', { exact: true }).selectOption('Drawn');
    await page.getByLabel('Take the outline from an SVG drawing')
      .setInputFiles({ name: 'x.svg', mimeType: 'image/svg+xml',
      buffer: Buffer.from('<svg xmlns="http://www.w3.org/2000/svg"><script>alert(1)</script></svg>') });
    await page.getByRole('button', { name: 'Upload' }).click();
    await expect(page.locator('#say-drawing')).toContainText('holds a script');
  });
});

test('the run sheet has amounts, times and safety', async ({ page, program }) => {
  await page.goto(`${program.url}/pieces/1`);
  await page.keyboard.press('p');
  await expect(page).toHaveURL(/run-sheet/);
  await expect(page.locator('.coat-sheet .cups')).toHaveCount(2);
  await expect(page.locator('.sheet')).toContainText('Nitrile gloves');
  await expect(page.locator('.sheet')).toContainText('safety data sheet, local codes and licensed practice come first');
  await page.emulateMedia({ media: 'print' });
  await expect(page.locator('.bar')).toBeHidden();
  await expect(page.getByRole('button', { name: 'Print' })).toBeHidden();
});

test('a recorded use is kept, changes nothing of its own coat, and can be reset', async ({ page, program }) => {
  await page.goto(`${program.url}/pieces/1`);
  const before = await page.locator('[data-fig="total"]').textContent();
  await page.getByLabel('First pour used').fill('500 mL');
  await page.locator('#record').getByRole('button', { name: 'Record' }).first().click();
  await expect(page.locator('#record')).toContainText('recorded');
  await expect(page.locator('[data-fig="total"]')).toHaveText(before);
  await page.goto(`${program.url}/settings`);
  await expect(page.locator('.learned tbody tr')).toContainText('Swipe');
  await page.getByRole('button', { name: 'Reset' }).click();
  await page.goto(`${program.url}/pieces/1`);
  await expect(page.locator('[data-fig="total"]')).toHaveText(before);
});

test('pieces are found, copied, removed and put back', async ({ page, program }) => {
  await page.goto(`${program.url}/pieces`);
  await page.getByLabel('Find by name').fill('ferry');
  await expect(page.locator('.card-piece')).toHaveCount(1);
  await page.goto(`${program.url}/pieces/3`);
  await page.getByRole('button', { name: 'Copy this piece' }).click();
  await expect(page.getByRole('heading', { level: 1 })).toHaveText('Night ferry, set of three (copy)');
  await page.getByRole('button', { name: 'Remove it' }).click();
  await expect(page.locator('.card-piece')).toHaveCount(12);
  await page.getByRole('button', { name: 'Restore it' }).click();
  await expect(page.getByRole('heading', { level: 1 })).toContainText('(copy)');
});

test.describe('when the program goes away', () => {
  test.use({ allowedErrors: ['ERR_CONNECTION_REFUSED', 'ERR_CONNECTION_RESET', 'ERR_EMPTY_RESPONSE', 'htmx'] });
  test('it says so, keeps what was typed, and goes on after a restart', async ({ page, program }) => {
    await page.goto(`${program.url}/pieces/1`);
    const port = new URL(program.url).port;
    await program.kill();
    await page.getByLabel('What is wanted').fill('typed while it was away');
    await expect(page.locator('#alert')).toContainText('does not answer');
    await program.start(port);
    await typed(page, 'What is wanted', 'typed while it was away, and after');
    await expect(page.locator('#alert')).toBeEmpty();
    await page.reload();
    await expect(page.getByLabel('What is wanted')).toHaveValue('typed while it was away, and after');
  });
});

test('a cast too deep for one pour is poured in layers by one press', async ({ page, program }) => {
  await page.goto(`${program.url}/pieces/1`);
  const edited = () => page.waitForResponse((r) => r.url().endsWith('/edit') && r.request().method() === 'POST');
  let answer = edited();
  await page.getByLabel('Made of', { exact: true }).selectOption({ label: 'Slab in a mould' });
  await answer;
  await page.goto(`${program.url}/pieces/1`);
  answer = edited();
  await page.getByLabel('How much', { exact: true }).fill('50 mm');
  await page.getByLabel('How much', { exact: true }).blur();
  await answer;
  const pour = page.getByRole('button', { name: /^Pour it in \d+ layers/ });
  await expect(pour).toBeVisible();
  const n = Number((await pour.textContent()).match(/in (\d+) layers/)[1]);
  const before = await page.locator('.layer.coat').count();
  await pour.click();
  await expect(page.locator('.layer.coat')).toHaveCount(before + n - 1);
  await expect(pour).toBeHidden();
});

test.describe('one part at a time', () => {
  test.use({ parts: 'one' });
  const open = (page) => page.locator('details.part[open]').evaluateAll((list) => list.map((e) => e.id));

  test('the part in hand stays open, the others say how they stand', async ({ page, program }) => {
    await page.goto(`${program.url}/pieces/1#surface`);
    await expect.poll(() => open(page)).toEqual(['surface']);
    await expect(page.locator('#line-cups')).toContainText('370 mL in 4 cups');
    await typed(page, 'Size', '50 x 50 cm');
    await expect(page.locator('#line-cups')).toContainText('440 mL in 4 cups');
    expect(await open(page)).toEqual(['surface']);
    // The page may be swapped between the click and the toggle it leads to.
    await page.locator('#cups > summary').evaluate((summary) => {
      summary.click();
      document.dispatchEvent(new Event('htmx:afterSettle'));
    });
    await expect.poll(() => open(page)).toEqual(['cups']);
    await page.keyboard.press('u');
    await expect(page.locator('#line-cups')).toHaveText(/370 mL/);
    await expect(page).toHaveURL(/#surface$/); // a key pressed as the page changes leads nowhere else
    expect(await open(page)).toEqual(['cups']);
    await page.reload();
    await expect.poll(() => open(page)).toEqual(['surface']); // the address names it
    await page.locator('#clock > summary').click();
    await expect.poll(() => open(page)).toEqual(['clock']);
  });

  test('it reads as a page, and a part in hand has at most fifteen fields', async ({ page, program }) => {
    await page.goto(`${program.url}/pieces/1`);
    const fields = page.locator('main :is(input, select, textarea):visible');
    await expect(fields).toHaveCount(0);
    await expect(page.locator('#line-composition')).toContainText('Wet sand');
    for (const part of ['surface', 'layers', 'composition', 'moves', 'cups', 'clock', 'days']) {
      await page.locator(`#${part} > summary`).click();
      await expect(page.locator(`#${part} .part-body`)).toBeVisible();
      expect(await fields.count(), part).toBeLessThanOrEqual(15);
    }
  });

  test('all of them open, if that is wanted', async ({ page, program }) => {
    await page.goto(`${program.url}/pieces/1`);
    await page.getByRole('button', { name: 'Open all parts' }).click();
    await expect.poll(async () => (await open(page)).length).toBeGreaterThan(6);
    await page.reload();
    await expect.poll(async () => (await open(page)).length).toBeGreaterThan(6);
    await page.getByRole('button', { name: 'One part at a time' }).click();
    await expect.poll(async () => (await open(page)).length).toBe(1);
  });
});
