import type { CadenceChange, UnitSystem } from "#core";
import type { FirmScope } from "./connection";

export interface Firm {
  id: string;
  name: string;
  units: UnitSystem;
  timeZone: string;
  /** Of its prices, ISO 4217. */
  currency: string;
  /** Month and day on which the season begins, as 04-01: reagents are renewed then. */
  seasonStart: string;
  /** How fast a tap fills a basin, litres an hour. */
  fillRate: number;
  /** Persulfate oxidiser by its label, grams a cubic metre. */
  persulfateDose: number;
  /** What is tested and done how often, where it is not as usual. */
  cadence: CadenceChange | null;
}

/** The firm whose rows this scope sees. */
export async function firmOf(scope: FirmScope): Promise<Firm> {
  const row = await scope
    .selectFrom("firm")
    .select([
      "id",
      "name",
      "unit_system",
      "time_zone",
      "season_start",
      "currency",
      "fill_rate",
      "persulfate_dose",
      "cadence",
    ])
    .executeTakeFirstOrThrow();
  return {
    id: row.id,
    name: row.name,
    units: row.unit_system === "metric" ? "metric" : "us",
    timeZone: row.time_zone,
    currency: row.currency,
    seasonStart: row.season_start,
    fillRate: row.fill_rate,
    persulfateDose: row.persulfate_dose,
    cadence: row.cadence as CadenceChange | null,
  };
}

export type Rates = Pick<Firm, "fillRate" | "persulfateDose" | "seasonStart"> & { currency?: string };

export const ratesOf = ({ fillRate, persulfateDose, seasonStart, currency }: Firm): Required<Rates> => ({
  currency,
  fillRate,
  persulfateDose,
  seasonStart,
});

/** What recipes and the shelf go by, for the whole firm. */
export async function setRates(scope: FirmScope, rates: Rates): Promise<void> {
  await scope
    .updateTable("firm")
    .set({
      fill_rate: rates.fillRate,
      persulfate_dose: rates.persulfateDose,
      season_start: rates.seasonStart,
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
