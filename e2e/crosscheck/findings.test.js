// Beta intervals of `findings` against jStat.
import { test } from 'node:test';
import assert from 'node:assert/strict';
import { execFileSync } from 'node:child_process';
import jstat from 'jstat';
import { binary } from '../program.js';

const calc = (name, request) => JSON.parse(execFileSync(binary, ['calc', name], { input: JSON.stringify(request) }));

test('credible intervals are those of jStat', () => {
  for (const of of [1, 3, 10, 37, 400]) {
    for (const yes of new Set([0, 1, Math.floor(of / 3), Math.floor(of / 2), of - 1, of])) {
      for (const level of [0.5, 0.9]) {
        const got = calc('findings', { yes, of, level });
        const beta = (p) => jstat.jStat.beta.inv(p, yes + 0.5, of - yes + 0.5);
        assert.ok(Math.abs(got.mean - (yes + 0.5) / (of + 1)) < 1e-12);
        assert.ok(Math.abs(got.low - (yes === 0 ? 0 : beta((1 - level) / 2))) < 1e-6,
          `${yes} of ${of}, ${level}: low ${got.low}`);
        assert.ok(Math.abs(got.high - (yes === of ? 1 : beta((1 + level) / 2))) < 1e-6,
          `${yes} of ${of}, ${level}: high ${got.high}`);
      }
    }
  }
});
