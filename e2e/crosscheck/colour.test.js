// Colour sums against two independent libraries of the npm registry.
//
// culori (colour science): CIELAB and CIEDE2000 agree to rounding.
//
// spectral.js (Kubelka–Munk mixing): it weighs each colour by the square of
// its amount times its luminance and builds reflectances from seven base
// curves instead of the smoothest curve. With amounts weighted its way the
// same single-constant law remains, and what is left is the other
// reconstruction: within 10 of CIEDE2000 on any pair, 3 on average.
import { test } from 'node:test';
import assert from 'node:assert/strict';
import { execFileSync } from 'node:child_process';
import { differenceCiede2000, converter } from 'culori';
import spectral from 'spectral.js';
import { binary } from '../program.js';

const calc = (name, request) => JSON.parse(execFileSync(binary, ['calc', name], { input: JSON.stringify(request) }));
const { Color, mix } = spectral;
const distance = differenceCiede2000();
const lab65 = converter('lab65');

test('CIEDE2000 is culori’s', () => {
  for (let i = 0; i < 40; i++) {
    const lab = () => [100 * Math.abs(Math.sin(7 * i + 1)), 90 * Math.sin(3 * i), 90 * Math.cos(5 * i)];
    const one = lab();
    const two = [one[0] * 0.9, one[1] + 12 * Math.sin(i), one[2] - 9];
    const theirs = distance({ mode: 'lab65', l: one[0], a: one[1], b: one[2] }, { mode: 'lab65', l: two[0], a: two[1], b: two[2] });
    assert.ok(Math.abs(calc('delta-e', { lab1: one, lab2: two }).ciede2000 - theirs) < 1e-6);
  }
});

test('a colour mixed with nothing has culori’s CIELAB', () => {
  for (const srgb of ['#1c4fa0', '#f2d21b', '#b03020', '#55705a', '#f4f3ee', '#20262c', '#d09a3c', '#808080']) {
    const { l, a, b } = lab65(srgb);
    const got = calc('blend', { parts: [{ srgb, amount: 1 }] }).lab;
    assert.ok(Math.hypot(got[0] - l, got[1] - a, got[2] - b) < 0.2, `${srgb}: ${got} is not ${[l, a, b]}`);
  }
});

test('mixtures are those of an independent Kubelka–Munk library', () => {
  const colours = ['#1c4fa0', '#f2d21b', '#b03020', '#3f7d4e', '#f4f3ee', '#7a4a8c'];
  const off = [];
  for (const one of colours) {
    for (const two of colours) {
      if (one >= two) continue;
      const theirs = mix([new Color(one), 1], [new Color(two), 1]).toString();
      const parts = [one, two].map((srgb) => ({ srgb, amount: new Color(srgb).luminance }));
      off.push(distance(calc('blend', { parts }).srgb, theirs));
      assert.ok(off.at(-1) < 10, `${one} + ${two}: ours ${calc('blend', { parts }).srgb}, theirs ${theirs}`);
    }
  }
  const mean = off.reduce((a, b) => a + b) / off.length;
  assert.ok(mean < 3, `on average ${mean}`);
});
