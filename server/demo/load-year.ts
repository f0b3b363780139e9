import { millisecondsInDay } from "date-fns/constants";
import { sql } from "kysely";
import {
  type Bathing,
  bathingOf,
  dayIn,
  nothingFound,
  OUTDOOR_FIXED_BAND,
  PUBLIC_CODE_SET,
  reagentsUsed,
  SALT_CELL_SET,
  SPA_WARM_WATER,
  TITRATION_KIT,
} from "#core";
import type { FirmScope } from "../db/connection";
import { weatherOn } from "../standins/weather";
import { type DemoBasin, FIRM, SITES, sanitiserOf } from "./cast";
import { type DemoVisit, demoHistory } from "./history";
import { labelledIn } from "./labelled";
import { BOTTLES, DELIVERIES } from "./shelf";
import { EVENTS, READS, TASKS_DONE, TRUCKS } from "./work";

/** The demo year as rows: visits with all that hangs on them, and the work of the firm. */

export const DEMO_SEED = 20_260_401;
export const DEMO_DAYS = 365;

/** What the firm tests and doses with. */
export interface Shelf {
  kitId: string;
  rangeSetIds: Record<DemoBasin["rangeSet"], string>;
  productIds: Map<string, string>;
}

/** How a visit of the demo year left its water; what was given had mixed by the next day. */
function leftAs({ basin, readings, findings }: DemoVisit): Bathing {
  return bathingOf({
    sanitiser: sanitiserOf(basin),
    seen: { closing: [], urgent: [] },
    findings: findings.filter(({ settled }) => !settled),
    possible: [],
    tested: Object.fromEntries(readings.map(({ quantity, at }) => [quantity, at.getTime()])),
    closers: [],
    incidents: [],
    jobs: [],
    until: null,
  });
}

async function insertAll<T>(rows: T[], insert: (part: T[]) => Promise<unknown>): Promise<void> {
  for (let start = 0; start < rows.length; start += 1000) await insert(rows.slice(start, start + 1000));
}

/** The rows that a demo year hangs on. */
export interface YearSetting {
  firmId: string;
  memberIds: string[];
  shelf: Shelf;
  basinIds: Map<string, string>;
  key: (at: Date) => string;
  now: Date;
}

export async function loadYear(scope: FirmScope, setting: YearSetting): Promise<void> {
  const { firmId, memberIds, shelf, basinIds, key, now } = setting;
  const history = demoHistory({
    kit: TITRATION_KIT,
    rangeSets: {
      outdoor: OUTDOOR_FIXED_BAND,
      spa: SPA_WARM_WATER,
      public: PUBLIC_CODE_SET,
      salt: SALT_CELL_SET,
    },
    today: new Date(`${dayIn(now, FIRM.timeZone)}T00:00:00Z`),
    days: DEMO_DAYS,
    seed: DEMO_SEED,
  });
  const year = history.map((visit) => ({
    ...visit,
    id: key(visit.startedAt),
    memberId: memberIds[visit.memberIndex] ?? "",
  }));
  await insertAll(year, (part) =>
    scope
      .insertInto("visit")
      .values(
        part.map((visit) => ({
          id: visit.id,
          firm_id: firmId,
          basin_id: basinIds.get(visit.basin.key) ?? "",
          member_id: visit.memberId,
          kit_id: shelf.kitId,
          range_set_id: shelf.rangeSetIds[visit.basin.rangeSet],
          litres: visit.litres,
          started_at: visit.startedAt,
          finished_at: visit.finishedAt,
          note: visit.note,
          replaced: visit.replaced,
          weather: weatherJson(visit.basin, visit.startedAt),
          look: JSON.stringify(nothingFound()),
          bathing: JSON.stringify(leftAs(visit)),
          sampling: JSON.stringify({ circulation: "running", ignored: [] }),
        })),
      )
      .execute(),
  );
  const readings = year.flatMap((visit) =>
    visit.readings.map(({ quantity, method, seen, measured, at }) => ({
      id: key(at),
      firm_id: firmId,
      visit_id: visit.id,
      member_id: visit.memberId,
      quantity,
      value: measured.value,
      low: measured.low,
      high: measured.high,
      bound: measured.bound,
      kit_id: shelf.kitId,
      method_id: method.id,
      observation: JSON.stringify(seen),
      taken_at: at,
    })),
  );
  await insertAll(readings, (part) => scope.insertInto("reading").values(part).execute());
  const bottles = BOTTLES.map((bottle) => ({
    ...bottle,
    id: key(new Date(now.getTime() - bottle.openedAgo * millisecondsInDay)),
  }));
  const dayAgo = (days: number) => dayIn(new Date(now.getTime() - days * millisecondsInDay), FIRM.timeZone);
  await scope
    .insertInto("bottle")
    .values(
      bottles.map((bottle) => ({
        id: bottle.id,
        firm_id: firmId,
        reagent: bottle.reagent,
        measure: bottle.measure,
        full: bottle.full,
        lot: bottle.lot,
        opened_on: dayAgo(bottle.openedAgo),
        expires_on: dayAgo(-bottle.goodFor),
        added_at: new Date(now.getTime() - bottle.openedAgo * millisecondsInDay),
      })),
    )
    .execute();
  await scope
    .insertInto("delivery")
    .values(
      DELIVERIES.map(({ product, lot, usedAgo }) => {
        const added = new Date(now.getTime() - usedAgo * millisecondsInDay);
        return {
          id: key(added),
          firm_id: firmId,
          product_id: shelf.productIds.get(product) ?? "",
          lot,
          used_from: dayAgo(usedAgo),
          added_at: added,
        };
      }),
    )
    .execute();
  let index = 0;
  const used = year.flatMap((visit) =>
    visit.readings.flatMap(({ method, seen, at }) => {
      const readingId = readings[index++]?.id ?? "";
      return reagentsUsed(method, seen).flatMap(({ reagent, amount }) => {
        const bottle = bottles.find((one) => one.reagent === reagent);
        return bottle && now.getTime() - at.getTime() < bottle.openedAgo * millisecondsInDay
          ? [{ firm_id: firmId, reading_id: readingId, reagent, bottle_id: bottle.id, amount }]
          : [];
      });
    }),
  );
  await insertAll(used, (part) => scope.insertInto("reagent_use").values(part).execute());
  const found = year.flatMap((visit) =>
    visit.findings.map((finding, position) => ({
      id: key(visit.finishedAt),
      firm_id: firmId,
      visit_id: visit.id,
      position,
      code: finding.code,
      detail: JSON.stringify(finding),
    })),
  );
  await insertAll(found, (part) => scope.insertInto("finding").values(part).execute());
  const byLabel = labelledIn(year, now, shelf.productIds);
  const doses = year.flatMap((visit) =>
    [...visit.doses, ...(byLabel.get(visit) ?? [])].map((dose) => ({
      id: key(dose.at),
      firm_id: firmId,
      visit_id: visit.id,
      member_id: visit.memberId,
      product_id: shelf.productIds.get(dose.product) ?? "",
      code: dose.code,
      planned_grams: dose.planned,
      given_grams: dose.given,
      given_at: dose.at,
    })),
  );
  await insertAll(doses, (part) => scope.insertInto("dose").values(part).execute());
}

function weatherJson(basin: DemoBasin, at: Date): string | null {
  const district = SITES.find((site) => site.key === basin.site)?.fill.district ?? "";
  const weather = weatherOn(district, dayIn(at, FIRM.timeZone));
  return weather && JSON.stringify(weather);
}

/** What is on the truck of each technician, tasks done lately, and what is coming up. */
export async function loadWork(scope: FirmScope, setting: YearSetting): Promise<void> {
  const { firmId, memberIds, shelf, basinIds, key, now } = setting;
  const morning = new Date(now.getTime() - millisecondsInDay / 2);
  const trucks = TRUCKS.map((truck) => ({ ...truck, id: key(morning) }));
  const { site_id } = await scope
    .selectFrom("basin")
    .select("site_id")
    .where("id", "=", basinIds.get(READS.basin) ?? "")
    .executeTakeFirstOrThrow();
  await scope
    .insertInto("member_site")
    .values({ firm_id: firmId, member_id: memberIds[READS.member] ?? "", site_id })
    .execute();
  await scope
    .insertInto("truck")
    .values(
      trucks.map(({ id, name, driver }) => ({
        id,
        firm_id: firmId,
        name,
        member_id: memberIds[driver] ?? null,
      })),
    )
    .execute();
  await scope
    .insertInto("truck_stock")
    .values(
      trucks.flatMap((truck) =>
        truck.stock.map(({ product, kilograms }) => ({
          firm_id: firmId,
          truck_id: truck.id,
          product_id: shelf.productIds.get(product) ?? "",
          grams: kilograms * 1000,
          counted_at: morning,
        })),
      ),
    )
    .execute();
  await scope
    .insertInto("task_done")
    .values(
      [...basinIds.values()].flatMap((basinId, index) =>
        TASKS_DONE.map(({ task, daysAgo }) => ({
          id: key(now),
          firm_id: firmId,
          basin_id: basinId,
          member_id: memberIds[1] ?? "",
          task,
          done_at: new Date(now.getTime() - (daysAgo + (index % 5)) * millisecondsInDay),
        })),
      ),
    )
    .execute();
  await scope
    .insertInto("basin_event")
    .values(
      EVENTS.map(({ basin, name, ahead }) => ({
        id: key(now),
        firm_id: firmId,
        basin_id: basinIds.get(basin) ?? "",
        day: sql<Date>`${dayIn(new Date(now.getTime() + ahead * millisecondsInDay), FIRM.timeZone)}::date`,
        name,
        made_by: memberIds[0] ?? "",
      })),
    )
    .execute();
}
