/** The worker of bench:core: a plan of three products, drawn a hundred thousand times, over and over. */
import { parentPort } from "node:worker_threads";
import { about, runJob, type UncertaintyJob } from "#core";

const job: UncertaintyJob = {
  model: "effect",
  samples: 100_000,
  seed: 1,
  water: {
    ph: 7.9,
    totalAlkalinity: 70,
    calciumHardness: 230,
    cyanuricAcid: 45,
    freeChlorine: 0.6,
    borate: 0,
    temperature: 27,
    totalDissolvedSolids: 1000,
  },
  readings: {
    ph: { low: 7.8, high: 8, deviation: 0 },
    totalAlkalinity: { low: 60, high: 70, deviation: 0.054 },
    calciumHardness: { low: 220, high: 230, deviation: 0.054 },
    cyanuricAcid: { low: 40, high: 50, deviation: 0 },
    freeChlorine: { low: 0.4, high: 0.6, deviation: 0.054 },
  },
  litres: about(113_600, 0.05),
  additions: [
    { product: "hydrochloric-acid", strength: 0.3145, grams: 900 },
    { product: "sodium-bicarbonate", strength: 0.99, grams: 5000 },
    { product: "sodium-hypochlorite", strength: 0.107, grams: 2400 },
  ],
};

const times: number[] = [];
const memory: number[] = [];
for (let round = 0; round < 15; round++) {
  const begun = performance.now();
  const steps = runJob({ ...job, seed: round });
  while (!steps.next().done);
  times.push(performance.now() - begun);
  memory.push(process.memoryUsage().rss / 1e6);
}
const sorted = [...times].sort((a, b) => a - b);
parentPort?.postMessage(
  `100 000 draws        ${sorted[7]?.toFixed(0)} ms in a worker (median of 15, ${sorted[0]?.toFixed(0)} to ${sorted[14]?.toFixed(0)})`,
);
parentPort?.postMessage(
  `memory               ${memory[4]?.toFixed(0)} MB after 5 rounds, ${memory[14]?.toFixed(0)} MB after 15`,
);
