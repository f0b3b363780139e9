/**
 * Where a continuous function crosses zero between `low` and `high`, by Ridders' method (1979): always
 * inside the bracket, twice as many right digits with every two evaluations.
 *
 * @returns the root, or null when both ends lie on the same side
 */
export function crossing(
  f: (x: number) => number,
  low: number,
  high: number,
  tolerance = 1e-12,
): number | null {
  let a = low;
  let b = high;
  let fa = f(a);
  let fb = f(b);
  if (fa === 0) return a;
  if (fb === 0) return b;
  if (!(fa * fb < 0)) return null;
  for (let step = 0; step < 200; step++) {
    const middle = (a + b) / 2;
    const fm = f(middle);
    if (fm === 0) return middle;
    const root = Math.sqrt(fm * fm - fa * fb);
    const next = middle + ((middle - a) * Math.sign(fa - fb) * fm) / root;
    const fn = f(next);
    if (fn === 0 || Math.abs(b - a) <= tolerance) return next;
    if (fm * fn < 0) {
      [a, fa, b, fb] = middle < next ? [middle, fm, next, fn] : [next, fn, middle, fm];
    } else if (fa * fn < 0) {
      [b, fb] = [next, fn];
    } else {
      [a, fa] = [next, fn];
    }
  }
  return (a + b) / 2;
}
