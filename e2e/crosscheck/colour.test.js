// Colour sums against two independent libraries of the npm registry.
//
// culori (colour science): CIELAB and CIEDE2000 agree to rounding.
//
// spectral.js (Kubelka–Munk mixing): given its reflectances and its weights
// (the square of the amount times the luminance), a thick film of the summed K
// and S is its mixture within 0.5 of CIEDE2000: the same law on the same data.
//
// From swatches alone the two differ by how they guess a reflectance (seven base
// curves there, the smoothest curve here). That comparison is loose by nature:
// it says that two honest guesses stay within 10 on any pair and 3 on average,
// and no more.
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
    const theirs = distance({ mode: 'lab65', l: one[0], a: one[1], b: one[2] }, { mode: 'lab65', l: two[0], a: two[1],
      b: two[2] });
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

const colours = ['#1c4fa0', '#f2d21b', '#b03020', '#3f7d4e', '#f4f3ee', '#7a4a8c'];

// pairs calls f with every two colours.
function pairs(f) {
  for (const one of colours) for (const two of colours) if (one < two) f(one, two);
}

test('the same K and S by the same weights make spectral.js’s mixture', () => {
  const bands = 36; // 380 to 730 nm, the bands both have
  pairs((one, two) => {
    for (const amount of [0.5, 1, 2]) {
      const parts = [[new Color(one), 1], [new Color(two), amount]];
      const theirs = mix(...parts);
      const weights = parts.map(([c, a]) => a ** 2 * c.luminance);
      const whole = weights[0] + weights[1];
      const k = Array.from({ length: bands },
        (_, i) => parts.reduce((sum, [c], n) => sum + (c.KS[i] * weights[n]) / whole, 0));
      const ours = calc('film-colour', { k_per_mm: k, s_per_mm: k.map(() => 1), film_mm: 1e3,
        backing: k.map(() => 0.5) });
      ours.reflectance.forEach((r, i) => assert.ok(Math.abs(r - theirs.R[i]) < 1e-6,
        `${one} + ${two}, band ${i}: ${r} is not ${theirs.R[i]}`));
      const seen = new Color([...ours.reflectance, ...theirs.R.slice(bands)]).toString();
      assert.ok(distance(seen, theirs.toString()) < 0.5, `${one} + ${two}: ours ${seen}, theirs ${theirs}`);
    }
  });
});

test('mixtures guessed from swatches stay near an independent guess', () => {
  const off = [];
  pairs((one, two) => {
    const theirs = mix([new Color(one), 1], [new Color(two), 1]).toString();
    const parts = [one, two].map((srgb) => ({ srgb, amount: new Color(srgb).luminance }));
    off.push(distance(calc('blend', { parts }).srgb, theirs));
    assert.ok(off.at(-1) < 10, `${one} + ${two}: ours ${calc('blend', { parts }).srgb}, theirs ${theirs}`);
  });
  const mean = off.reduce((a, b) => a + b) / off.length;
  assert.ok(mean < 3, `on average ${mean}`);
});
