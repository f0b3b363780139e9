import Joi from "joi";
import { type BasinWishes, type FirmWeek, type MemberWeek, PLACE_LIMITS, type SitePlace } from "#core";
import { basinWishesSchema, firmWeekSchema, memberWeekSchema } from "#core/schemas";
import { setFirmWeek } from "../db/week";
import {
  changeCallDays,
  type MoveInput,
  moveCalls,
  saveMemberWeek,
  savePlace,
  saveWishes,
} from "../week/change";
import { command, OWNERS, WORKERS } from "./command";
import { daySchema, memberOrNobody, uuidSchema } from "./fields";

const dayOrNone = daySchema.allow(null);
const basinIds = Joi.array()
  .items(Joi.string().guid({ separator: "-" }))
  .unique()
  .max(500)
  .required();

/** A name for a basin that the page's address gives beside what is wished of it. */
const ofBasin = <T>(schema: Joi.ObjectSchema<T>) =>
  schema.append({ basinId: uuidSchema }) as Joi.ObjectSchema<T & { basinId: string }>;

const degrees = ({ low, high }: { low: number; high: number }) => Joi.number().min(low).max(high).required();

export const WEEK_COMMANDS = {
  "move-calls": command({
    may: WORKERS,
    schema: Joi.object<MoveInput>({
      id: uuidSchema,
      versions: Joi.object().pattern(daySchema, Joi.number().integer().min(0).max(1_000_000)).required(),
      moves: Joi.array()
        .items(Joi.object({ basinId: uuidSchema, from: dayOrNone, to: dayOrNone, memberId: memberOrNobody }))
        .max(500)
        .required(),
      orders: Joi.array()
        .items(Joi.object({ day: daySchema, basinIds }))
        .max(62)
        .required(),
    }),
    once: (move) => ({ key: move.id, content: ["move-calls", move] }),
    carryOut: ({ scope, author }, move) => moveCalls(scope, author, move),
  }),
  "set-call-days": command({
    may: OWNERS,
    schema: Joi.object<{ basinId: string; callDays: number[]; everyWeeks: number }>({
      basinId: uuidSchema,
      callDays: Joi.array().items(Joi.number().integer().min(1).max(7)).unique().min(1).max(7).required(),
      everyWeeks: Joi.number().integer().min(1).max(2).required(),
    }),
    carryOut: ({ scope, author }, sent) => changeCallDays(scope, author, sent),
  }),
  "save-wishes": command({
    may: OWNERS,
    schema: ofBasin<BasinWishes>(basinWishesSchema),
    carryOut: ({ scope }, wishes) => saveWishes(scope, wishes),
  }),
  "save-place": command({
    may: WORKERS,
    schema: Joi.object<{ basinId: string; place: SitePlace | null }>({
      basinId: uuidSchema,
      place: Joi.object({
        latitude: degrees(PLACE_LIMITS.latitude),
        longitude: degrees(PLACE_LIMITS.longitude),
      })
        .allow(null)
        .required(),
    }),
    carryOut: ({ scope }, sent) => savePlace(scope, sent),
  }),
  "save-member-week": command({
    may: OWNERS,
    schema: memberWeekSchema.append({ memberId: uuidSchema }) as Joi.ObjectSchema<
      MemberWeek & { memberId: string }
    >,
    carryOut: ({ scope }, week) => saveMemberWeek(scope, week),
  }),
  "save-firm-week": command({
    may: OWNERS,
    schema: firmWeekSchema as Joi.ObjectSchema<FirmWeek>,
    carryOut: ({ scope }, week) => setFirmWeek(scope, week),
  }),
};
