import { InputFault, numberWithin } from "../fault";

/** A point of an outline seen from above, metres. */
export type Point = readonly [x: number, y: number];

/** A closed outline, without its first point again at the end. */
export type Outline = readonly Point[];

/** The shapes a technician can measure with a tape. Metres. */
export type Shape =
  | { kind: "rectangle"; length: number; width: number }
  | { kind: "circle"; diameter: number }
  | { kind: "oval"; length: number; width: number }
  | { kind: "kidney"; length: number; widths: readonly [number, number] }
  | { kind: "L"; length: number; width: number; cutLength: number; cutWidth: number }
  | { kind: "offsets"; stations: readonly { at: number; left: number; right: number }[] };

/** Points of a curved outline. */
const CURVE_POINTS = 360;
/** A polygon inside an ellipse falls short of it: drawn this much larger, its area is the ellipse's own. */
const SWELL = Math.sqrt((2 * Math.PI) / CURVE_POINTS / Math.sin((2 * Math.PI) / CURVE_POINTS));
const metres = (field: string, value: unknown) => numberWithin(field, value, 0.1, 300);

/**
 * The outline of a shape, its length along x from 0.
 * @throws InputFault naming the measure that is off its limits
 * @example outlineOf({ kind: "rectangle", length: 10, width: 5 }).length // 4
 */
export function outlineOf(shape: Shape): Outline {
  switch (shape.kind) {
    case "rectangle":
      return box(metres("length", shape.length), metres("width", shape.width));
    case "circle":
      return ellipse(metres("diameter", shape.diameter), shape.diameter);
    case "oval":
      return ellipse(metres("length", shape.length), metres("width", shape.width));
    case "kidney":
      return kidney(
        metres("length", shape.length),
        metres("widths.0", shape.widths[0]),
        metres("widths.1", shape.widths[1]),
      );
    case "L": {
      const length = metres("length", shape.length);
      const width = metres("width", shape.width);
      const cutLength = numberWithin("cutLength", shape.cutLength, 0, length);
      const cutWidth = numberWithin("cutWidth", shape.cutWidth, 0, width);
      return [
        [0, 0],
        [length, 0],
        [length, width - cutWidth],
        [length - cutLength, width - cutWidth],
        [length - cutLength, width],
        [0, width],
      ];
    }
    case "offsets":
      return fromOffsets(shape.stations);
    default:
      throw new InputFault("unknown", "kind", (shape as { kind: unknown }).kind);
  }
}

const box = (length: number, width: number): Outline => [
  [0, 0],
  [length, 0],
  [length, width],
  [0, width],
];

function ellipse(length: number, width: number): Outline {
  return Array.from({ length: CURVE_POINTS }, (_, index): Point => {
    const angle = (2 * Math.PI * index) / CURVE_POINTS;
    return [(length / 2) * SWELL * (1 - Math.cos(angle)), (width / 2) * SWELL * Math.sin(-angle)];
  });
}

/**
 * A kidney: ends rounded as a superellipse, one lobe's width easing into the other's, the whole bent
 * to one side. Its area is near the trade's 0.45 × (A + B) × length.
 */
function kidney(length: number, first: number, second: number): Outline {
  const roundness = 3.3;
  const half = CURVE_POINTS / 2;
  const side = (sign: 1 | -1) =>
    Array.from({ length: half + 1 }, (_, index): Point => {
      const t = (1 - Math.cos((Math.PI * index) / half)) / 2;
      const ease = t * t * (3 - 2 * t);
      const width =
        (first + (second - first) * ease) * (1 - Math.abs(2 * t - 1) ** roundness) ** (1 / roundness);
      const bend = 0.12 * length * (1 - (2 * t - 1) ** 2);
      return [t * length, bend + (sign * width) / 2];
    });
  return [...side(-1), ...side(1).reverse().slice(1, -1)];
}

/** A free outline from offsets to both sides of a tape stretched along it. */
function fromOffsets(stations: readonly { at: number; left: number; right: number }[]): Outline {
  if (!Array.isArray(stations) || stations.length < 2)
    throw new InputFault("missing", "stations", stations?.length ?? 0, 2);
  stations.forEach((station, index) => {
    numberWithin(`stations.${index}.at`, station.at, stations[index - 1]?.at ?? 0, 300);
    numberWithin(`stations.${index}.left`, station.left, 0, 150);
    numberWithin(`stations.${index}.right`, station.right, 0, 150);
  });
  const left = stations.map(({ at, left }): Point => [at, -left]);
  const right = stations.map(({ at, right }): Point => [at, right]);
  return [...left, ...right.reverse()];
}

/** Area by the shoelace formula, m². */
export function areaOf(outline: Outline): number {
  let twice = 0;
  outline.forEach(([x, y], index) => {
    const [nextX, nextY] = outline[(index + 1) % outline.length] ?? [x, y];
    twice += x * nextY - nextX * y;
  });
  return Math.abs(twice) / 2;
}

/** Breadth of the outline across its length at x, m: what of that line lies inside. */
export function breadthAt(outline: Outline, x: number): number {
  const crossings: number[] = [];
  outline.forEach(([x1, y1], index) => {
    const [x2, y2] = outline[(index + 1) % outline.length] ?? [x1, y1];
    if (x1 <= x !== x2 <= x) crossings.push(y1 + ((x - x1) / (x2 - x1)) * (y2 - y1));
  });
  crossings.sort((a, b) => a - b);
  return crossings.reduce((sum, y, index) => sum + (index % 2 === 0 ? -y : y), 0);
}
