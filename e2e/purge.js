// Cuts the style library down to what the pages use: node purge.js LIBRARY OUT FILE…
import { readFile, writeFile } from 'node:fs/promises';
import { PurgeCSS } from 'purgecss';

const [library, out, ...files] = process.argv.slice(2);

// In pages only what stands in tags can name a style; in scripts and in the sheets over the library, any word.
const words = (text) => text.match(/[\w-]+/g) ?? [];
const tagged = (text) => words((text.match(/<[a-z][^>]*>/g) ?? []).join(' '));

const sheets = files.filter((file) => file.endsWith('.css'));
const variables = (await Promise.all(sheets.map((file) => readFile(file, 'utf8')))).join().match(/--[\w-]+/g);

const [cut] = await new PurgeCSS().purge({
  css: [{ raw: await readFile(library, 'utf8') }],
  content: await Promise.all(files.map(async (file) =>
    ({ raw: await readFile(file, 'utf8'), extension: file.split('.').pop() }))),
  extractors: [{ extractor: tagged, extensions: ['html'] }, { extractor: words, extensions: ['js'] },
    { extractor: () => [], extensions: ['css'] }],
  safelist: { standard: ['html', 'body', 'data-theme'], variables },
  keyframes: true,
  variables: true,
});
await writeFile(out, cut.css);
