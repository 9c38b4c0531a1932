// The resin clock against an independent integrator: odex (npm), Hairer &
// Wanner's Gragg–Bulirsch–Stoer extrapolation of the kinetics of Kamal & Sourour
// along a room that warms and cools, and of a lot that heats itself.
import { test } from 'node:test';
import assert from 'node:assert/strict';
import { execFileSync } from 'node:child_process';
import odex from 'odex';
import { binary } from '../program.js';

const calc = (name, request) => JSON.parse(execFileSync(binary, ['calc', name], { input: JSON.stringify(request),
  maxBuffer: 1 << 26 }));
const product = { working_min: 45, hard_h: 24, viscosity_mpas: 1000, ratio_a: 1, ratio_b: 1, by: 'volume',
  density_a_kg_m3: 1130, density_b_kg_m3: 1000 };
const rate = (celsius) => Math.exp((-50000 / 8.31446261815324) * (1 / (celsius + 273.15) - 1 / 298.15));

function solver(n) {
  const s = new odex.Solver(n);
  s.absoluteTolerance = s.relativeTolerance = 1e-11;
  s.maxSteps = 200_000;
  return s;
}

test('conversion along a room curve is odex’s', () => {
  const room = [[0, 24], [240, 18], [600, 14.5], [840, 22], [1500, 27], [2400, 19]]
    .map(([at_min, temp_c]) => ({ at_min, temp_c }));
  const at = (minute) => {
    const i = room.findIndex((r) => r.at_min >= minute);
    if (i <= 0) return room[i < 0 ? room.length - 1 : 0].temp_c;
    const [a, b] = [room[i - 1], room[i]];
    return a.temp_c + (b.temp_c - a.temp_c) * (minute - a.at_min) / (b.at_min - a.at_min);
  };
  const ours = calc('clock', { product, room, until_h: 48, step_min: 120 });
  let alpha = 0;
  for (let i = 1; i < ours.points.length; i++) {
    const [from, to] = [ours.points[i - 1].at_min, ours.points[i].at_min];
    // Split at the readings: between them the right-hand side is smooth.
    const knots = [from, ...room.map((r) => r.at_min).filter((m) => m > from && m < to), to];
    for (let k = 1; k < knots.length; k++) {
      const step = (t, [a]) => [60 * ours.k_per_s * rate(at(t)) * (1 - a) ** ours.n];
      alpha = solver(1).solve(step, knots[k - 1], [alpha], knots[k]).y[0];
    }
    assert.ok(Math.abs(alpha - ours.points[i].alpha) < 1e-8, `at ${to} min: ${alpha} is not ${ours.points[i].alpha}`);
  }
});

test('a lot in its cup peaks where odex says', () => {
  for (const mass_g of [40, 150, 400]) {
    const ours = calc('cup', { product, mass_g, start_c: 25, room_c: 25 });
    const { k_per_s: k, n } = calc('clock', { product, room: [{ at_min: 0, temp_c: 25 }], until_h: 1 });
    const kg = mass_g / 1000;
    const cooling = 9 * 4 * Math.PI * Math.cbrt(kg / 1100 / Math.PI) ** 2 / (kg * 1900);
    const flow = (_, [a, t]) => {
      const da = rate(t) * k * Math.max(0, 1 - a) ** n;
      return [da, (250000 / 1900) * da - cooling * (t - 25)];
    };
    const at = (s) => solver(2).solve(flow, 0, [0, 25], s).y;
    const peak = at(ours.peak_at_min * 60);
    assert.ok(Math.abs(peak[1] - ours.peak_c) < 0.02, `${mass_g} g: ${peak[1]} °C is not ${ours.peak_c}`);
    for (const off of [-20, 20]) assert.ok(at(ours.peak_at_min * 60 + off)[1] < peak[1] + 1e-3,
      `${mass_g} g: the peak is elsewhere`);
    assert.ok(Math.abs(at(ours.gel_min * 60)[0] - 1 / Math.sqrt(3)) < 1e-5);
  }
});
