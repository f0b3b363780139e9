/**
 * npm run bench:core: the pH search against a plain one in the same run, and a hundred thousand draws
 * of a plan in a worker thread.
 */
import { Worker } from "node:worker_threads";
import { type Conditions, conditionsOf, type Sample, seeded, solvePh, type Totals, totalsOf } from "#core";

const random = seeded(1);
const between = (low: number, high: number) => low + (high - low) * random();
const waters: Sample[] = Array.from({ length: 2000 }, () => ({
  ph: between(6.8, 8.4),
  totalAlkalinity: between(60, 200),
  calciumHardness: between(100, 600),
  cyanuricAcid: between(10, 100),
  freeChlorine: between(0.5, 10),
  borate: 0,
  temperature: between(5, 40),
  totalDissolvedSolids: between(300, 3000),
}));
const cases = waters.map((water) => {
  const totals = totalsOf(water);
  // Asked after a change, so that the first guess is not the answer.
  const asked = { ...totals, alkalinity: totals.alkalinity - between(-2e-4, 2e-4) };
  return { totals: asked, conditions: conditionsOf(totalsOf(water)) };
});

/** The same question by halving alone: pH outside, HOCl inside. Written for its plainness. */
function plainPh(conditions: Conditions, totals: Totals): number {
  const k = conditions.cyanurate;
  const chargeWith = (h: number): number => {
    const parts = (x: number) => {
      const h2cy = k.h3cy / h;
      const hcy = (h2cy * k.h2cy) / h;
      const cy = (hcy * k.hcy) / h;
      const m = x / k.loseFirst;
      const m1 = (m * k.h2clcy) / h;
      const m2 = (m1 * k.hclcy) / h;
      const d = (m * x) / k.loseSecond;
      const d1 = (d * k.hcl2cy) / h;
      const t = (d * x) / k.loseThird;
      const free = totals.cyanurate / (1 + h2cy + hcy + cy + m + m1 + m2 + d + d1 + t);
      return {
        held: x * (1 + conditions.hypochlorous / h) + free * (m + m1 + m2 + 2 * (d + d1) + 3 * t),
        charge: (x * conditions.hypochlorous) / h + free * (h2cy + 2 * hcy + 3 * cy + m1 + 2 * m2 + d1),
      };
    };
    let low = 0;
    let high = totals.chlorine;
    for (let step = 0; step < 50; step++) {
      const middle = (low + high) / 2;
      if (parts(middle).held > totals.chlorine) high = middle;
      else low = middle;
    }
    const a = conditions.k1 / h;
    const b = (a * conditions.k2) / h;
    return (
      (totals.inorganicCarbon * (a + 2 * b)) / (1 + a + b) +
      conditions.kw / h -
      h / conditions.gamma1 +
      (totals.borate * conditions.boric) / (conditions.boric + h) +
      parts((low + high) / 2).charge
    );
  };
  let low = 1;
  let high = 13;
  for (let step = 0; step < 45; step++) {
    const middle = (low + high) / 2;
    if (chargeWith(10 ** -middle) > totals.alkalinity) high = middle;
    else low = middle;
  }
  return (low + high) / 2;
}

const median = (times: number[]): number =>
  times.sort((a, b) => a - b)[Math.floor(times.length / 2)] ?? Number.NaN;

/** Median over rounds of the mean time of one question, µs. */
function timed(rounds: number, work: (of: (typeof cases)[number]) => unknown, of = cases): number {
  const times = Array.from({ length: rounds }, () => {
    const begun = performance.now();
    for (const one of of) work(one);
    return ((performance.now() - begun) * 1000) / of.length;
  });
  return median(times);
}

const full = ({ totals, conditions }: (typeof cases)[number]) =>
  solvePh(conditions, totals, totals.alkalinity);
const whole = ({ totals }: (typeof cases)[number]) =>
  solvePh(conditionsOf(totals), totals, totals.alkalinity);
const plain = ({ totals, conditions }: (typeof cases)[number]) => plainPh(conditions, totals);

const apart = Math.max(...cases.slice(0, 300).map((one) => Math.abs(full(one).ph - plain(one))));
timed(20, full);
const quick = timed(60, full);
const withConstants = timed(30, whole);
const slow = timed(5, plain, cases.slice(0, 300));
console.log(`pH search            ${quick.toFixed(2)} µs (median of 60 rounds of ${cases.length} waters)`);
console.log(`with its constants   ${withConstants.toFixed(2)} µs`);
console.log(
  `plain halving        ${slow.toFixed(1)} µs, ${(slow / quick).toFixed(0)} times as long; pH apart by ${apart.toExponential(1)} at most`,
);

const worker = new Worker(new URL("./lib/ts-worker.mjs", import.meta.url), {
  workerData: { script: new URL("./bench-core-worker.ts", import.meta.url).href },
});
worker.on("message", (line: string) => console.log(line));
worker.on("exit", (code) => {
  process.exitCode = code;
});
