import Joi from "joi";
import { type BasinShape, type Kit, MEASURES, PRODUCT_IDS, type ShelfBottle, type VolumeUnit } from "#core";
import { basinShapeSchema, kitSchema, rangeOverridesSchema, rangeSetSchema, testSchema } from "#core/schemas";
import type { BasinJudgement } from "../db/basins";
import type { Rates } from "../db/firms";
import type { SentProduct } from "../db/products";
import type { SentRangeSet } from "../db/range-sets";
import { SHARE_DAYS } from "../db/shares";
import type { SentLoad, SentTruck } from "../db/trucks";
import { VOLUME_WAYS, type VolumeWay } from "../db/volumes";
import type { LooseObservation } from "./attach";

/** What a visit's pages may send. */

export const uuidSchema = Joi.string().guid({ separator: "-" }).required();
/** The key of a write that changes what is there: with it, the same write sent again counts once. */
export const keySchema = Joi.string().guid({ separator: "-" });
export const idSchema = Joi.object<{ id?: string }>({ id: keySchema });

export const shareSchema = Joi.object<{ id: string; days: number }>({
  id: uuidSchema,
  days: Joi.valid(...SHARE_DAYS).required(),
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
  Pick<ShelfBottle, "id" | "reagent" | "measure" | "full" | "lot" | "openedOn" | "expiresOn">
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
  observation: testSchema.required(),
});
