import type { Quantity } from "#core";

/** What of each quantity matters, in its own unit: an axis spans at least that, so that no scatter looks like a change. */
export const LEAST_SPAN: Readonly<Record<Quantity, number>> = {
  freeChlorine: 1,
  combinedChlorine: 0.5,
  totalChlorine: 1,
  bromine: 2,
  ph: 0.5,
  totalAlkalinity: 20,
  calciumHardness: 50,
  totalHardness: 50,
  cyanuricAcid: 20,
  salt: 500,
  totalDissolvedSolids: 300,
  borate: 10,
  phosphate: 0.5,
  iron: 0.3,
  copper: 0.3,
  temperature: 5,
  acidDemand: 0.2,
  baseDemand: 0.2,
};

/**
 * Ends that an axis has at least, around what it shows; nothing where that is wider already.
 * @param span in the unit of the values
 * @example axisEnds([0.2, 0.2], 0.5) // { suggestedMin: 0, suggestedMax: 0.5 }
 */
export function axisEnds(
  values: readonly number[],
  span: number,
): { suggestedMin?: number; suggestedMax?: number } {
  const [low, high] = [Math.min(...values), Math.max(...values)];
  if (values.length === 0 || high - low >= span) return {};
  const from = Math.max(0, (low + high - span) / 2);
  return { suggestedMin: from, suggestedMax: from + span };
}
