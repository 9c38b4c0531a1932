// A page that fails its test on any console error and on any request that
// leaves 127.0.0.1.
import { test as base, expect } from '@playwright/test';
import { Program } from './program.js';

export { expect };

export const test = base.extend({
  command: ['demo', { option: true }],
  allowedErrors: [[], { option: true }],
  program: async ({ command }, use) => {
    const program = await new Program(command).start();
    await use(program);
    await program.end();
  },
  watch: async ({ allowedErrors }, use) => {
    const faults = [];
    const watch = (page) => {
      page.on('console', (m) => {
        if (m.type() === 'error' && !allowedErrors.some((a) => m.text().includes(a))) faults.push(`console: ${m.text()}`);
      });
      page.on('pageerror', (e) => faults.push(`page error: ${e.message}`));
      page.on('request', (r) => {
        const url = new URL(r.url());
        if (url.protocol.startsWith('http') && url.hostname !== '127.0.0.1') faults.push(`request left: ${r.url()}`);
      });
    };
    await use(watch);
    expect(faults).toEqual([]);
  },
  page: async ({ page, watch }, use) => {
    watch(page);
    await use(page);
  },
});

// typed fills a field as a person does and waits for the plan to answer.
export async function typed(page, label, value) {
  const answer = page.waitForResponse((r) => r.url().includes('/edit') && decodeURIComponent(r.request().postData().replaceAll('+', ' ')).includes(value));
  await page.getByLabel(label, { exact: true }).fill(value);
  await answer;
}
