import type { Range } from "../../ranges/range-set";
import type { TitrationMethod } from "../kit";

/** More drops than this are a labour, and a chance to lose the count. */
const COMFORTABLE_DROPS = 25;

export interface SampleAdvice {
  millilitres: number;
  because: "only-size" | "no-last-reading" | "few-drops" | "fine-enough" | "finest-in-reach" | "fewest-drops";
  /** Drops that the last reading makes expected in this size; null without one. */
  expected: number | null;
}

/**
 * Which sample to take: the smallest whose half drop stays under a quarter of the way from the
 * expected value to the nearest edge of its range, in at most about 25 drops. Where none is fine
 * enough, the finest within 25 drops; where none is within 25, the one with the fewest.
 *
 * @param last the last reading, in the method's unit
 * @example adviseSample(alkalinity, 210, { low: 80, high: 120 }).millilitres // 10
 */
export function adviseSample(
  method: Pick<TitrationMethod, "samples">,
  last: number | null,
  range: Pick<Range, "low" | "high"> | undefined,
): SampleAdvice {
  const finest = [...method.samples].sort((a, b) => a.factor - b.factor);
  const first = finest[0];
  if (!first) throw new RangeError("a titration has a sample size");
  const expectedIn = (factor: number) => (last === null ? null : Math.max(1, Math.round(last / factor)));
  if (finest.length === 1)
    return { millilitres: first.millilitres, because: "only-size", expected: expectedIn(first.factor) };
  if (last === null) return { millilitres: first.millilitres, because: "no-last-reading", expected: null };

  const edges = [range?.low, range?.high].flatMap((edge) => (edge === undefined ? [] : [edge]));
  const distance = edges.length === 0 ? Infinity : Math.min(...edges.map((edge) => Math.abs(edge - last)));
  const inReach = finest.filter((size) => last / size.factor <= COMFORTABLE_DROPS);
  const fine = inReach.filter((size) => size.factor / 2 < distance / 4);
  const smallest = fine.at(-1);
  const pick = (size: (typeof finest)[number] | undefined, because: SampleAdvice["because"]): SampleAdvice =>
    size
      ? { millilitres: size.millilitres, because, expected: expectedIn(size.factor) }
      : pick(first, because);
  if (smallest) return pick(smallest, smallest === first ? "fine-enough" : "few-drops");
  if (inReach.length > 0) return pick(inReach[0], "finest-in-reach");
  return pick(finest.at(-1), "fewest-drops");
}
