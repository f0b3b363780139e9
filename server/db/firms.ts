import { sql } from "kysely";
import {
  type CadenceChange,
  type Firm,
  isProductId,
  isUnitSystem,
  type ProductId,
  type UnitSystem,
  type WorkMinutes,
} from "#core";
import { asGate, type Database, type FirmScope } from "./connection";

const COLUMNS = [
  "firm.id",
  "firm.name",
  "firm.unit_system",
  "firm.time_zone",
  "firm.season_start",
  "firm.currency",
  "firm.fill_rate",
  "firm.persulfate_dose",
  "firm.scale_step",
  "firm.call_minutes",
  "firm.call_price",
  "firm.layman_products",
  "firm.cadence",
  "firm.work_minutes",
] as const;

export const firmColumns = sql.join(COLUMNS.map((column) => sql.ref(column)));

const select = (scope: FirmScope) => scope.selectFrom("firm").select(COLUMNS);

export type FirmRow = Awaited<ReturnType<ReturnType<typeof select>["executeTakeFirstOrThrow"]>>;

export const firmFrom = (row: FirmRow): Firm => ({
  id: row.id,
  name: row.name,
  units: isUnitSystem(row.unit_system) ? row.unit_system : "us",
  timeZone: row.time_zone,
  currency: row.currency,
  seasonStart: row.season_start,
  fillRate: row.fill_rate,
  persulfateDose: row.persulfate_dose,
  scaleStep: row.scale_step,
  callMinutes: row.call_minutes,
  callPrice: row.call_price,
  laymen: row.layman_products.filter(isProductId),
  cadence: row.cadence as CadenceChange | null,
  workMinutes: (row.work_minutes as Record<string, WorkMinutes> | null) ?? null,
});

/** The firm whose rows this scope sees. */
export const firmOf = async (scope: FirmScope): Promise<Firm> =>
  firmFrom(await select(scope).executeTakeFirstOrThrow());

export type Rates = Pick<Firm, "fillRate" | "persulfateDose" | "seasonStart"> & {
  currency?: string;
  /** Left out to leave it as it is. */
  callMinutes?: number;
  callPrice?: number;
  scaleStep?: number | null;
  laymen?: ProductId[];
};

export const ratesOf = ({
  fillRate,
  persulfateDose,
  seasonStart,
  currency,
  callMinutes,
  callPrice,
  scaleStep,
  laymen,
}: Firm): Required<Rates> => ({
  currency,
  fillRate,
  persulfateDose,
  seasonStart,
  callMinutes,
  callPrice,
  scaleStep,
  laymen,
});

/** What recipes and the shelf go by, for the whole firm. */
export async function setRates(scope: FirmScope, rates: Rates): Promise<void> {
  await scope
    .updateTable("firm")
    .set({
      fill_rate: rates.fillRate,
      persulfate_dose: rates.persulfateDose,
      season_start: rates.seasonStart,
      ...(rates.callMinutes === undefined ? {} : { call_minutes: rates.callMinutes }),
      ...(rates.callPrice === undefined ? {} : { call_price: rates.callPrice }),
      ...(rates.scaleStep === undefined ? {} : { scale_step: rates.scaleStep }),
      ...(rates.laymen === undefined ? {} : { layman_products: rates.laymen }),
      ...(rates.currency ? { currency: rates.currency } : {}),
    })
    .execute();
}

export async function setCadence(scope: FirmScope, cadence: CadenceChange): Promise<void> {
  await scope
    .updateTable("firm")
    .set({ cadence: JSON.stringify(cadence) })
    .execute();
}

export async function setUnits(scope: FirmScope, units: UnitSystem): Promise<void> {
  await scope.updateTable("firm").set({ unit_system: units }).execute();
}

/** Days without contact after which a device forgets its bundle; null for never. */
export const forgetDaysOf = async (scope: FirmScope): Promise<number | null> =>
  (await scope.selectFrom("firm").select("forget_days").executeTakeFirstOrThrow()).forget_days;

export async function setForgetDays(scope: FirmScope, days: number | null): Promise<void> {
  await scope.updateTable("firm").set({ forget_days: days }).execute();
}

/** Whether the firm is the demo: made-up people and waters. */
export const isDemo = async (scope: FirmScope): Promise<boolean> =>
  (await scope.selectFrom("firm").select("demo").executeTakeFirstOrThrow()).demo;

/** The people of the firm. */
export const membersOf = (scope: FirmScope) =>
  scope
    .selectFrom("member")
    .select(["id", "name", "email", "role"])
    .where("disabled_at", "is", null)
    .orderBy("name")
    .execute();

/** How much stands in the firm's book. */
export async function firmCounts(
  scope: FirmScope,
): Promise<{ visits: number; readings: number; photos: number }> {
  const count = async (table: "visit" | "reading" | "photo") => {
    const row = await scope
      .selectFrom(table)
      .select((one) => one.fn.countAll<number>().as("count"))
      .executeTakeFirstOrThrow();
    return row.count;
  };
  return { visits: await count("visit"), readings: await count("reading"), photos: await count("photo") };
}

/** Every firm there is, for the work of the night. */
export const firmIds = async (db: Database): Promise<string[]> =>
  (await asGate(db, (scope) => scope.selectFrom("firm").select("id").execute())).map(({ id }) => id);
