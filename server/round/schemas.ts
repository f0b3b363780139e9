import Joi from "joi";
import {
  BASIN_KINDS,
  BASIN_LITRES,
  type CadenceChange,
  isDay,
  LONGEST_NOTE,
  SANITISERS,
  STATION_ORDER,
  SURFACES,
  TASKS,
  type Task,
} from "#core";
import type { BasinFacts, SentBasin } from "../db/basins";
import type { BasinEvent } from "../db/rounds";
import { uuidSchema } from "../visits/schemas";
import type { SentCall, SentOrder, SentSkip } from "./change";

/** What the round and the facts of a basin may send. */

export const daySchema = Joi.string()
  .custom((day: string, helpers) => (isDay(day) ? day : helpers.error("any.invalid")))
  .required();
const version = Joi.number().integer().min(0).max(1_000_000).required();
const memberId = Joi.string().guid({ separator: "-" }).allow(null).required();

export const orderSchema = Joi.object<SentOrder>({
  day: daySchema,
  version,
  basinIds: Joi.array()
    .items(Joi.string().guid({ separator: "-" }))
    .unique()
    .max(500)
    .required(),
});

export const callSchema = Joi.object<SentCall>({ day: daySchema, version, basinId: uuidSchema, memberId });

export const skipSchema = Joi.object<SentSkip>({
  day: daySchema,
  basinId: uuidSchema,
  why: Joi.string().allow("").max(400).required(),
});

export const eventSchema = Joi.object<BasinEvent>({
  id: uuidSchema,
  basinId: uuidSchema,
  day: daySchema,
  name: Joi.string().trim().min(1).max(120).required(),
});

export const taskSchema = Joi.object<{ id: string; basinId: string; task: Task }>({
  id: uuidSchema,
  basinId: uuidSchema,
  task: Joi.valid(...TASKS).required(),
});

export const feedSchema = Joi.object<{ id: string; mine: boolean }>({
  id: uuidSchema,
  mine: Joi.boolean().required(),
});

const days = Joi.number().integer().min(0).max(400);

export const cadenceSchema = Joi.object<CadenceChange>({
  tests: Joi.object(Object.fromEntries(STATION_ORDER.map((station) => [station, days]))),
  tasks: Joi.object({
    shock: days,
    shockInHeat: days,
    algaecide: days,
    sequestrant: days,
    labChecks: Joi.number().integer().min(0).max(12),
    freshReagents: Joi.number().integer().min(0).max(1),
  }),
});

const monthDay = Joi.string()
  .pattern(/^(0[1-9]|1[0-2])-(0[1-9]|[12]\d|3[01])$/)
  .required();
const ppm = (most: number) => Joi.number().min(0).max(most).allow(null).required();

export const factsSchema = Joi.object<BasinFacts>({
  name: Joi.string().trim().min(1).max(120).required(),
  kind: Joi.valid(...BASIN_KINDS).required(),
  surface: Joi.valid(...SURFACES).required(),
  indoors: Joi.boolean().required(),
  sanitiser: Joi.valid(...SANITISERS).required(),
  kitId: uuidSchema,
  callDays: Joi.array().items(Joi.number().integer().min(1).max(7)).unique().required(),
  everyWeeks: Joi.number().integer().min(1).max(26).required(),
  weeksFrom: daySchema,
  season: Joi.object({ from: monthDay, to: monthDay }).allow(null).required(),
  callerId: memberId,
  equipment: Joi.object({
    pumpHours: Joi.number().min(0).max(24).allow(null).required(),
    feeder: Joi.valid("none", "tablets", "liquid", "salt-cell", null).required(),
    cellGrams: Joi.number().min(0).max(2000).allow(null).required(),
    cover: Joi.valid("none", "bubble", "slats", "foam", null).required(),
  }).required(),
  cadence: cadenceSchema.allow(null).required(),
  note: Joi.string().allow("").max(LONGEST_NOTE).required(),
  fillAlkalinity: ppm(2000),
  fillHardness: ppm(5000),
});

const place = Joi.string().trim().allow("").max(200).required();

export const newBasinSchema = Joi.object<SentBasin>({
  id: uuidSchema,
  siteId: uuidSchema,
  newSite: Joi.object({
    name: Joi.string().trim().min(1).max(120).required(),
    street: place,
    district: place,
    contact: place,
  })
    .allow(null)
    .required(),
  name: Joi.string().trim().min(1).max(120).required(),
  kind: Joi.valid(...BASIN_KINDS).required(),
  surface: Joi.valid(...SURFACES).required(),
  litres: Joi.number().min(BASIN_LITRES.low).max(BASIN_LITRES.high).required(),
  indoors: Joi.boolean().required(),
  kitId: uuidSchema,
  rangeSetId: uuidSchema,
  sure: Joi.boolean(),
});
