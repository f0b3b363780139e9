import { InputFault, numberWithin } from "../fault";
import { litresFrom, type VolumeUnit } from "../measure/units";
import { areaOf, breadthAt, type Outline, outlineOf, type Shape } from "./outline";

/** How deep the floor lies below the rim, along the length. Metres. */
export type Floor =
  | { kind: "constant"; depth: number }
  | { kind: "sloped"; shallow: number; deep: number }
  /** Flat, down, flat, up: a deep hole toward one end. Lengths from the shallow end. */
  | {
      kind: "hopper";
      shallow: number;
      deep: number;
      endWall: number;
      slopeFrom: number;
      deepFrom: number;
      deepTo: number;
    }
  | { kind: "stepped"; steps: readonly { from: number; depth: number }[] };

/** A bench, a step, a plinth: what stands in the water. Metres. */
export interface Block {
  length: number;
  width: number;
  /** Of it under water. */
  height: number;
}

export interface BasinShape {
  outline: Shape;
  floor: Floor;
  /** From the rim down to the water, m. */
  waterLine: number;
  blocks: readonly Block[];
}

/** A volume with the interval that holds it, litres. */
export interface Volume {
  litres: number;
  low: number;
  high: number;
  /** Water surface, m². */
  surface: number;
}

export interface Depth {
  at: number;
  depth: number;
}

const deep = (field: string, value: unknown) => numberWithin(field, value, 0, 12);

/**
 * The floor as straight lines along the length; a step is two points at one place.
 * @example floorProfile({ kind: "sloped", shallow: 1, deep: 2 }, 10).length // 2
 */
export function floorProfile(floor: Floor, length: number): Depth[] {
  switch (floor.kind) {
    case "constant":
      return [
        { at: 0, depth: deep("floor.depth", floor.depth) },
        { at: length, depth: floor.depth },
      ];
    case "sloped":
      return [
        { at: 0, depth: deep("floor.shallow", floor.shallow) },
        { at: length, depth: deep("floor.deep", floor.deep) },
      ];
    case "hopper": {
      const slopeFrom = numberWithin("floor.slopeFrom", floor.slopeFrom, 0, length);
      const deepFrom = numberWithin("floor.deepFrom", floor.deepFrom, slopeFrom, length);
      const deepTo = numberWithin("floor.deepTo", floor.deepTo, deepFrom, length);
      return [
        { at: 0, depth: deep("floor.shallow", floor.shallow) },
        { at: slopeFrom, depth: floor.shallow },
        { at: deepFrom, depth: deep("floor.deep", floor.deep) },
        { at: deepTo, depth: floor.deep },
        { at: length, depth: deep("floor.endWall", floor.endWall) },
      ];
    }
    case "stepped":
      if (floor.steps.length === 0) throw new InputFault("missing", "floor.steps", 0, 1);
      return floor.steps.flatMap(({ from, depth }, index) => {
        const begins = numberWithin(
          `floor.steps.${index}.from`,
          from,
          floor.steps[index - 1]?.from ?? 0,
          length,
        );
        const ends = floor.steps[index + 1]?.from ?? length;
        deep(`floor.steps.${index}.depth`, depth);
        return [
          { at: index === 0 ? 0 : begins, depth },
          { at: ends, depth },
        ];
      });
    default:
      throw new InputFault("unknown", "floor.kind", (floor as { kind: unknown }).kind);
  }
}

/** Tape measures in a pool are good to about this, relative to each length and depth. */
const TAPE = 0.02;

/**
 * The water in a basin: the outline's breadth times the floor's depth below the water line, summed
 * along the length, less what stands in it. Between corners both are straight lines, so each piece
 * is exact by Simpson's rule.
 * @example volumeOf({ outline: { kind: "rectangle", length: 10, width: 5 }, floor: { kind: "sloped", shallow: 1.1, deep: 1.9 }, waterLine: 0.1, blocks: [] }).litres // 70000
 */
export function volumeOf(basin: BasinShape): Volume {
  const outline = outlineOf(basin.outline);
  const length = Math.max(...outline.map(([x]) => x));
  const start = Math.min(...outline.map(([x]) => x));
  const floor = floorProfile(basin.floor, length);
  const waterLine = numberWithin("waterLine", basin.waterLine, 0, 3);
  const cubicMetres = waterIn(outline, floor, waterLine, start, length) - blocksOf(basin.blocks);
  if (!(cubicMetres > 0)) throw new InputFault("too-low", "volume", cubicMetres, 0);
  const litres = cubicMetres * 1000;
  // Three measures multiply: length, width, depth.
  const spread = 2 * TAPE * Math.sqrt(3);
  return { litres, low: litres * (1 - spread), high: litres * (1 + spread), surface: areaOf(outline) };
}

function waterIn(outline: Outline, floor: Depth[], waterLine: number, start: number, end: number): number {
  const wet = ({ depth }: Depth) => depth - waterLine;
  // The depth crosses the water line inside a piece at most once; that place is a corner too.
  const dry = floor.flatMap((here, index) => {
    const next = floor[index + 1];
    if (!next || wet(here) * wet(next) >= 0) return [];
    return here.at + ((next.at - here.at) * wet(here)) / (wet(here) - wet(next));
  });
  const corners = [...new Set([...outline.map(([x]) => x), ...floor.map(({ at }) => at), ...dry])]
    .filter((x) => x >= start && x <= end)
    .sort((a, b) => a - b);
  let sum = 0;
  for (let index = 1; index < corners.length; index++) {
    const from = corners[index - 1] ?? 0;
    const to = corners[index] ?? from;
    const width = to - from;
    if (width < 1e-12) continue;
    // Read just inside the ends: a step or a straight wall stands at them.
    const inside = [from + width * 1e-9, (from + to) / 2, to - width * 1e-9];
    const [a = 0, b = 0, c = 0] = inside.map(
      (x) => breadthAt(outline, x) * Math.max(0, depthAt(floor, x) - waterLine),
    );
    sum += (width * (a + 4 * b + c)) / 6;
  }
  return sum;
}

function depthAt(floor: Depth[], x: number): number {
  const after = floor.findIndex(({ at }) => at > x);
  const next = floor[after];
  const here = floor[after - 1];
  if (!here || !next) return floor[floor.length - 1]?.depth ?? 0;
  return here.depth + ((next.depth - here.depth) * (x - here.at)) / (next.at - here.at);
}

const blocksOf = (blocks: readonly Block[]): number =>
  blocks.reduce((sum, { length, width, height }, index) => {
    const measure = (name: string, value: number) => numberWithin(`blocks.${index}.${name}`, value, 0, 50);
    return sum + measure("length", length) * measure("width", width) * measure("height", height);
  }, 0);

/**
 * Volume by a water meter read before and after filling.
 * @example volumeByMeter(120, 158, "m3").litres // 38000
 */
export function volumeByMeter(before: number, after: number, unit: VolumeUnit): Volume {
  const run = numberWithin("after", after, before, 1e9) - numberWithin("before", before, 0, 1e9);
  const litres = litresFrom(run, unit);
  if (!(litres > 0)) throw new InputFault("too-low", "after", after, before);
  // Household water meters are good to 2 % (ISO 4064, class 2, upper flow range).
  return { litres, low: litres * 0.98, high: litres * 1.02, surface: Number.NaN };
}

/**
 * Volume from a known dose and the change that it made: V = moles given / change. The brackets of both
 * readings and of the amount make the interval; `high` is null when the change may have been none.
 *
 * @param moles given, of what is read (effect per gram × grams)
 * @param before reading before, after: reading after, both in mol/L with their brackets
 */
export function volumeByDose(
  moles: { value: number; low: number; high: number },
  before: { value: number; low: number; high: number },
  after: { value: number; low: number; high: number },
): { litres: number; low: number; high: number | null } {
  const change = after.value - before.value;
  if (!(change > 0)) throw new InputFault("too-low", "change", change, 0);
  const most = after.high - before.low;
  const least = after.low - before.high;
  return {
    litres: numberWithin("moles", moles.value, 0, 1e9) / change,
    low: moles.low / most,
    high: least > 0 ? moles.high / least : null,
  };
}

/** A basin's volume changes by a tape, not by a factor: one this many times off the last is asked about. */
const FAR_FROM_LAST = 2;
/** And one this many times beyond every other basin of its kind. */
const FAR_FROM_OTHERS = 4;
/** What is built, where there is nothing to compare with. Litres */
const BUILT = { spa: { low: 300, high: 20_000 }, pool: { low: 1500, high: 4_000_000 } } as const;

/**
 * The volume, in litres, that another is far from: the basin's last, or the nearest of the firm's others
 * of its kind; null when it is not far. "15,000" that became 15 is found so.
 *
 * @example farFrom(57, { last: null, others: [40_000, 90_000], kind: "pool" }) // 40000
 */
export function farFrom(
  litres: number,
  { last, others, kind }: { last: number | null; others: readonly number[]; kind: "spa" | "pool" },
): number | null {
  if (last !== null) return litres > FAR_FROM_LAST * last || litres < last / FAR_FROM_LAST ? last : null;
  const least = others.length > 0 ? Math.min(...others) / FAR_FROM_OTHERS : BUILT[kind].low;
  const most = others.length > 0 ? Math.max(...others) * FAR_FROM_OTHERS : BUILT[kind].high;
  if (litres >= least && litres <= most) return null;
  const nearest = litres < least ? least * FAR_FROM_OTHERS : most / FAR_FROM_OTHERS;
  return others.length > 0 ? nearest : litres < least ? least : most;
}
