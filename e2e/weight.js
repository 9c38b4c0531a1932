// Weighs pages as a slow phone loads them: node weight.js ADDRESS PATH…
// Slow 4G as browsers' own tools simulate it: 1.6 Mbit/s, 150 ms a round trip, a processor four times slower.
import { chromium } from '@playwright/test';

const [address, ...paths] = process.argv.slice(2);
const browser = await chromium.launch({ executablePath: '/usr/bin/chromium',
  args: ['--no-sandbox', '--disable-gpu', '--disable-background-networking'] });

async function weigh(path) {
  const context = await browser.newContext({ viewport: { width: 360, height: 740 } });
  const page = await context.newPage();
  const cdp = await context.newCDPSession(page);
  await cdp.send('Network.enable');
  await cdp.send('Network.emulateNetworkConditions',
    { offline: false, latency: 150, downloadThroughput: 1.6e6 / 8, uploadThroughput: 750e3 / 8 });
  await cdp.send('Emulation.setCPUThrottlingRate', { rate: 4 });
  const kinds = new Map();
  const sizes = new Map();
  cdp.on('Network.responseReceived', (e) => kinds.set(e.requestId, e.type));
  cdp.on('Network.loadingFinished', (e) => sizes.set(e.requestId, e.encodedDataLength));
  const html = await (await page.goto(address + path, { waitUntil: 'load' })).body();
  const paint = await page.evaluate(() => performance.getEntriesByName('first-contentful-paint')[0]?.startTime);
  const own = [...sizes].filter(([id]) => !['Font', 'Image', 'EventSource'].includes(kinds.get(id)));
  const sum = (list) => list.reduce((all, [, bytes]) => all + bytes, 0);
  await context.close();
  return { path, files: own.length, 'kB but fonts, pictures': Math.round(sum(own) / 1000),
    'kB in all': Math.round(sum([...sizes]) / 1000), 'HTML kB': Math.round(html.length / 1000),
    'first paint ms': Math.round(paint) };
}

const rows = [];
for (const path of paths) rows.push(await weigh(path));
console.table(rows);
await browser.close();
