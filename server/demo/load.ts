import { millisecondsInDay } from "date-fns/constants";
import { sql } from "kysely";
import { v7 as uuid } from "uuid";
import {
  COMPARATOR_KIT,
  HELD_BY_HOCL_SET,
  INSTRUMENT_KIT,
  OUTDOOR_FIXED_BAND,
  PUBLIC_CODE_SET,
  type Random,
  SALT_CELL_SET,
  SPA_WARM_WATER,
  STRIP_KIT,
  seeded,
  TITRATION_KIT,
  TRACES_KIT,
  TRAITS,
} from "#core";
import { hashPassword } from "../auth/passwords";
import { asFirm, type Database, type FirmScope } from "../db/connection";
import { demoLoaded } from "../db/instance";
import { BASINS, DEMO_PASSWORD, FIRM, MEMBERS, SITES, sanitiserOf } from "./cast";
import { loadCalls } from "./load-calls";
import { DEMO_DAYS, DEMO_SEED, loadWork, loadYear, type Shelf } from "./load-year";
import { PLACES } from "./roads";
import { PRODUCTS } from "./shelf";
import { CALLERS, equipmentOf } from "./work";

/** Keys in the order of their time, from the seed. */
function keyMaker(random: Random): (at: Date) => string {
  return (at) =>
    uuid({ msecs: at.getTime(), random: Uint8Array.from({ length: 16 }, () => Math.floor(random() * 256)) });
}

/**
 * Loads the demo firm and its year up to yesterday, in one transaction: all of it or nothing.
 * Does nothing when it is already there.
 */
export async function loadDemo(db: Database, now: Date): Promise<boolean> {
  if (await demoLoaded(db)) return false;
  const key = keyMaker(seeded(DEMO_SEED));
  const begun = new Date(now.getTime() - (DEMO_DAYS + 1) * millisecondsInDay);
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
        MEMBERS.map(({ name, email, role, ...more }, index) => ({
          id: memberIds[index] ?? key(begun),
          firm_id: firmId,
          name,
          email,
          role,
          language: "language" in more ? more.language : null,
          password_hash: passwordHash,
        })),
      )
      .execute();
    const shelf = await loadShelf(scope, firmId, now, () => key(begun));
    const basinIds = await loadPlaces(scope, firmId, shelf, memberIds, () => key(begun));
    await loadYear(scope, { firmId, memberIds, shelf, basinIds, key, now });
    await loadWork(scope, { firmId, memberIds, shelf, basinIds, key, now });
    await loadCalls(scope, { firmId, memberIds, shelf, basinIds, key, now });
  });
  // The planner knows nothing of so many new rows until they are counted.
  await sql`analyze`.execute(db);
  return true;
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
    .values([kit, ...[COMPARATOR_KIT, STRIP_KIT, INSTRUMENT_KIT, TRACES_KIT].map(version)])
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
        place: JSON.stringify(PLACES[site.key]),
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
        // A lodge, a school, a hotel, lets: strangers bathe in all of them.
        is_public: true,
        sanitiser: sanitiserOf(basin),
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
