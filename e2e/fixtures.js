// A page that fails its test on any console error and on any request that
// leaves 127.0.0.1.
import { test as base, expect } from '@playwright/test';
import { Program } from './program.js';

export { expect };

// A request taken back for a newer one (hx-sync) is no fault. One that failed
// says sendError too, so hearing of its end adds nothing.
const harmless = ['htmx:sendAbort', 'htmx:afterRequest'];

export const test = base.extend({
  command: ['demo', { option: true }],
  allowedErrors: [[], { option: true }],
  program: async ({ command }, use) => {
    const program = await new Program(command).start();
    await use(program);
    await program.end();
  },
  // watch stands on the program, so that every page is closed before the
  // program ends: a stream cut off by the end of a test is no fault.
  watch: async ({ allowedErrors, program }, use) => {
    const home = new URL(program.url).hostname; // 127.0.0.1
    const faults = [];
    const pages = [];
    const watch = (page) => {
      pages.push(page);
      page.on('console', (m) => {
        if (m.type() === 'error' && ![...harmless, ...allowedErrors].some((a) => m.text().includes(a))) faults.push(
          `console: ${m.text()}`);
      });
      page.on('pageerror', (e) => faults.push(`page error: ${e.message}`));
      page.on('request', (r) => {
        const url = new URL(r.url());
        if (url.protocol.startsWith('http') && url.hostname !== home) faults.push(`request left: ${r.url()}`);
      });
    };
    await use(watch);
    await Promise.all(pages.map((page) => page.close()));
    expect(faults).toEqual([]);
  },
  // Tests of what stands on a piece see all of its parts; how they open has a test of
  // its own.
  parts: ['all', { option: true }],
  page: async ({ page, parts, program, watch }, use) => {
    await page.context().addCookies([{ name: 'jevvo-parts', value: parts, url: program.url }]);
    watch(page);
    await use(page);
  },
});

// typed fills a field as a person does and waits for the plan to answer.
export async function typed(page, label, value) {
  const answer = page.waitForResponse((r) => r.url().includes('/edit') && decodeURIComponent(r.request().postData()
    .replaceAll('+', ' ')).includes(value));
  await page.getByLabel(label, { exact: true }).fill(value);
  await answer;
}
