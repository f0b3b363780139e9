import Joi from "joi";
import {
  type BasinShape,
  type CountState,
  DOUBT_CODES,
  type Kit,
  MEASURES,
  MOST_DROPS,
  PRODUCT_IDS,
  type VolumeUnit,
} from "#core";
import { basinShapeSchema, kitSchema, rangeOverridesSchema, rangeSetSchema } from "#core/schemas";
import type { BasinJudgement } from "../db/basins";
import type { StoredBottle } from "../db/bottles";
import type { Rates } from "../db/firms";
import type { SentProduct } from "../db/products";
import type { SentRangeSet } from "../db/range-sets";
import { SHARE_DAYS } from "../db/shares";
import type { SentLoad, SentTruck } from "../db/trucks";
import { VOLUME_WAYS, type VolumeWay } from "../db/volumes";
import type { LooseObservation } from "./attach";
import type { SentCorrection } from "./correct";
import type { SentPlan, SentStep, SentStop } from "./dosing";
import type { SentObservation } from "./record";

/** What a visit's pages may send. */

export const LONGEST_NOTE = 4000;

export const uuidSchema = Joi.string().guid({ separator: "-" }).required();
/** The key of a write that changes what is there: with it, the same write sent again counts once. */
export const keySchema = Joi.string().guid({ separator: "-" });
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

export const correctionSchema = Joi.object<SentCorrection>({
  id: uuidSchema,
  readingId: uuidSchema,
  seen: observationSchema.extract("seen").required(),
  why: Joi.string().allow("").max(400).required(),
});

/** The pads of one strip, read together. */
export const padsSchema = Joi.array<SentObservation[]>().items(observationSchema).min(1).max(12).required();

export const doseSchema = Joi.object<{ id: string; code: string; productId: string; givenGrams: number }>({
  id: uuidSchema,
  code: Joi.string().max(80).required(),
  productId: uuidSchema,
  givenGrams: Joi.number().min(0).max(1_000_000).required(),
});

const grams = Joi.number().min(0).max(1_000_000);
const why = Joi.string().max(400);

export const planSchema = Joi.object<SentPlan>({
  id: uuidSchema,
  origin: Joi.valid("alternative", "recipe", "what-if").required(),
  name: Joi.string()
    .max(40)
    .when("origin", { is: "what-if", then: Joi.forbidden(), otherwise: Joi.required() }),
  grams: Joi.object()
    .pattern(Joi.string().guid({ separator: "-" }), grams)
    .when("origin", { is: "what-if", then: Joi.required(), otherwise: Joi.forbidden() }),
  replaced: Joi.number()
    .min(0)
    .max(1)
    .when("origin", { is: "what-if", then: Joi.required(), otherwise: Joi.forbidden() }),
  aerated: Joi.number()
    .min(0)
    .max(20)
    .when("origin", { is: "what-if", then: Joi.required(), otherwise: Joi.forbidden() }),
});

export const settledStepSchema = Joi.object<SentStep>({
  id: keySchema,
  planId: uuidSchema,
  position: Joi.number().integer().min(0).max(99).required(),
  state: Joi.valid("done", "skipped", "open").required(),
  why: why.allow("").default(""),
  dose: Joi.object({ id: uuidSchema, givenGrams: grams.required() }),
});

export const stopSchema = Joi.object<SentStop>({
  id: keySchema,
  stop: why.allow("").required(),
  planId: keySchema,
  retested: Joi.boolean().default(false),
});

export const shareSchema = Joi.object<{ id: string; days: number }>({
  id: uuidSchema,
  days: Joi.valid(...SHARE_DAYS).required(),
});

export const closeSchema = Joi.object<{ id?: string; note: string }>({
  id: keySchema,
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

export const judgementSchema = Joi.object<BasinJudgement>({
  rangeSetId: uuidSchema,
  rangeOverrides: rangeOverridesSchema,
  barred: Joi.array()
    .items(Joi.valid(...PRODUCT_IDS))
    .max(PRODUCT_IDS.length)
    .required(),
  mostReplaced: Joi.number().min(0).max(1).required(),
});

export const ratesSchema = Joi.object<Rates>({
  fillRate: Joi.number().min(10).max(1_000_000).required(),
  persulfateDose: Joi.number().min(1).max(500).required(),
  seasonStart: Joi.string()
    .pattern(/^(0[1-9]|1[0-2])-(0[1-9]|[12]\d|3[01])$/)
    .required(),
  currency: Joi.valid(...Intl.supportedValuesOf("currency")),
});

export const truckSchema = Joi.object<SentTruck>({
  id: uuidSchema,
  name: Joi.string().trim().min(1).max(120).required(),
  memberId: Joi.string().guid({ separator: "-" }).allow(null).required(),
});

export const truckLoadSchema = Joi.object<SentLoad & { id?: string }>({
  id: keySchema,
  truckId: uuidSchema,
  productId: uuidSchema,
  grams: Joi.number().min(0).max(100_000_000).required(),
  how: Joi.valid("counted", "loaded").required(),
});

export const savedRangeSetSchema = Joi.object<SentRangeSet>({
  id: uuidSchema,
  line: uuidSchema,
  basedOn: Joi.number().integer().min(1).allow(null).required(),
  set: rangeSetSchema.required(),
});

export const productSchema = Joi.object<SentProduct>({
  id: uuidSchema,
  product: Joi.valid(...PRODUCT_IDS).required(),
  name: Joi.string().trim().min(1).max(120).required(),
  strength: Joi.number().greater(0).max(1.2).required(),
  density: Joi.number().greater(0).max(19).allow(null).required(),
  pricePerKg: Joi.number().min(0).max(100_000).allow(null).required(),
  stock: Joi.number().min(0).max(100_000_000).allow(null),
  reorder: Joi.number().min(0).max(100_000_000).allow(null),
  planned: Joi.boolean().required(),
});

/** A volume by one of the ways it is found; what it comes to is worked out by the server. */
export interface SentVolume {
  id: string;
  /** The volume is meant, far as it is from the last. */
  sure?: boolean;
  how: VolumeWay;
  shape?: BasinShape | undefined;
  litres?: number | undefined;
  meter?: { before: number; after: number; unit: VolumeUnit } | undefined;
  /** The visit whose dose told it. */
  visitId?: string | undefined;
}

const litres = Joi.number().min(20).max(15_000_000);

export const volumeSchema = Joi.object<SentVolume>({
  id: uuidSchema,
  sure: Joi.boolean(),
  how: Joi.valid(...VOLUME_WAYS).required(),
  shape: basinShapeSchema.when("how", { is: "shape", then: Joi.required(), otherwise: Joi.forbidden() }),
  litres: litres.when("how", {
    is: Joi.valid("entered", "dose"),
    then: Joi.required(),
    otherwise: Joi.forbidden(),
  }),
  meter: Joi.object({
    before: Joi.number().min(0).max(1e9).required(),
    after: Joi.number().min(0).max(1e9).required(),
    unit: Joi.valid("m3", "L", "us-gal").required(),
  }).when("how", { is: "meter", then: Joi.required(), otherwise: Joi.forbidden() }),
  visitId: Joi.string()
    .guid({ separator: "-" })
    .when("how", { is: "dose", then: Joi.required(), otherwise: Joi.forbidden() }),
});

export const attachSchema = Joi.object<LooseObservation>({
  basinId: uuidSchema,
  at: Joi.string().isoDate().required(),
  kitName: Joi.string().max(80).required(),
  observation: observationSchema.required(),
});
