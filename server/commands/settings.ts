import Joi from "joi";
import {
  BASIN_KINDS,
  type BasinKind,
  type CadenceChange,
  type Firm,
  LAYMAN_CHOICE,
  MINUTES_LIMITS,
  STATION_ORDER,
  UNIT_SYSTEM_NAMES,
  type UnitSystem,
  type WorkList,
} from "#core";
import { rangeSetSchema, workListSchema } from "#core/schemas";
import { changesBetween, note } from "../db/audit";
import {
  firmOf,
  forgetDaysOf,
  type Rates,
  ratesOf,
  setCadence,
  setForgetDays,
  setRates,
  setUnits,
} from "../db/firms";
import { photoMonthsOf, setPhotoMonths } from "../db/keeping";
import { type RangeSetInput, saveRangeSet } from "../db/range-sets";
import { saveWorkList } from "../db/work";
import { type CommandContext, command, OWNERS } from "./command";
import { monthDaySchema, uuidSchema } from "./fields";

const days = Joi.number().integer().min(0).max(400);

/** How often tests and tasks come due, for the firm or for a basin. */
export const cadenceSchema = Joi.object<CadenceChange>({
  tests: Joi.object(Object.fromEntries(STATION_ORDER.map((station) => [station, days]))),
  tasks: Joi.object({
    shock: days,
    shockInHeat: days,
    labChecks: Joi.number().integer().min(0).max(12),
    freshReagents: Joi.number().integer().min(0).max(1),
  }),
});

/** What holds for the whole firm is its owners' to decide. */
export const SETTINGS_COMMANDS = {
  "set-units": command({
    may: OWNERS,
    schema: Joi.object<{ units: UnitSystem }>({ units: Joi.valid(...UNIT_SYSTEM_NAMES).required() }),
    carryOut: (context, { units }) =>
      changeFirm(context, async (firm) => {
        await setUnits(context.scope, units);
        return [{ units: firm.units }, { units }];
      }),
  }),
  "set-rates": command({
    may: OWNERS,
    schema: Joi.object<Rates>({
      fillRate: Joi.number().min(10).max(1_000_000).required(),
      persulfateDose: Joi.number().min(1).max(500).required(),
      callMinutes: Joi.number().integer().min(MINUTES_LIMITS.low).max(MINUTES_LIMITS.high),
      callPrice: Joi.number().min(0).max(10_000),
      scaleStep: Joi.number().min(0.01).max(100).allow(null),
      laymen: Joi.array()
        .items(Joi.valid(...LAYMAN_CHOICE))
        .unique(),
      seasonStart: monthDaySchema,
      currency: Joi.valid(...Intl.supportedValuesOf("currency")),
    }),
    carryOut: (context, rates) =>
      changeFirm(context, async (firm) => {
        await setRates(context.scope, rates);
        return [ratesOf(firm), { ...ratesOf(firm), ...rates }];
      }),
  }),
  "set-cadence": command({
    may: OWNERS,
    schema: Joi.object<{ cadence: CadenceChange }>({ cadence: cadenceSchema.required() }),
    carryOut: (context, { cadence }) =>
      changeFirm(context, async (firm) => {
        await setCadence(context.scope, cadence);
        return [{ cadence: firm.cadence }, { cadence }];
      }),
  }),
  /** When devices forget what they took along, where nobody reaches them any more. */
  "set-device-rule": command({
    may: OWNERS,
    schema: Joi.object<{ forgetDays: number | null }>({
      forgetDays: Joi.number().integer().min(1).max(365).allow(null).required(),
    }),
    carryOut: (context, { forgetDays }) =>
      changeFirm(context, async () => {
        const was = await forgetDaysOf(context.scope);
        await setForgetDays(context.scope, forgetDays);
        return [{ forgetDays: was }, { forgetDays }];
      }),
  }),
  /** How long photos are kept; the book is kept for good. */
  "set-photo-rule": command({
    may: OWNERS,
    schema: Joi.object<{ photoMonths: number | null }>({
      photoMonths: Joi.number().integer().min(1).max(240).allow(null).required(),
    }),
    carryOut: (context, { photoMonths }) =>
      changeFirm(context, async () => {
        const was = await photoMonthsOf(context.scope);
        await setPhotoMonths(context.scope, photoMonths);
        return [{ photoMonths: was }, { photoMonths }];
      }),
  }),
  /** What is done at a kind of basin besides the water. */
  "save-work-list": command({
    may: OWNERS,
    schema: Joi.object<{ id: string; kind: BasinKind; basedOn: number; list: WorkList }>({
      id: uuidSchema,
      kind: Joi.valid(...BASIN_KINDS).required(),
      basedOn: Joi.number().integer().min(0).required(),
      list: workListSchema.required(),
    }),
    once: (sent) => ({ key: sent.id, content: ["work list", sent] }),
    async carryOut({ scope, author }, sent) {
      await saveWorkList(scope, author, sent);
      await note(scope, author, "work-list-changed", sent.id, { name: sent.kind });
    },
  }),
  "save-range-set": command({
    may: OWNERS,
    schema: Joi.object<RangeSetInput>({
      id: uuidSchema,
      line: uuidSchema,
      basedOn: Joi.number().integer().min(1).allow(null).required(),
      set: rangeSetSchema.required(),
    }),
    once: (set) => ({ key: set.id, content: ["range set", set] }),
    carryOut: ({ scope, author }, set) => saveRangeSet(scope, author, set),
  }),
};

async function changeFirm(
  { scope, author }: CommandContext,
  change: (firm: Firm) => Promise<[was: object, became: object]>,
): Promise<void> {
  const [was, became] = await change(await firmOf(scope));
  const changes = changesBetween(was, became);
  if (Object.keys(changes).length > 0) await note(scope, author, "firm-changed", author.firmId, { changes });
}
