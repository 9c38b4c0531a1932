// Prices of `price` against big.js, rounded half away from zero (its roundHalfUp),
// and the identities every paper must keep.
import { test } from 'node:test';
import assert from 'node:assert/strict';
import { execFileSync } from 'node:child_process';
import Big from 'big.js';
import { binary } from '../program.js';

Big.DP = 40;
const halfUp = 1;
const calc = (name, request) => JSON.parse(execFileSync(binary, ['calc', name], { input: JSON.stringify(request) }));

// A small generator of its own: the same prices every time (Lehmer, from memory).
let seed = 42;
const draw = (n) => { seed = (seed * 48271) % 2147483647; return seed % n; };
const share = () => draw(10_000) / 10_000;
const amount = () => `${draw(100_000)}.${String(draw(1000)).padStart(3, '0')}`;

test('prices are those of big.js, and add up', () => {
  for (let k = 0; k < 60; k++) {
    const digits = draw(4);
    const r = {
      currency_digits: digits,
      materials: [{ name: 'kit', cost: amount() }, { name: 'board', cost: amount() }],
      hours: draw(400) / 8, hour_rate: amount(), overhead_share: share(), margin_share: share() / 2,
      gallery_share: share() / 2, discount_share: share(), delivery: amount(), tax_share: share(),
      tax_inclusive: draw(2) === 1, deposit_share: share(),
    };
    const round = (v) => new Big(v).round(digits, halfUp);
    const one = new Big(1);
    const spent = r.materials.reduce((s, m) => s.plus(m.cost), new Big(r.hours).times(r.hour_rate));
    const cost = round(spent.times(one.plus(r.overhead_share)));
    const list = round(cost.div(one.minus(r.margin_share).minus(r.gallery_share)));
    const discount = round(list.times(r.discount_share));
    const delivery = round(r.delivery);
    const sum = list.minus(discount).plus(delivery);
    const tax = round(r.tax_inclusive ? sum.times(r.tax_share).div(one.plus(r.tax_share)) : sum.times(r.tax_share));
    const gross = r.tax_inclusive ? sum : sum.plus(tax);
    const net = gross.minus(tax);
    const deposit = round(gross.times(r.deposit_share));
    const want = { cost, net, discount, delivery, tax, gross, deposit, remainder: gross.minus(deposit) };
    const got = calc('price', r);
    for (const [key, v] of Object.entries(want)) assert.equal(got[key], v.toFixed(digits),
      `${key} of ${JSON.stringify(r)}`);
  }
});
