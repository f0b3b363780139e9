import { expect, it } from "vitest";
import { axisEnds } from "./least-span";

it("an axis spans at least what matters, around its values and never under zero", () => {
  expect(axisEnds([0.2, 0.2], 0.5)).toEqual({ suggestedMin: 0, suggestedMax: 0.5 });
  expect(axisEnds([7.4, 7.5], 0.5)).toEqual({ suggestedMin: 7.2, suggestedMax: 7.7 });
  expect(axisEnds([7, 8], 0.5)).toEqual({});
  expect(axisEnds([], 0.5)).toEqual({});
});
