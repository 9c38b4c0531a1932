// Makes internal/core/schedule/testdata/seasons.json: random problems of 9 to 26
// tasks with their optimal values by an independent solver, HiGHS (npm: highs),
// as time-indexed mixed integer programmes. Run by hand, an hour or two:
// node generate/seasons.js [FROM [TO]]
//
// Everything is a multiple of half an hour, so that some best plan is too: each
// limit is a difference of two starts or an opening hour.
import { appendFileSync } from 'node:fs';
import { join } from 'node:path';
import loadHighs from 'highs';

const slot = 30;
const patience = 240; // seconds for each of the two goals
const [from = 0, to = 72] = process.argv.slice(2).map(Number);

// A small generator of its own, so that the cases can be made again.
let seed = 0;
const random = () => {
  seed = (Math.imul(seed, 1664525) + 1013904223) >>> 0;
  return seed / 4294967296;
};
const whole = (n) => Math.floor(random() * n);

// problem makes the case of a number: pieces of three to five tasks, waits in
// hours or over night, some with a longest, one rack of two to four places.
function problem(number) {
  seed = 7_919 * (number + 1);
  const tasks = 9 + number % 18;
  const opens = 8 + whole(3);
  const shuts = opens + 5 + whole(6);
  const pieces = [];
  for (let left = tasks; left > 0;) {
    const size = left < 6 ? left : 3 + whole(Math.min(3, left - 5));
    left -= size;
    pieces.push({
      due: 0,
      tasks: Array.from({ length: size }, (_, k) => {
        const hands = slot * (1 + whole(4));
        if (k === 0) return { hands, min: 0, max: null };
        const short = whole(2) === 0;
        const min = slot * (short ? whole(7) : 24 + whole(24));
        return { hands, min, max: whole(5) < 2 ? min + slot * (short ? 2 + whole(8) : 16 + whole(48)) : null };
      }),
    });
  }
  for (const p of pieces) p.due = (1 + whole(2 + Math.ceil(tasks / 6))) * 1440;
  const work = pieces.flatMap((p) => p.tasks).reduce((sum, t) => sum + t.hands, 0);
  const days = 7 + Math.ceil(2.2 * work / ((shuts - opens) * 60));
  const open = Array.from({ length: days }, (_, d) => [d * 1440 + opens * 60, d * 1440 + shuts * 60]);
  return { open, pieces, rack: 2 + whole(3) };
}

// model is the programme of a problem without its goal.
function model(p) {
  const end = p.open.at(-1)[1] / slot;
  const rows = [];
  const binaries = [];
  const tasks = p.pieces.flatMap((piece, i) =>
    piece.tasks.map((t, k) => ({ ...t, i, k, d: t.hands / slot, name: `${i}_${k}` })));
  for (const t of tasks) {
    t.starts = p.open.flatMap(([a, b]) => Array.from({ length: Math.max(0, (b - a) / slot - t.d + 1) },
      (_, s) => a / slot + s));
    binaries.push(...t.starts.map((s) => `x${t.name}_${s}`));
    rows.push(`${t.starts.map((s) => `x${t.name}_${s}`).join(' + ')} = 1`);
    t.marks = [...new Set(t.starts)].sort((a, b) => a - b);
    t.marks.forEach((s, n) =>
      rows.push(`c${t.name}_${s} - x${t.name}_${s}${n ? ` - c${t.name}_${t.marks[n - 1]}` : ''} = 0`));
  }
  // begun names the variable that is 1 once the task has begun by slot s.
  const begun = (t, s) => {
    let found = null;
    for (const m of t.marks) { if (m > s) break; found = m; }
    return found === null ? null : `c${t.name}_${found}`;
  };
  const place = (t) => t.starts.map((s) => `${s} x${t.name}_${s}`).join(' + ');
  for (const t of tasks.filter((one) => one.k)) {
    const before = tasks.find((o) => o.i === t.i && o.k === t.k - 1);
    for (const s of t.starts) {
      const ready = begun(before, s - before.d - t.min / slot);
      rows.push(ready ? `${begun(t, s)} - ${ready} <= 0` : `x${t.name}_${s} = 0`);
    }
    if (t.max === null) continue;
    for (const s of before.starts) {
      const by = begun(t, s + before.d + t.max / slot);
      rows.push(by ? `${begun(before, s)} - ${by} <= 0` : `x${before.name}_${s} = 0`);
    }
  }
  for (let s = 0; s < end; s++) { // one pair of hands
    const now = tasks.flatMap((t) => t.starts.filter((a) => a <= s && s < a + t.d).map((a) => `x${t.name}_${a}`));
    if (now.length > 1) rows.push(`${now.join(' + ')} <= 1`);
  }
  if (p.rack < p.pieces.length) {
    for (let s = 0; s < end; s++) {
      const terms = p.pieces.flatMap((_, i) => {
        const all = tasks.filter((t) => t.i === i);
        const took = begun(all[0], s);
        const gave = begun(all.at(-1), s - all.at(-1).d);
        return took ? [`+ ${took}`, ...(gave ? [`- ${gave}`] : [])] : [];
      });
      if (terms.length > p.rack) rows.push(`${terms.join(' ').replace(/^\+ /, '')} <= ${p.rack}`);
    }
  }
  const lates = p.pieces.map((piece, i) => {
    const last = tasks.findLast((t) => t.i === i);
    rows.push(`l${i} - ${place(last).replaceAll(' + ', ' - ')} >= ${last.d - piece.due / slot}`);
    rows.push(`e - ${place(last).replaceAll(' + ', ' - ')} >= ${last.d}`);
    return `l${i}`;
  });
  return { rows, binaries, lates };
}

const highs = await loadHighs();
const lines = (words, wide = 40) => words.reduce((out, w, n) => out + w + (n % wide === wide - 1 ? '\n ' : ' '), '');

function solve(p) {
  const { rows, binaries, lates } = model(p);
  const run = (goal, extra = []) => highs.solve(
    `Minimize\n obj: ${goal}\nSubject To\n${[...rows, ...extra].map((r, n) => ` r${n}: ${lines(r.split(' '))}`).join('\n')}\nBinary\n ${lines(binaries)}\nEnd`,
    { mip_rel_gap: 0, mip_abs_gap: 0.9, time_limit: patience },
  );
  const one = run(lates.join(' + '));
  if (one.Status === 'Infeasible') return { feasible: false };
  if (one.Status !== 'Optimal') return null;
  const late = Math.round(one.ObjectiveValue);
  const two = run('e', [`${lates.join(' + ')} <= ${late}`]);
  return { feasible: true, late: late * slot, last: two.Status === 'Optimal' ? Math.round(two.ObjectiveValue) * slot
    : null };
}

for (let n = from; n < to; n++) {
  const p = problem(n);
  const began = performance.now();
  let optimum = null;
  try { optimum = solve(p); } catch (e) { console.log(n, String(e)); }
  console.log(n, p.pieces.reduce((s, x) => s + x.tasks.length, 0), JSON.stringify(optimum),
    ((performance.now() - began) / 1000).toFixed(0));
  if (optimum) appendFileSync(join(import.meta.dirname, '../../internal/core/schedule/testdata/seasons.jsonl'),
    `${JSON.stringify({ case: n, ...p, optimum })}\n`);
}
