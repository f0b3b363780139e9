import { describe, expect, it } from "vitest";
import { type BasinShape, volumeOf } from "#core";
import { basinShapeSchema, checked } from "#core/schemas";
import { shapeFieldsOf, shapeFrom } from "./shape-fields";

const FOOT = 0.3048;
const SHAPES: BasinShape[] = [
  {
    outline: { kind: "kidney", length: 9, widths: [4, 3] },
    floor: { kind: "hopper", shallow: 1, deep: 2.4, endWall: 1.8, slopeFrom: 3, deepFrom: 5, deepTo: 8 },
    waterLine: 0.1,
    blocks: [{ length: 2, width: 0.5, height: 0.4 }],
  },
  {
    outline: {
      kind: "offsets",
      stations: [
        { at: 0, left: 1, right: 1 },
        { at: 4, left: 2, right: 1.5 },
        { at: 7, left: 0.5, right: 1 },
      ],
    },
    floor: {
      kind: "stepped",
      steps: [
        { from: 0, depth: 0.9 },
        { from: 3, depth: 1.4 },
      ],
    },
    waterLine: 0,
    blocks: [],
  },
  {
    outline: { kind: "L", length: 10, width: 6, cutLength: 4, cutWidth: 2 },
    floor: { kind: "sloped", shallow: 1, deep: 1.8 },
    waterLine: 0.15,
    blocks: [],
  },
];

describe("a basin's shape in its form", () => {
  it("comes back as it was, in metres and in feet", () => {
    for (const shape of SHAPES)
      for (const unit of [1, FOOT]) {
        const back = shapeFrom(shapeFieldsOf(shape, unit), unit);
        expect(volumeOf(checked(basinShapeSchema, back)).litres / volumeOf(shape).litres).toBeCloseTo(1, 4);
        expect(back.outline.kind).toBe(shape.outline.kind);
      }
  });

  it("starts empty, and names the measure that is missing", () => {
    expect(() => volumeOf(shapeFrom(shapeFieldsOf(null, 1), 1))).toThrow("length: not-a-number");
  });
});
