// Outlines against two independent libraries of the npm registry: areas and
// holes by @flatten-js/core, lengths of curves by svg-path-properties.
// Tolerance 1 in 10⁴: the length library sums a fixed number of chords.
import { test } from 'node:test';
import assert from 'node:assert/strict';
import { execFileSync } from 'node:child_process';
import Flatten from '@flatten-js/core';
import { svgPathProperties } from 'svg-path-properties';
import { binary } from '../program.js';

const surface = (request) => JSON.parse(execFileSync(binary, ['calc', 'surface'], { input: JSON.stringify(request) }));
const near = (got, want, share, what) => assert.ok(Math.abs(got - want) <= share * Math.abs(want),
  `${what}: ${got} is not ${want}`);

// A small repeatable generator (mulberry32), so that a failure can be repeated.
function generator(seed) {
  return () => {
    seed = (seed + 0x6d2b79f5) | 0;
    let t = Math.imul(seed ^ (seed >>> 15), 1 | seed);
    t = (t + Math.imul(t ^ (t >>> 7), 61 | t)) ^ t;
    return ((t ^ (t >>> 14)) >>> 0) / 2 ** 32;
  };
}

test('random polygons have the area and edge Flatten finds', () => {
  const random = generator(7);
  for (let round = 0; round < 25; round++) {
    const n = 3 + Math.floor(random() * 30);
    const points = Array.from({ length: n }, (_, i) => {
      const a = (2 * Math.PI * (i + 0.8 * random())) / n;
      const r = 40 + 200 * random();
      return [300 + r * Math.cos(a), 300 + r * Math.sin(a)];
    });
    const theirs = new Flatten.Polygon(points);
    const ours = surface({ shape: 'polygon', points_mm: points, side_mm: 20 });
    near(ours.area_mm2, theirs.area(), 1e-9, 'area');
    const edge = [...theirs.edges].reduce((sum, e) => sum + e.length, 0);
    near(ours.perimeter_mm, edge, 1e-9, 'perimeter');
    near(ours.side_area_mm2, edge * 20, 1e-9, 'sides');
  }
});

test('holes are taken out as Flatten takes them', () => {
  const box = [[0, 0], [400, 0], [400, 300], [0, 300]];
  const hole = [[100, 100], [100, 200], [250, 200], [250, 100]];
  const theirs = new Flatten.Polygon([box, hole]);
  const path = [box, hole].map((l) => `M${l.map((p) => p.join(' ')).join('L')}Z`).join('');
  near(surface({ shape: 'outline', svg_path: path }).area_mm2, theirs.area(), 1e-12, 'area');
});

test('curves have the length svg-path-properties finds', () => {
  const random = generator(11);
  const r = (lo, hi) => (lo + (hi - lo) * random()).toFixed(2);
  for (let round = 0; round < 20; round++) {
    const path = `M0 0C${r(20, 80)} ${r(-90, -30)} ${r(120, 180)} ${r(-90, -30)} 200 0Q${r(230, 290)} ${r(60, 90)} 200 150A${r(120, 200)} ${r(110, 160)} ${r(0, 40)} 0 1 0 150Z`;
    const ours = surface({ shape: 'outline', svg_path: path });
    near(ours.perimeter_mm, new svgPathProperties(path).getTotalLength(), 1e-4, path);
  }
});

test('a crossing outline is refused with its field', () => {
  const run = () => execFileSync(binary, ['calc', 'surface'],
    { input: '{"shape":"polygon","points_mm":[[0,0],[9,9],[9,0],[0,9]]}', stdio: ['pipe', 'pipe', 'inherit'] });
  assert.throws(run, (e) => e.status === 1 && JSON.parse(e.stdout).errors[0].field === 'points_mm');
});
