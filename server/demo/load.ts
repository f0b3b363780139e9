import { millisecondsInDay } from "date-fns/constants";
import { sql } from "kysely";
import { v7 as uuid } from "uuid";
import {
  COMPARATOR_KIT,
  dayIn,
  HELD_BY_HOCL_SET,
  INSTRUMENT_KIT,
  nothingFound,
  OUTDOOR_FIXED_BAND,
  PUBLIC_CODE_SET,
  type Random,
  reagentsUsed,
  SALT_CELL_SET,
  SPA_WARM_WATER,
  STRIP_KIT,
  seeded,
  TITRATION_KIT,
  TRAITS,
} from "#core";
import { hashPassword } from "../auth/passwords";
import { asFirm, asGate, type Database, type FirmScope } from "../db/connection";
import { weatherOn } from "../standins/weather";
import {
  BASINS,
  BOTTLES,
  DELIVERIES,
  DEMO_PASSWORD,
  type DemoBasin,
  FIRM,
  MEMBERS,
  PRODUCTS,
  SITES,
} from "./cast";
import { demoHistory } from "./history";
import { labelledIn } from "./labelled";
import { CALLERS, EVENTS, equipmentOf, READS, TASKS_DONE, TRUCKS } from "./work";

const SEED = 20_260_401;
const DAYS = 365;

/** Whether the demo firm is there. */
export async function demoLoaded(db: Database): Promise<boolean> {
  const row = await asGate(db, (scope) =>
    scope.selectFrom("firm").select("id").where("demo", "=", true).executeTakeFirst(),
  );
  return row !== undefined;
}

/** Keys in the order of their time, from the seed. */
function keyMaker(random: Random): (at: Date) => string {
  return (at) =>
    uuid({ msecs: at.getTime(), random: Uint8Array.from({ length: 16 }, () => Math.floor(random() * 256)) });
}

async function insertAll<T>(rows: T[], insert: (part: T[]) => Promise<unknown>): Promise<void> {
  for (let start = 0; start < rows.length; start += 1000) await insert(rows.slice(start, start + 1000));
}

/**
 * Loads the demo firm and its year up to yesterday, in one transaction: all of it or nothing.
 * Does nothing when it is already there.
 */
export async function loadDemo(db: Database, now: Date): Promise<boolean> {
  if (await demoLoaded(db)) return false;
  const key = keyMaker(seeded(SEED));
  const begun = new Date(now.getTime() - (DAYS + 1) * millisecondsInDay);
  const firmId = key(begun);
  const passwordHash = await hashPassword(DEMO_PASSWORD);
  await asFirm(db, firmId, async (scope) => {
    await scope
      .insertInto("firm")
      .values({ id: firmId, name: FIRM.name, unit_system: "us", time_zone: FIRM.timeZone, demo: true })
      .execute();
    const memberIds = MEMBERS.map(() => key(begun));
    await scope
      .insertInto("member")
      .values(
        MEMBERS.map(({ name, email, role }, index) => ({
          id: memberIds[index] ?? key(begun),
          firm_id: firmId,
          name,
          email,
          role,
          password_hash: passwordHash,
        })),
      )
      .execute();
    const shelf = await loadShelf(scope, firmId, now, () => key(begun));
    const basinIds = await loadPlaces(scope, firmId, shelf, memberIds, () => key(begun));
    await loadYear(scope, { firmId, memberIds, shelf, basinIds, key, now });
    await loadWork(scope, { firmId, memberIds, shelf, basinIds, key, now });
  });
  // The planner knows nothing of so many new rows until they are counted.
  await sql`analyze`.execute(db);
  return true;
}

interface Shelf {
  kitId: string;
  rangeSetIds: Record<DemoBasin["rangeSet"], string>;
  productIds: Map<string, string>;
}

async function loadShelf(scope: FirmScope, firmId: string, now: Date, key: () => string): Promise<Shelf> {
  const version = (content: object) => {
    const id = key();
    return { id, firm_id: firmId, version: 1, line: id, content: JSON.stringify(content) };
  };
  const kit = version(TITRATION_KIT);
  const outdoor = version(OUTDOOR_FIXED_BAND);
  const spa = version(SPA_WARM_WATER);
  const code = version(PUBLIC_CODE_SET);
  const salt = version(SALT_CELL_SET);
  await scope
    .insertInto("kit")
    .values([kit, ...[COMPARATOR_KIT, STRIP_KIT, INSTRUMENT_KIT].map(version)])
    .execute();
  await scope
    .insertInto("range_set")
    .values([outdoor, spa, code, salt, version(HELD_BY_HOCL_SET)])
    .execute();
  const products = PRODUCTS.map((product, position) => ({
    id: key(),
    firm_id: firmId,
    compound: product.product,
    name: product.name,
    strength: product.strength,
    density: product.density,
    price_per_kg: product.pricePerKg,
    planned: !TRAITS[product.product].stabilised,
    position,
    stock_grams: product.stock === undefined ? null : product.stock * 1000,
    stock_counted_at: product.stock === undefined ? null : now,
    label_grams: product.label?.perCubicMetre ?? null,
    label_days: product.label?.everyDays ?? null,
    label_apart_hours: product.label?.apartHours ?? null,
  }));
  await scope.insertInto("product").values(products).execute();
  return {
    kitId: kit.id,
    rangeSetIds: { outdoor: outdoor.id, spa: spa.id, public: code.id, salt: salt.id },
    productIds: new Map(products.map((product) => [product.compound, product.id])),
  };
}

async function loadPlaces(
  scope: FirmScope,
  firmId: string,
  shelf: Shelf,
  memberIds: string[],
  key: () => string,
): Promise<Map<string, string>> {
  const siteIds = new Map(SITES.map((site) => [site.key, key()]));
  await scope
    .insertInto("site")
    .values(
      SITES.map((site) => ({
        id: siteIds.get(site.key) ?? key(),
        firm_id: firmId,
        name: site.name,
        street: site.street,
        district: site.fill.district,
        contact: site.contact,
        fill_alkalinity: site.fill.fillAlkalinity,
        fill_hardness: site.fill.fillHardness,
      })),
    )
    .execute();
  const basinIds = new Map(BASINS.map((basin) => [basin.key, key()]));
  await scope
    .insertInto("basin")
    .values(
      BASINS.map((basin, position) => ({
        id: basinIds.get(basin.key) ?? key(),
        firm_id: firmId,
        site_id: siteIds.get(basin.site) ?? "",
        name: basin.name,
        kind: basin.kind,
        surface: basin.surface,
        litres: basin.litres,
        indoors: basin.indoors,
        sanitiser: basin.habits.feeder === "salt-cell" ? "salt-cell" : "chlorine",
        kit_id: shelf.kitId,
        range_set_id: shelf.rangeSetIds[basin.rangeSet],
        call_days: basin.callDays,
        position,
        note: basin.note ?? "",
        caller_id: memberIds[CALLERS[basin.site] ?? 0] ?? null,
        equipment: JSON.stringify(equipmentOf(basin)),
      })),
    )
    .execute();
  return basinIds;
}

interface YearSetting {
  firmId: string;
  memberIds: string[];
  shelf: Shelf;
  basinIds: Map<string, string>;
  key: (at: Date) => string;
  now: Date;
}

async function loadYear(scope: FirmScope, setting: YearSetting): Promise<void> {
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
    days: DAYS,
    seed: SEED,
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
async function loadWork(scope: FirmScope, setting: YearSetting): Promise<void> {
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
