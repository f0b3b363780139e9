import Joi from "joi";
import { v7 as uuid } from "uuid";
import {
  BASIN_KINDS,
  BASIN_LITRES,
  type Basin,
  dayIn,
  type Figure,
  InputFault,
  LONGEST_NOTE,
  MINUTES_LIMITS,
  mixesLike,
  noonIn,
  PRODUCT_IDS,
  SANITISERS,
  type SiteAccess,
  SURFACES,
} from "#core";
import { basinShapeSchema, rangeOverridesSchema, siteAccessSchema } from "#core/schemas";
import { setAccess } from "../db/access";
import { changesBetween, note } from "../db/audit";
import {
  addBasin,
  allBasins,
  type BasinFacts,
  type BasinInput,
  type BasinJudgement,
  basinById,
  factsOf,
  lockBasin,
  setFacts,
  setJudgement,
} from "../db/basins";
import type { FirmScope } from "../db/connection";
import { firmOf, membersOf } from "../db/firms";
import { checkRoomForBasin, checkRoomForPhoto } from "../db/keeping";
import { kitsOf } from "../db/kits";
import { settleVolume, suspicionsOf } from "../db/learned";
import { sitesOf } from "../db/members";
import { removePhoto, savePhoto } from "../db/photos";
import { rangeSetsOf } from "../db/range-sets";
import { saveVolume, VOLUME_WAYS } from "../db/volumes";
import { askWhenFar, type VolumeInput, volumeFound } from "../visits/volume";
import { volumeChecks } from "../visits/volume-check";
import { command, NotThere, WORKERS } from "./command";
import { daySchema, memberOrNobody, monthDaySchema, nameSchema, uuidSchema } from "./fields";
import { cadenceSchema } from "./settings";

type OfBasin<Given> = Given & { basinId: string };

const place = Joi.string().trim().allow("").max(200).required();
const litres = Joi.number().min(BASIN_LITRES.low).max(BASIN_LITRES.high);
const ppm = (most: number) => Joi.number().min(0).max(most).allow(null).required();
const kind = Joi.valid(...BASIN_KINDS).required();
const surface = Joi.valid(...SURFACES).required();

/** What a volume is worked out from, by the way it is found. */
const MEASURES = {
  shape: basinShapeSchema.when("how", { is: "shape", then: Joi.required(), otherwise: Joi.forbidden() }),
  meter: Joi.object({
    before: Joi.number().min(0).max(1e9).required(),
    after: Joi.number().min(0).max(1e9).required(),
    unit: Joi.valid("m3", "L", "us-gal", "imp-gal").required(),
  }).when("how", { is: "meter", then: Joi.required(), otherwise: Joi.forbidden() }),
};

/** A language by the name of its folder, or null for none; which there are is the pages' to say. */
const languageSchema = Joi.string()
  .pattern(/^[a-z]{2,3}(-[A-Z]{2})?$/)
  .allow(null)
  .default(null);

type Measured = Pick<VolumeInput, "shape" | "meter"> & { how: "shape" | "meter" };

/** Its volume is known, or measured by tape or meter. */
type NewBasin = Omit<BasinInput, "litres"> & { litres?: number; measured?: Measured };

export const BASIN_COMMANDS = {
  "add-basin": command({
    may: WORKERS,
    schema: Joi.object<NewBasin>({
      id: uuidSchema,
      siteId: uuidSchema,
      newSite: Joi.object({ name: nameSchema, street: place, district: place, contact: place })
        .allow(null)
        .required(),
      name: nameSchema,
      kind,
      surface,
      measured: Joi.object<Measured>({
        how: Joi.valid("shape", "meter").required(),
        ...MEASURES,
      }),
      litres: litres.when("measured", {
        is: Joi.exist(),
        then: Joi.forbidden(),
        otherwise: Joi.required(),
      }),
      indoors: Joi.boolean().required(),
      isPublic: Joi.boolean().required(),
      kitId: uuidSchema,
      rangeSetId: uuidSchema,
      sure: Joi.boolean(),
    }),
    once: (basin) => ({ key: basin.id, content: ["basin", basin] }),
    async carryOut({ scope, author }, { measured, ...sent }) {
      await checkRoomForBasin(scope);
      const found = measured ? volumeFound({ id: sent.id, ...measured }, [], null) : null;
      const basin: BasinInput = { ...sent, litres: found?.litres ?? sent.litres ?? Number.NaN };
      if (!basin.newSite) oneOf("siteId", basin.siteId, await sitesOf(scope));
      oneOf("kitId", basin.kitId, await kitsOf(scope));
      oneOf("rangeSetId", basin.rangeSetId, await rangeSetsOf(scope));
      const mixes = mixesLike(basin.kind);
      const others = (await allBasins(scope)).filter((one) => mixesLike(one.kind) === mixes);
      askWhenFar(basin, { last: null, others: others.map((one) => one.litres), kind: mixes });
      await addBasin(scope, author.firmId, basin);
      await note(scope, author, "basin-changed", basin.id, {
        name: basin.name,
        changes: { litres: { was: null, became: Math.round(basin.litres) } },
      });
      if (measured && found)
        await saveVolume(scope, author, basin.id, { id: uuid(), how: measured.how, ...found });
    },
  }),
  "change-basin": command({
    may: WORKERS,
    schema: Joi.object<OfBasin<BasinFacts>>({
      basinId: uuidSchema,
      name: nameSchema,
      kind,
      surface,
      indoors: Joi.boolean().required(),
      isPublic: Joi.boolean().allow(null).required(),
      sanitiser: Joi.valid(...SANITISERS).required(),
      kitId: uuidSchema,
      callDays: Joi.array().items(Joi.number().integer().min(1).max(7)).unique().required(),
      everyWeeks: Joi.number().integer().min(1).max(26).required(),
      weeksFrom: daySchema,
      season: Joi.object({ from: monthDaySchema, to: monthDaySchema }).allow(null).required(),
      callerId: memberOrNobody,
      equipment: Joi.object({
        pumpHours: Joi.number().min(0).max(24).allow(null).required(),
        bathers: Joi.number().min(0).max(10_000).allow(null).default(null),
        feeder: Joi.valid("none", "tablets", "liquid", "salt-cell", null).required(),
        cellGrams: Joi.number().min(0).max(2000).allow(null).required(),
        cellSalt: Joi.object({
          low: Joi.number().min(500).max(40_000).required(),
          high: Joi.number().min(Joi.ref("low")).max(40_000).required(),
        })
          .allow(null)
          .default(null),
        cover: Joi.valid("none", "bubble", "slats", "foam", null).required(),
      }).required(),
      cadence: cadenceSchema.allow(null).required(),
      note: Joi.string().allow("").max(LONGEST_NOTE).required(),
      fillAlkalinity: ppm(2000),
      fillHardness: ppm(5000),
      customerLanguage: languageSchema,
    }),
    async carryOut({ scope, author }, { basinId, ...facts }) {
      await lockBasin(scope, basinId);
      const basin = await known(scope, basinId);
      const kits = await kitsOf(scope);
      if (facts.kitId !== basin.kitId) oneOf("kitId", facts.kitId, kits);
      const members = await membersOf(scope);
      if (facts.callerId && !members.some((one) => one.id === facts.callerId && one.role !== "reader"))
        throw new InputFault("unknown", "memberId", facts.callerId);
      const named = (of: BasinFacts) => ({
        ...of,
        kitId: kits.find((kit) => kit.id === of.kitId)?.kit.name ?? of.kitId,
        callerId: members.find((one) => one.id === of.callerId)?.name ?? null,
      });
      const changes = changesBetween(named(factsOf(basin)), named(facts));
      if (Object.keys(changes).length === 0) return;
      await setFacts(scope, basin, facts);
      await note(scope, author, "basin-changed", basinId, { name: basin.name, changes });
    },
  }),
  /** Which set a basin is judged by, its own limits, and what its plans leave out. */
  "set-limits": command({
    may: WORKERS,
    schema: Joi.object<OfBasin<BasinJudgement>>({
      basinId: uuidSchema,
      rangeSetId: uuidSchema,
      rangeOverrides: rangeOverridesSchema,
      barred: Joi.array()
        .items(Joi.valid(...PRODUCT_IDS))
        .max(PRODUCT_IDS.length)
        .required(),
      mostReplaced: Joi.number().min(0).max(1).required(),
      callMinutes: Joi.number().integer().min(MINUTES_LIMITS.low).max(MINUTES_LIMITS.high).allow(null),
    }),
    async carryOut({ scope, author }, { basinId, ...limits }) {
      const basin = await known(scope, basinId);
      const sets = await rangeSetsOf(scope);
      const nameOf = (id: string) => sets.find((one) => one.id === id)?.set.name;
      if (!nameOf(limits.rangeSetId))
        throw new InputFault(
          "unknown",
          "rangeSetId",
          limits.rangeSetId,
          sets.map((one) => one.set.name),
        );
      await setJudgement(scope, basinId, limits);
      const { rangeSetId, rangeOverrides, barred, mostReplaced, callMinutes } = basin;
      const changes = changesBetween(
        {
          rangeSetId: nameOf(rangeSetId) ?? rangeSetId,
          rangeOverrides: rangeOverrides ?? {},
          barred,
          mostReplaced,
          ...(limits.callMinutes === undefined ? {} : { callMinutes }),
        },
        { ...limits, rangeSetId: nameOf(limits.rangeSetId) },
      );
      if (Object.keys(changes).length > 0)
        await note(scope, author, "basin-changed", basinId, { name: basin.name, changes });
    },
  }),
  /** What a tape, a meter or a dose comes to is worked out here. */
  "measure-volume": command({
    may: WORKERS,
    schema: Joi.object<OfBasin<VolumeInput>>({
      basinId: uuidSchema,
      id: uuidSchema,
      sure: Joi.boolean(),
      how: Joi.valid(...VOLUME_WAYS).required(),
      ...MEASURES,
      litres: litres.when("how", {
        is: Joi.valid("entered", "dose"),
        then: Joi.required(),
        otherwise: Joi.forbidden(),
      }),
      visitId: Joi.string()
        .guid({ separator: "-" })
        .when("how", { is: "dose", then: Joi.required(), otherwise: Joi.forbidden() }),
      from: daySchema.optional().when("how", { is: "log", otherwise: Joi.forbidden() }),
    }),
    once: ({ basinId, ...volume }) => ({ key: volume.id, content: ["volume", basinId, volume] }),
    async carryOut({ scope, author }, { basinId, ...volume }) {
      const basin = await known(scope, basinId);
      const found = volumeFound(
        volume,
        await volumeChecks(scope, basinId),
        volume.how === "log" ? await volumeByLog(scope, basin) : null,
      );
      // What a dose or the log told was worked out here, not typed.
      if (volume.how !== "dose" && volume.how !== "log")
        askWhenFar({ ...volume, ...found }, { last: basin.litres, others: [], kind: mixesLike(basin.kind) });
      await saveVolume(scope, author, basinId, {
        id: volume.id,
        how: volume.how,
        ...found,
        ...(volume.from ? { knownFrom: await dayOf(scope, volume.from, author.now) } : {}),
      });
      // It spoke against a book that is another now; the night looks again.
      await settleVolume(scope, basinId);
    },
  }),
  /** How one gets in, for all basins of the site; the audit says that it was changed, and nothing of what it is. */
  "set-access": command({
    may: WORKERS,
    schema: Joi.object<OfBasin<{ access: SiteAccess }>>({
      basinId: uuidSchema,
      access: siteAccessSchema.required(),
    }),
    async carryOut({ scope, author }, { basinId, access }) {
      const { site } = await known(scope, basinId);
      await setAccess(scope, author, site.id, access);
      await note(scope, author, "access-changed", site.id, { name: site.name });
    },
  }),
  "photograph-basin": command({
    may: WORKERS,
    schema: Joi.object<OfBasin<{ id: string; kind: string; bytes: Buffer }>>({
      basinId: uuidSchema,
      id: uuidSchema,
      kind: Joi.string().required(),
      bytes: Joi.binary().required(),
    }),
    once: ({ basinId, id, bytes }) => ({ key: id, content: ["photo", basinId, bytes] }),
    async carryOut({ scope, author }, { basinId, ...photo }) {
      await known(scope, basinId);
      await checkRoomForPhoto(scope, photo.bytes);
      await savePhoto(scope, author, { of: { basinId }, ...photo });
    },
  }),
  "remove-basin-photo": command({
    may: WORKERS,
    schema: Joi.object<OfBasin<{ id: string }>>({ basinId: uuidSchema, id: uuidSchema }),
    carryOut: ({ scope, author }, { basinId, id }) => removePhoto(scope, { basinId }, id, author.now),
  }),
};

async function known(scope: FirmScope, basinId: string): Promise<Basin> {
  const basin = await basinById(scope, basinId);
  if (!basin) throw new NotThere();
  return basin;
}

function oneOf(field: string, id: string, list: readonly { id: string }[]): void {
  if (!list.some((one) => one.id === id)) throw new InputFault("unknown", field, id);
}

/** What the basin holds by its own log, litres; null where that does not speak against the book. */
async function volumeByLog(scope: FirmScope, { id, litres }: Basin): Promise<Figure | null> {
  const found = (await suspicionsOf(scope)).find((one) => one.code === "volume" && one.basin === id);
  if (!found) return null;
  const { value, low, high } = found.ratio;
  return { value: value * litres, low: low * litres, high: high * litres };
}

/** A day that has begun, as a moment. @throws InputFault "too-high" for a day to come */
async function dayOf(scope: FirmScope, day: string, now: Date): Promise<Date> {
  const { timeZone } = await firmOf(scope);
  const today = dayIn(now, timeZone);
  if (day > today) throw new InputFault("too-high", "from", day, today);
  return new Date(Math.min(now.getTime(), noonIn(day, timeZone)));
}
