import { InputFault } from "../fault";
import { normal, type Random } from "../random";

/** Draws from a Gaussian of several numbers at once (Cholesky's factor of its covariance). */

/** A pivot this much under zero, relative to the largest variance, is rounding and counts as nothing. */
const ROUNDING = 1e-7;

/**
 * The lower factor L of a covariance, L·Lᵀ = covariance, row by row.
 * @throws InputFault for a matrix that is no covariance: not square, not symmetric, or with a direction of variance
 * under zero
 * @example factorOf([[4, 2], [2, 5]]) // [[2, 0], [1, 2]]
 */
export function factorOf(covariance: readonly (readonly number[])[], field = "covariance"): Float64Array[] {
  const size = covariance.length;
  const most = Math.max(...covariance.map((row, index) => Math.abs(row[index] ?? Number.NaN)));
  const least = -ROUNDING * Math.max(1e-12, most);
  const factor: Float64Array[] = [];
  for (let row = 0; row < size; row++) {
    const given = covariance[row] as readonly number[];
    if (given.length !== size) throw new InputFault("malformed", `${field}.${row}`, given.length, size);
    const own = new Float64Array(size);
    for (let column = 0; column <= row; column++) {
      const value = given[column] as number;
      const mirrored = covariance[column]?.[row];
      if (
        !Number.isFinite(value) ||
        mirrored === undefined ||
        Math.abs(value - mirrored) > ROUNDING * Math.max(1e-9, most)
      )
        throw new InputFault("inconsistent", `${field}.${row}.${column}`, value, mirrored);
      let rest = value;
      const other = column === row ? own : (factor[column] as Float64Array);
      for (let at = 0; at < column; at++) rest -= (own[at] as number) * (other[at] as number);
      if (column < row) {
        const pivot = other[column] as number;
        // Nothing is unsure that way: what hangs on it is nothing, too.
        own[column] = pivot > 0 ? rest / pivot : 0;
      } else {
        if (rest < least) throw new InputFault("too-low", `${field}.${row}.${row}`, value, value - rest);
        own[row] = Math.sqrt(Math.max(0, rest));
      }
    }
    factor.push(own);
  }
  return factor;
}

/**
 * Draws from a Gaussian, one after another.
 * @example drawerOf({ mean: [1], covariance: [[0]] })(seeded(1)) // [1]
 */
export function drawerOf({
  mean,
  covariance,
}: {
  mean: readonly number[];
  covariance: readonly (readonly number[])[];
}): (random: Random) => Float64Array {
  const factor = factorOf(covariance);
  const size = mean.length;
  const still = new Float64Array(size);
  return (random) => {
    for (let index = 0; index < size; index++) still[index] = normal(random);
    const drawn = Float64Array.from(mean);
    for (let row = 0; row < size; row++) {
      const along = factor[row] as Float64Array;
      let sum = 0;
      for (let column = 0; column <= row; column++)
        sum += (along[column] as number) * (still[column] as number);
      (drawn[row] as number) += sum;
    }
    return drawn;
  };
}
