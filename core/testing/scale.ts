import { InputFault } from "../fault";
import { type Measurement, tidy, type Unit } from "../measure/quantity";
import type { ScaleMethod } from "./kit";

/**
 * Where on a scale of standards or lines the eye put the sample: on a mark (from = to), between two
 * neighbours, or off an end (null on that side).
 */
export interface ScalePlace {
  from: number | null;
  to: number | null;
}

const fault = (field: string, value: unknown, marks: readonly number[]) =>
  new InputFault(value === undefined ? "missing" : "unknown", field, value, marks);

/**
 * Reads a comparator or a turbidity tube. Between two marks is that interval, with its middle as the
 * value; on a mark reaches half way to each neighbour. The last standard of a comparator is a bound,
 * never a number: beyond it every colour looks the same. A strip's pad reads like a comparator. The last line of a tube is a real match,
 * so its bounds are given by leaving one side null.
 *
 * @example readScale(phenolRed, { from: 7.4, to: 7.6 }) // { value: 7.5, low: 7.4, high: 7.6, … }
 */
export function readScale(
  method: Pick<ScaleMethod, "kind" | "marks">,
  place: ScalePlace,
  unit: Unit,
  dilution = 1,
): Measurement {
  const { marks } = method;
  const { from, to } = place;
  const first = marks[0];
  const last = marks[marks.length - 1];
  if (first === undefined || last === undefined) throw new InputFault("missing", "marks", marks);
  if (from !== null && !marks.includes(from)) throw fault("from", from, marks);
  if (to !== null && !marks.includes(to)) throw fault("to", to, marks);
  if (from === null && to === null) throw fault("from", undefined, marks);

  const at = (low: number | null, high: number | null, value: number, bound: Measurement["bound"]) => ({
    value: tidy(value * dilution),
    unit,
    low: low === null ? null : tidy(low * dilution),
    high: high === null ? null : tidy(high * dilution),
    bound,
  });

  const closed = method.kind !== "turbidity";
  if (to === null || (closed && from === last && to === last)) {
    if (from !== last) throw new InputFault("inconsistent", "to", to, last);
    return at(last, null, last, "at-least");
  }
  // A standard of zero is a colour of its own: none.
  if (from === null || (closed && from === first && to === first && first > 0)) {
    if (to !== first) throw new InputFault("inconsistent", "from", from, first);
    return at(null, first, first, "at-most");
  }

  const index = marks.indexOf(from);
  if (from === to) {
    const below = marks[index - 1];
    const above = marks[index + 1];
    const downTo = below === undefined ? from - ((above ?? from) - from) / 2 : (below + from) / 2;
    const upTo = above === undefined ? from + (from - (below ?? from)) / 2 : (from + above) / 2;
    return at(Math.max(0, downTo), upTo, from, "within");
  }
  if (marks[index + 1] !== to) throw new InputFault("inconsistent", "to", to, marks[index + 1] ?? last);
  return at(from, to, (from + to) / 2, "within");
}

/**
 * Every place the eye can put a sample on this scale, ascending, for a list to choose from.
 * @example scalePlaces(phenolRed).length // 15
 */
export function scalePlaces(method: Pick<ScaleMethod, "kind" | "marks">): ScalePlace[] {
  const { marks } = method;
  const inner = marks.flatMap((mark, index): ScalePlace[] => {
    const next = marks[index + 1];
    const on = { from: mark, to: mark };
    return next === undefined ? [on] : [on, { from: mark, to: next }];
  });
  const first = marks[0] ?? null;
  const last = marks[marks.length - 1] ?? null;
  const below = { from: null, to: first };
  const above = { from: last, to: null };
  if (method.kind === "turbidity") return [below, ...inner, above];
  return first === 0 ? [...inner.slice(0, -1), above] : [below, ...inner.slice(1, -1), above];
}
