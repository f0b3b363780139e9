/** The whole measure of a benchmark, or its smallest with BENCH_SMALL=1: enough to see that it still runs and holds. */
export const sized = (whole, least) => (process.env.BENCH_SMALL === "1" ? least : whole);
