// The calendar of the real program read back by an independent parser, ical.js
// (npm): every entry has a stable identity, a time and its amounts, and reading
// the file again updates rather than doubles.
import { test } from 'node:test';
import assert from 'node:assert/strict';
import ICAL from 'ical.js';
import { Program } from '../program.js';

const read = async (url) => {
  const res = await fetch(url);
  assert.equal(res.status, 200);
  assert.match(res.headers.get('content-type'), /text\/calendar/);
  const calendar = new ICAL.Component(ICAL.parse(await res.text()));
  return calendar.getAllSubcomponents('vevent').map((v) => new ICAL.Event(v));
};

test('the days are read back by an independent parser', async () => {
  const program = await new Program('demo').start();
  try {
    const events = await read(`${program.url}/days.ics`);
    assert.ok(events.length > 20, `${events.length} entries`);
    assert.equal(new Set(events.map((e) => e.uid)).size, events.length);
    const pour = events.find((e) => e.uid.endsWith('-first:pour@jevvo'));
    assert.match(pour.summary, /First pour/);
    assert.match(pour.description, /All together \d+/);
    assert.match(pour.description, /: A [\d.]+ g, B [\d.]+ g/);
    for (const e of events) assert.ok(e.endDate.compare(e.startDate) > 0, e.summary);
    const again = await read(`${program.url}/days.ics`);
    assert.deepEqual(again.map((e) => e.uid).sort(), events.map((e) => e.uid).sort());
    const page = await (await fetch(`${program.url}/days`)).text();
    const feed = page.match(/\/calendar\/[0-9a-f]{32}\.ics/)[0];
    assert.equal((await read(program.url + feed)).length, events.length);
    assert.equal((await fetch(`${program.url}/calendar/${'0'.repeat(32)}.ics`)).status, 404);
  } finally {
    await program.end();
  }
});
