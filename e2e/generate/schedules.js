// Makes internal/core/schedule/testdata/optima.json: small random problems with
// their optimal values by an independent solver, HiGHS (npm: highs), as mixed
// integer programmes. Run by hand: node generate/schedules.js
import { writeFileSync } from 'node:fs';
import { join } from 'node:path';
import loadHighs from 'highs';

const highs = await loadHighs();

// A small generator of its own, so that the cases can be made again.
let seed = 20260302;
const random = () => {
  seed = (seed * 1103515245 + 12345) % 2147483648;
  return seed / 2147483648;
};
const whole = (n) => Math.floor(random() * n);

function problem() {
  const close = 12 * 60 + 60 * whole(8);
  const open = Array.from({ length: 9 }, (_, d) => [d * 1440 + 480, d * 1440 + close]);
  const pieces = Array.from({ length: 2 + whole(2) }, () => ({
    due: (1 + whole(5)) * 1440,
    tasks: Array.from({ length: 2 + whole(2) }, (_, k) => {
      const min = k ? 30 * whole(40) : 0;
      return { hands: 15 + 15 * whole(10), min, max: k && whole(3) === 0 ? min + 60 * (2 + whole(16)) : null };
    }),
  }));
  return { open, pieces, rack: whole(2) ? 1 : pieces.length };
}

// solve minimises lateness first, then the last end.
function solve(p) {
  const tasks = p.pieces.flatMap((piece, i) => piece.tasks.map((t, k) => ({ ...t, i, k, name: `s${i}_${k}` })));
  const rows = [];
  const binaries = [];
  const M = 40_000;
  const bin = (name) => { binaries.push(name); return name; };
  for (const t of tasks) {
    const z = p.open.map((_, k) => bin(`z_${t.name}_${k}`));
    rows.push(`${z.join(' + ')} = 1`);
    rows.push(`${t.name}${p.open.map(([f], k) => ` - ${f} ${z[k]}`).join('')} >= 0`);
    rows.push(`${t.name}${p.open.map(([, to], k) => ` - ${to} ${z[k]}`).join('')} <= ${-t.hands}`);
    if (t.k) {
      const before = tasks.find((o) => o.i === t.i && o.k === t.k - 1);
      rows.push(`${t.name} - ${before.name} >= ${before.hands + t.min}`);
      if (t.max !== null) rows.push(`${t.name} - ${before.name} <= ${before.hands + t.max}`);
    }
  }
  for (const [n, a] of tasks.entries()) {
    for (const b of tasks.slice(n + 1)) {
      const y = bin(`y_${a.name}_${b.name}`);
      rows.push(`${a.name} - ${b.name} + ${M} ${y} <= ${M - a.hands}`);
      rows.push(`${b.name} - ${a.name} - ${M} ${y} <= ${-b.hands}`);
    }
  }
  const first = (i) => tasks.find((t) => t.i === i && t.k === 0);
  const last = (i) => tasks.findLast((t) => t.i === i);
  if (p.rack === 1) {
    for (let a = 0; a < p.pieces.length; a++) {
      for (let b = a + 1; b < p.pieces.length; b++) {
        const w = bin(`w_${a}_${b}`);
        rows.push(`${last(a).name} - ${first(b).name} + ${M} ${w} <= ${M - last(a).hands}`);
        rows.push(`${last(b).name} - ${first(a).name} - ${M} ${w} <= ${-last(b).hands}`);
      }
    }
  }
  const lates = p.pieces.map((piece, i) => {
    rows.push(`l${i} - ${last(i).name} >= ${last(i).hands - piece.due}`);
    rows.push(`c - ${last(i).name} >= ${last(i).hands}`);
    return `l${i}`;
  });
  const run = (goal, extra = []) =>
    highs.solve(`Minimize\n obj: ${goal}\nSubject To\n${[...rows, ...extra].map((r, n) => ` r${n}: ${r}`).join('\n')}\nBinary\n ${binaries.join(' ')}\nEnd`,
    { mip_rel_gap: 0, mip_abs_gap: 0, time_limit: 60 });
  const one = run(lates.join(' + '));
  if (one.Status === 'Infeasible') return { feasible: false };
  if (one.Status !== 'Optimal') return null;
  const late = Math.round(one.ObjectiveValue);
  const two = run('c', [`${lates.join(' + ')} <= ${late}`]);
  if (two.Status !== 'Optimal') return null;
  return { feasible: true, late, last: Math.round(two.ObjectiveValue) };
}

const cases = [];
while (cases.length < 40) {
  const p = problem();
  const optimum = solve(p);
  if (optimum) cases.push({ ...p, optimum });
}
writeFileSync(join(import.meta.dirname, '../../internal/core/schedule/testdata/optima.json'),
  `[\n${cases.map((c) => JSON.stringify(c)).join(',\n')}\n]\n`);
console.log(cases.length, cases.filter((c) => c.optimum.feasible).length, 'feasible',
  cases.filter((c) => c.optimum.late).length, 'late');
