import Joi from "joi";
import type { BasinShape } from "./volume";

const metres = Joi.number().min(0).max(300).required();
const depth = Joi.number().min(0).max(12).required();

const outline = Joi.alternatives().conditional(".kind", {
  switch: [
    { is: "rectangle", then: Joi.object({ kind: "rectangle", length: metres, width: metres }) },
    { is: "circle", then: Joi.object({ kind: "circle", diameter: metres }) },
    { is: "oval", then: Joi.object({ kind: "oval", length: metres, width: metres }) },
    {
      is: "kidney",
      then: Joi.object({
        kind: "kidney",
        length: metres,
        widths: Joi.array().items(metres).length(2).required(),
      }),
    },
    {
      is: "L",
      then: Joi.object({ kind: "L", length: metres, width: metres, cutLength: metres, cutWidth: metres }),
    },
  ],
  otherwise: Joi.object({
    kind: Joi.valid("offsets").required(),
    stations: Joi.array()
      .items(Joi.object({ at: metres, left: metres, right: metres }))
      .min(2)
      .max(60)
      .required(),
  }),
});

const floor = Joi.alternatives().conditional(".kind", {
  switch: [
    { is: "constant", then: Joi.object({ kind: "constant", depth }) },
    { is: "sloped", then: Joi.object({ kind: "sloped", shallow: depth, deep: depth }) },
    {
      is: "hopper",
      then: Joi.object({
        kind: "hopper",
        shallow: depth,
        deep: depth,
        endWall: depth,
        slopeFrom: metres,
        deepFrom: metres,
        deepTo: metres,
      }),
    },
  ],
  otherwise: Joi.object({
    kind: Joi.valid("stepped").required(),
    steps: Joi.array()
      .items(Joi.object({ from: metres, depth }))
      .min(1)
      .max(20)
      .required(),
  }),
});

/** A basin's shape as measured, stored or sent; `volumeOf` says whether it holds water. */
export const basinShapeSchema = Joi.object<BasinShape>({
  outline: outline.required(),
  floor: floor.required(),
  waterLine: Joi.number().min(0).max(3).required(),
  blocks: Joi.array()
    .items(
      Joi.object({
        length: Joi.number().min(0).max(50).required(),
        width: Joi.number().min(0).max(50).required(),
        height: Joi.number().min(0).max(50).required(),
      }),
    )
    .max(20)
    .required(),
});
