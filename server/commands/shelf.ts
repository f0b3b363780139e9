import Joi from "joi";
import {
  InputFault,
  type Kit,
  LABEL_LIMITS,
  LABELLED_IDS,
  type Label,
  MEASURES,
  oddStrength,
  PRODUCT_IDS,
  type ShelfBottle,
} from "#core";
import { kitSchema } from "#core/schemas";
import { changesBetween, note } from "../db/audit";
import { emptyBottle, saveBottle } from "../db/bottles";
import { type Delivery, removeDelivery, saveDelivery } from "../db/deliveries";
import { saveKit } from "../db/kits";
import { type ProductInput, preferProduct, productsOf, retireProduct, saveProduct } from "../db/products";
import { type LoadInput, loadTruck, retireTruck, saveTruck, type TruckInput } from "../db/trucks";
import { command, WORKERS } from "./command";
import { daySchema, keySchema, memberOrNobody, nameSchema, onlyId, uuidSchema } from "./fields";

const dayOrNone = daySchema.allow(null).required();
const lotSchema = Joi.string().trim().allow("").max(60).required();
/** Grams that no shelf and no truck of a firm holds. */
const MOST_GRAMS = 100_000_000;
const grams = Joi.number().min(0).max(MOST_GRAMS);

const labelSchema = Joi.object<Label>({
  perCubicMetre: Joi.number()
    .min(LABEL_LIMITS.perCubicMetre.low)
    .max(LABEL_LIMITS.perCubicMetre.high)
    .required(),
  everyDays: Joi.number()
    .integer()
    .min(LABEL_LIMITS.everyDays.low)
    .max(LABEL_LIMITS.everyDays.high)
    .allow(null)
    .required(),
  apartHours: Joi.number()
    .integer()
    .min(LABEL_LIMITS.apartHours.low)
    .max(LABEL_LIMITS.apartHours.high)
    .required(),
});

export const SHELF_COMMANDS = {
  "save-bottle": command({
    may: WORKERS,
    schema: Joi.object<
      Pick<ShelfBottle, "id" | "reagent" | "measure" | "full" | "lot" | "openedOn" | "expiresOn">
    >({
      id: uuidSchema,
      reagent: Joi.string().trim().min(1).max(80).required(),
      measure: Joi.valid(...MEASURES).required(),
      full: Joi.number().integer().min(1).max(100_000).required(),
      lot: lotSchema,
      openedOn: dayOrNone,
      expiresOn: dayOrNone,
    }),
    carryOut: ({ scope, author }, bottle) => saveBottle(scope, author.firmId, author.now, bottle),
  }),
  "empty-bottle": command({
    may: WORKERS,
    schema: onlyId,
    carryOut: ({ scope, author }, { id }) => emptyBottle(scope, id, author.now),
  }),
  "save-product": command({
    may: WORKERS,
    schema: Joi.object<ProductInput & { sure?: boolean }>({
      id: uuidSchema,
      product: Joi.valid(...PRODUCT_IDS).required(),
      name: nameSchema,
      strength: Joi.number().greater(0).max(1.2).required(),
      density: Joi.number().greater(0).max(19).allow(null).required(),
      pricePerKg: Joi.number().min(0).max(100_000).allow(null).required(),
      stock: grams.allow(null),
      reorder: grams.allow(null),
      planned: Joi.boolean().required(),
      sure: Joi.boolean(),
      // What is dosed by its label is nothing without it, and nothing else has one.
      label: Joi.when("product", {
        is: Joi.valid(...LABELLED_IDS),
        then: labelSchema.required(),
        otherwise: Joi.valid(null),
      }),
    }),
    async carryOut({ scope, author }, { sure, ...product }) {
      const was = (await productsOf(scope)).find((one) => one.id === product.id);
      const sold = was?.strength === product.strength ? null : oddStrength(product);
      if (sold && !sure) throw new InputFault("unconfirmed", "strength", product.strength, sold);
      await saveProduct(scope, author.firmId, product, author.now);
      const { id: _, ...changes } = changesBetween(was ?? {}, product);
      if (Object.keys(changes).length > 0)
        await note(scope, author, "product-changed", product.id, { name: product.name, changes });
    },
  }),
  "prefer-product": command({
    may: WORKERS,
    subject: "product",
    schema: onlyId,
    carryOut: ({ scope }, { id }) => preferProduct(scope, id),
  }),
  "retire-product": command({
    may: WORKERS,
    subject: "product",
    schema: onlyId,
    carryOut: ({ scope, author }, { id }) => retireProduct(scope, id, author.now),
  }),
  "save-delivery": command({
    may: WORKERS,
    schema: Joi.object<Delivery>({
      id: uuidSchema,
      productId: uuidSchema,
      lot: lotSchema,
      usedFrom: daySchema,
    }),
    carryOut: ({ scope, author }, delivery) => saveDelivery(scope, author.firmId, author.now, delivery),
  }),
  "remove-delivery": command({
    may: WORKERS,
    schema: onlyId,
    carryOut: ({ scope, author }, { id }) => removeDelivery(scope, id, author.now),
  }),
  "save-truck": command({
    may: WORKERS,
    schema: Joi.object<TruckInput>({ id: uuidSchema, name: nameSchema, memberId: memberOrNobody }),
    carryOut: ({ scope, author }, truck) => saveTruck(scope, author, truck),
  }),
  "load-truck": command({
    may: WORKERS,
    schema: Joi.object<LoadInput & { id?: string }>({
      id: keySchema,
      truckId: uuidSchema,
      productId: uuidSchema,
      grams: grams.required(),
      how: Joi.valid("counted", "loaded").required(),
    }),
    once: (load) => ({ key: load.id, content: ["load", load] }),
    carryOut: ({ scope, author }, load) => loadTruck(scope, author, load),
  }),
  "retire-truck": command({
    may: WORKERS,
    subject: "truck",
    schema: onlyId,
    carryOut: ({ scope, author }, { id }) => retireTruck(scope, id, author.now),
  }),
  "save-kit": command({
    may: WORKERS,
    schema: Joi.object<{ id: string; line: string; basedOn: number | null; kit: Kit }>({
      id: uuidSchema,
      line: uuidSchema,
      basedOn: Joi.number().integer().min(1).allow(null).required(),
      kit: kitSchema.required(),
    }),
    once: (kit) => ({ key: kit.id, content: ["kit", kit] }),
    carryOut: ({ scope, author }, kit) => saveKit(scope, author, kit),
  }),
};
