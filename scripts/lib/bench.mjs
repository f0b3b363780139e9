/** The whole measure of a benchmark, or its smallest with BENCH_SMALL=1: enough to see that it still runs and holds. */
export const sized = (whole, least) => (process.env.BENCH_SMALL === "1" ? least : whole);

/** Does some work so many times, one after another, after a few that are not counted. @returns milliseconds */
export async function timesOf(count, work) {
  for (let time = 0; time < Math.min(5, count); time++) await work();
  const taken = [];
  for (let time = 0; time < count; time++) {
    const begun = performance.now();
    await work();
    taken.push(performance.now() - begun);
  }
  return { p50: quantileOf(taken, 0.5), p95: quantileOf(taken, 0.95), p99: quantileOf(taken, 0.99) };
}

/** @example quantileOf([3, 1, 2], 0.5) // 2 */
export const quantileOf = (values, share) =>
  values.toSorted((a, b) => a - b)[Math.min(values.length - 1, Math.floor(values.length * share))];
