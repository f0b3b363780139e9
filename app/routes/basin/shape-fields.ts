import type { BasinShape, Floor, Shape } from "#core";
import { typedNumber } from "../../ui/number-text";

/** A basin's shape as a form holds it: every measure as it was typed, in metres or feet. */

export const OUTLINE_FIELDS = {
  rectangle: ["length", "width"],
  circle: ["diameter"],
  oval: ["length", "width"],
  kidney: ["length", "firstWidth", "secondWidth"],
  L: ["length", "width", "cutLength", "cutWidth"],
  offsets: [],
} as const satisfies Record<Shape["kind"], readonly string[]>;

export const FLOOR_FIELDS = {
  constant: ["depth"],
  sloped: ["shallow", "deep"],
  hopper: ["shallow", "deep", "endWall", "slopeFrom", "deepFrom", "deepTo"],
  stepped: [],
} as const satisfies Record<Floor["kind"], readonly string[]>;

export type Measure =
  | (typeof OUTLINE_FIELDS)[keyof typeof OUTLINE_FIELDS][number]
  | (typeof FLOOR_FIELDS)[keyof typeof FLOOR_FIELDS][number]
  | "waterLine";

export interface ShapeFields {
  outline: Shape["kind"];
  floor: Floor["kind"];
  measures: Record<Measure, string>;
  stations: { at: string; left: string; right: string }[];
  steps: { from: string; depth: string }[];
  blocks: { length: string; width: string; height: string }[];
}

const NOTHING: Record<Measure, string> = {
  length: "",
  width: "",
  diameter: "",
  firstWidth: "",
  secondWidth: "",
  cutLength: "",
  cutWidth: "",
  depth: "",
  shallow: "",
  deep: "",
  endWall: "",
  slopeFrom: "",
  deepFrom: "",
  deepTo: "",
  waterLine: "0",
};

/** What was measured before, as fields; an empty form where nothing was. */
export function shapeFieldsOf(shape: BasinShape | null, perUnit: number): ShapeFields {
  const text = (metres: number) => String(Number((metres / perUnit).toPrecision(6)));
  if (!shape)
    return {
      outline: "rectangle",
      floor: "constant",
      measures: { ...NOTHING },
      stations: [
        { at: "0", left: "", right: "" },
        { at: "", left: "", right: "" },
      ],
      steps: [{ from: "0", depth: "" }],
      blocks: [],
    };
  const measures = { ...NOTHING, waterLine: text(shape.waterLine) };
  const { outline, floor } = shape;
  for (const part of [outline, floor])
    for (const [name, value] of Object.entries(part))
      if (typeof value === "number") measures[name as Measure] = text(value);
  if (outline.kind === "kidney") {
    measures.firstWidth = text(outline.widths[0]);
    measures.secondWidth = text(outline.widths[1]);
  }
  return {
    outline: outline.kind,
    floor: floor.kind,
    measures,
    stations:
      outline.kind === "offsets"
        ? outline.stations.map(({ at, left, right }) => ({
            at: text(at),
            left: text(left),
            right: text(right),
          }))
        : [{ at: "0", left: "", right: "" }],
    steps:
      floor.kind === "stepped"
        ? floor.steps.map(({ from, depth }) => ({ from: text(from), depth: text(depth) }))
        : [{ from: "0", depth: "" }],
    blocks: shape.blocks.map(({ length, width, height }) => ({
      length: text(length),
      width: text(width),
      height: text(height),
    })),
  };
}

/** The shape as it was typed, in metres; a measure that is no number is NaN, for `volumeOf` to name. */
export function shapeFrom(fields: ShapeFields, perUnit: number): BasinShape {
  const metres = (text: string) => typedNumber(text) * perUnit;
  const all = (names: readonly Measure[]) =>
    Object.fromEntries(names.map((name) => [name, metres(fields.measures[name])]));
  const outline =
    fields.outline === "offsets"
      ? {
          kind: "offsets",
          stations: fields.stations.map(({ at, left, right }) => ({
            at: metres(at),
            left: metres(left),
            right: metres(right),
          })),
        }
      : fields.outline === "kidney"
        ? {
            kind: "kidney",
            length: metres(fields.measures.length),
            widths: [metres(fields.measures.firstWidth), metres(fields.measures.secondWidth)],
          }
        : { kind: fields.outline, ...all(OUTLINE_FIELDS[fields.outline]) };
  const floor =
    fields.floor === "stepped"
      ? {
          kind: "stepped",
          steps: fields.steps.map(({ from, depth }) => ({ from: metres(from), depth: metres(depth) })),
        }
      : { kind: fields.floor, ...all(FLOOR_FIELDS[fields.floor]) };
  return {
    outline: outline as Shape,
    floor: floor as Floor,
    waterLine: metres(fields.measures.waterLine),
    blocks: fields.blocks.map(({ length, width, height }) => ({
      length: metres(length),
      width: metres(width),
      height: metres(height),
    })),
  };
}
