import { sql } from "kysely";
import type { BasinLearned, CallWorth, ForecastPoint, HoldAnswer, Suspicion, WeatherDay } from "#core";
import type { FirmScope } from "./connection";
import { anyOf } from "./prepared";

/** What logs taught, and the logs as they are learned from. */

/** Of the learner: what another one has kept is worked out again. */
export const LEARNER_VERSION = 7;

/** What is known of a basin by its log, and what that rests on. */
export interface KeptLearning extends BasinLearned {
  learnedAt: Date;
  visits: number;
  /** What would hold its water; null where that is not told. */
  hold: HoldAnswer | null;
}

export async function learnedOf(scope: FirmScope, basinId: string): Promise<KeptLearning | null> {
  const row = await scope
    .selectFrom("learned")
    .select(["content", "learned_at", "visits", "hold"])
    .where("basin_id", "=", basinId)
    .where("version", "=", LEARNER_VERSION)
    .executeTakeFirst();
  return row
    ? {
        ...(row.content as unknown as BasinLearned),
        learnedAt: row.learned_at,
        visits: row.visits,
        hold: row.hold as HoldAnswer | null,
      }
    : null;
}

/** What is expected of each of these basins from when they were last learned on. */
export async function forecastsOf(
  scope: FirmScope,
  basinIds: string[],
): Promise<Map<string, ForecastPoint[]>> {
  if (basinIds.length === 0) return new Map();
  const rows = await scope
    .selectFrom("learned")
    .select(["basin_id", sql<ForecastPoint[]>`content->'forecast'`.as("forecast")])
    .where("basin_id", "=", anyOf(basinIds))
    .where("version", "=", LEARNER_VERSION)
    .execute();
  return new Map(rows.map((row) => [row.basin_id, row.forecast]));
}

/** What would hold a water, and when it was worked out, from how many visits and beside which card. */
export interface KeptHold extends HoldAnswer {
  workedOut: { at: number; visits: number; card: string | null };
}

/** What would hold each basin's water, where that is told. */
export async function holdsOf(scope: FirmScope): Promise<Map<string, KeptHold>> {
  const rows = await scope
    .selectFrom("learned")
    .select(["basin_id", "hold"])
    .where("hold", "is not", null)
    .where("version", "=", LEARNER_VERSION)
    .execute();
  return new Map(rows.map((row) => [row.basin_id, row.hold as unknown as KeptHold]));
}

/** Hundredths of a share are finer than any of it is known. */
const inHundredths = (_: string, value: unknown) =>
  typeof value === "number" ? Math.round(value * 100) / 100 : value;

export async function suspicionsOf(scope: FirmScope): Promise<Suspicion[]> {
  const row = await scope
    .selectFrom("suspicion_list")
    .select("content")
    .where("version", "=", LEARNER_VERSION)
    .executeTakeFirst();
  return (row?.content as unknown as Suspicion[] | undefined) ?? [];
}

/** Lets go of what was suspected of a basin's volume: it was written down anew. */
export const settleVolume = (scope: FirmScope, basinId: string) =>
  sql`
    update suspicion_list set content = coalesce((
      select jsonb_agg(one) from jsonb_array_elements(content) as one
      where not (one->>'code' = 'volume' and one->>'basin' = ${basinId})), '[]')`.execute(scope);

/** Whether the firm was learned by this version of the learner. */
export const isLearned = async (scope: FirmScope): Promise<boolean> =>
  (await scope
    .selectFrom("suspicion_list")
    .select("version")
    .where("version", "=", LEARNER_VERSION)
    .executeTakeFirst()) !== undefined;

/** Keeps what was learned in place of what was known before. */
export async function saveLearned(
  scope: FirmScope,
  firmId: string,
  learned: {
    basins: { content: BasinLearned; visits: number; hold: KeptHold | null; worth: CallWorth | null }[];
    suspicions: Suspicion[];
  },
  now: Date,
): Promise<void> {
  const kept = { firm_id: firmId, learned_at: now, version: LEARNER_VERSION };
  if (learned.basins.length > 0)
    await scope
      .insertInto("learned")
      .values(
        learned.basins.map(({ content, visits, hold, worth }) => ({
          ...kept,
          basin_id: content.id,
          visits,
          hold: hold && JSON.stringify(hold),
          worth: worth && JSON.stringify(worth, inHundredths),
          content: JSON.stringify(content),
        })),
      )
      .onConflict((conflict) =>
        conflict.column("basin_id").doUpdateSet((row) => ({
          learned_at: row.ref("excluded.learned_at"),
          version: row.ref("excluded.version"),
          visits: row.ref("excluded.visits"),
          hold: row.ref("excluded.hold"),
          worth: row.ref("excluded.worth"),
          content: row.ref("excluded.content"),
        })),
      )
      .execute();
  const content = JSON.stringify(learned.suspicions);
  await scope
    .insertInto("suspicion_list")
    .values({ ...kept, content })
    .onConflict((conflict) =>
      conflict.column("firm_id").doUpdateSet({ learned_at: now, version: LEARNER_VERSION, content }),
    )
    .execute();
}

/** The weather that was noted since a day, a day once. */
export async function weatherSince(scope: FirmScope, since: Date): Promise<WeatherDay[]> {
  const rows = await scope
    .selectFrom("visit")
    .select(sql<WeatherDay>`weather`.as("weather"))
    .distinctOn(sql`weather->>'day'`)
    .where("weather", "is not", null)
    .where("started_at", ">=", since)
    .execute();
  return rows.map(({ weather }) => weather);
}

/** A row of the log: what stood at a visit, as JSON lists. */
export interface LogRow {
  basinId: string;
  at: Date;
  weather: unknown;
  /** Share of the water that was replaced, by hand or by steps of plans. */
  replaced: number | null;
  /** Jobs of several calls that were begun or ended there. */
  jobs: { id: string; kind: string; over: unknown }[] | null;
  /** What the feeder was left to give, mg/L of chlorine a day. */
  feederSetting: number | null;
  readings: {
    quantity: string;
    value: number;
    low: number | null;
    high: number | null;
    bound: string;
    bottle: string | null;
  }[];
  doses: { at: string; productId: string; product: string; strength: number; grams: number }[];
  /** The fresh-water meter as it was read there, m³; null where nobody did. */
  meter: { at: string; value: number; changed: boolean } | null;
}

/** Finished visits since a day, in the order of time, each with the readings that were used and what was given. */
export async function logSince(scope: FirmScope, since: Date): Promise<LogRow[]> {
  const { rows } = await sql<LogRow>`
    select visit.basin_id as "basinId", visit.started_at as at, visit.weather, visit.jobs,
      visit.feeder_setting as "feederSetting",
      1 - (1 - coalesce(visit.replaced, 0)) * coalesce((
        select exp(sum(ln(greatest(0.001, 1 - (plan.content->'steps'->plan_step.position->>'fraction')::double precision))))
        from plan join plan_step on plan_step.firm_id = plan.firm_id and plan_step.plan_id = plan.id
        where plan.firm_id = visit.firm_id and plan.visit_id = visit.id and plan_step.state = 'done'
          and plan_step.superseded_at is null
          and plan.content->'steps'->plan_step.position->>'kind' = 'replace-water'), 1) as replaced,
      coalesce((
        select jsonb_agg(jsonb_build_object('quantity', reading.quantity, 'value', reading.value,
          'low', reading.low, 'high', reading.high, 'bound', reading.bound,
          'bottle', (select reagent_use.bottle_id from reagent_use
            join bottle on bottle.firm_id = reagent_use.firm_id and bottle.id = reagent_use.bottle_id
            where reagent_use.firm_id = reading.firm_id and reagent_use.reading_id = reading.id
              and bottle.measure = 'drops' order by reagent_use.amount desc limit 1)))
        from reading where reading.firm_id = visit.firm_id and reading.visit_id = visit.id
          and reading.superseded_at is null and reading.used and reading.round = 0), '[]') as readings,
      coalesce((
        select jsonb_agg(jsonb_build_object('at', dose.given_at, 'productId', product.id,
          'product', product.compound, 'strength', product.strength, 'grams', dose.given_grams) order by dose.given_at)
        from dose join product on product.firm_id = dose.firm_id and product.id = dose.product_id
        where dose.firm_id = visit.firm_id and dose.visit_id = visit.id
          and dose.superseded_at is null and dose.given_grams > 0), '[]') as doses,
      (select jsonb_build_object('at', plant_reading.at, 'value', plant_reading.value, 'changed', plant_reading.changed)
        from plant_reading where plant_reading.firm_id = visit.firm_id and plant_reading.visit_id = visit.id
          and plant_reading.kind = 'waterMeter' and plant_reading.superseded_at is null limit 1) as meter
    from visit where visit.finished_at is not null and visit.started_at >= ${since}
    order by visit.started_at`.execute(scope);
  return rows;
}
