import Joi from "joi";
import { type CountState, DOUBT_CODES, type Kit, MEASURES, MOST_DROPS } from "#core";
import { kitSchema } from "#core/schemas";
import type { StoredBottle } from "../db/bottles";
import type { LooseObservation } from "./attach";
import type { SentObservation } from "./record";

/** What a visit's pages may send. */

export const LONGEST_NOTE = 4000;

export const uuidSchema = Joi.string().guid({ separator: "-" }).required();
const methodId = Joi.string().max(60).required();

const drops = Joi.number().integer().min(0).max(MOST_DROPS);
/** A screen's own mark, made when it was opened. */
const screen = Joi.string().allow("").max(60);

export const countSchema = Joi.object<CountState & { methodId: string }>({
  methodId,
  drops: drops.required(),
  ahead: drops.default(0),
  idle: drops.default(0),
  sample: Joi.number().greater(0).max(1000).required(),
  holder: screen.default(""),
  term: Joi.number().integer().min(0).max(1_000_000).default(0),
  sequence: Joi.number().integer().min(0).max(1_000_000).required(),
});

const mark = Joi.number().min(0).max(40_000).allow(null).required();
const dilution = Joi.number().min(1).max(100);

const place = Joi.object({ from: mark, to: mark });

export const observationSchema = Joi.object<SentObservation>({
  id: uuidSchema,
  kitId: Joi.string().guid({ separator: "-" }),
  confirmed: Joi.array().items(Joi.valid(...DOUBT_CODES)),
  methodId,
  seen: Joi.alternatives()
    .conditional(".kind", {
      switch: [
        {
          is: "drops",
          then: Joi.object({
            kind: Joi.valid("drops").required(),
            count: drops.required(),
            sample: Joi.number().min(0).max(1000).required(),
            dilution,
            ahead: drops,
            idle: drops,
          }),
        },
        {
          is: "place",
          then: Joi.object({
            kind: Joi.valid("place").required(),
            place: place.required(),
            again: Joi.array().items(place).max(9),
            dilution,
          }),
        },
      ],
      otherwise: Joi.object({ kind: Joi.valid("number").required(), value: Joi.number().required() }),
    })
    .required(),
});

/** The pads of one strip, read together. */
export const padsSchema = Joi.array<SentObservation[]>().items(observationSchema).min(1).max(12).required();

export const doseSchema = Joi.object<{ id: string; code: string; productId: string; givenGrams: number }>({
  id: uuidSchema,
  code: Joi.string().max(80).required(),
  productId: uuidSchema,
  givenGrams: Joi.number().min(0).max(1_000_000).required(),
});

export const noteSchema = Joi.object<{ note: string }>({
  note: Joi.string().allow("").max(LONGEST_NOTE).required(),
});

export const savedKitSchema = Joi.object<{ id: string; line: string; basedOn: number | null; kit: Kit }>({
  id: uuidSchema,
  line: uuidSchema,
  basedOn: Joi.number().integer().min(1).allow(null).required(),
  kit: kitSchema.required(),
});

const day = Joi.string()
  .pattern(/^(20|19)\d\d-(0[1-9]|1[0-2])-(0[1-9]|[12]\d|3[01])$/)
  .allow(null)
  .required();

export const bottleSchema = Joi.object<
  Pick<StoredBottle, "id" | "reagent" | "measure" | "full" | "lot" | "openedOn" | "expiresOn">
>({
  id: uuidSchema,
  reagent: Joi.string().trim().min(1).max(80).required(),
  measure: Joi.valid(...MEASURES).required(),
  full: Joi.number().integer().min(1).max(100_000).required(),
  lot: Joi.string().trim().allow("").max(60).required(),
  openedOn: day,
  expiresOn: day,
});

export const attachSchema = Joi.object<LooseObservation>({
  basinId: uuidSchema,
  at: Joi.string().isoDate().required(),
  kitName: Joi.string().max(80).required(),
  observation: observationSchema.required(),
});
