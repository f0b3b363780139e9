/**
 * npm run demo:large: puts five years of 200 basins into the database named by DATABASE_URL, as a firm of
 * its own beside whatever is there. Invented, seeded, the same every time for the same day.
 */
import { millisecondsInDay } from "date-fns/constants";
import { sql } from "kysely";
import { v5 as uuidFrom } from "uuid";
import {
  BALANCING_IDS,
  HELD_BY_HOCL_SET,
  OUTDOOR_FIXED_BAND,
  PRODUCTS,
  PUBLIC_CODE_SET,
  SPA_WARM_WATER,
  TITRATION_KIT,
} from "#core";
import { hashPassword } from "#server/auth/passwords";
import { asFirm, type FirmScope, openDatabase } from "#server/db/connection";
import { migrate } from "#server/db/migrate";
import { DEMO_PASSWORD } from "#server/demo/cast";

const LARGE_EMAIL = "owner@large.example";
const SPACE = "9b7c1f0a-6a8e-5f43-8d4b-3a1c0f2e7d10";
const key = (name: string): string => uuidFrom(name, SPACE);
const BASINS = 200;
const WEEKS = 5 * 52;

const FIRM = key("firm");

async function load(scope: FirmScope, now: Date): Promise<void> {
  const first = new Date(now.getTime() - WEEKS * 7 * millisecondsInDay);
  await scope
    .insertInto("firm")
    .values({ id: FIRM, name: "Large Water Care", time_zone: "America/Denver", unit_system: "us" })
    .execute();
  const password_hash = await hashPassword(DEMO_PASSWORD);
  const people = ["owner", ...Array.from({ length: 8 }, (_, index) => `tech${index}`)];
  await scope
    .insertInto("member")
    .values(
      people.map((name) => ({
        id: key(name),
        firm_id: FIRM,
        name,
        email: `${name}@large.example`,
        role: name === "owner" ? "owner" : "technician",
        password_hash,
      })),
    )
    .execute();
  const version = (content: object, name: string) => ({
    id: key(name),
    firm_id: FIRM,
    version: 1,
    line: key(name),
    content: JSON.stringify(content),
  });
  await scope.insertInto("kit").values(version(TITRATION_KIT, "kit")).execute();
  await scope
    .insertInto("range_set")
    .values(
      [OUTDOOR_FIXED_BAND, SPA_WARM_WATER, PUBLIC_CODE_SET, HELD_BY_HOCL_SET].map((set, index) =>
        version(set, `set${index}`),
      ),
    )
    .execute();
  await scope
    .insertInto("product")
    .values(
      BALANCING_IDS.map((compound, position) => ({
        id: key(compound),
        firm_id: FIRM,
        compound,
        name: compound,
        strength: PRODUCTS[compound].strength,
        density: PRODUCTS[compound].density,
        price_per_kg: 3,
        position,
      })),
    )
    .execute();
  const basins = Array.from({ length: BASINS }, (_, index) => index);
  await scope
    .insertInto("site")
    .values(
      basins
        .filter((index) => index % 2 === 0)
        .map((index) => ({
          id: key(`site${index / 2}`),
          firm_id: FIRM,
          name: `Site ${index / 2 + 1}`,
          street: `${index + 1} Long Road`,
          district: "Lower Town, Orrin Vale",
          fill_hardness: 250,
        })),
    )
    .execute();
  await scope
    .insertInto("basin")
    .values(
      basins.map((index) => ({
        id: key(`basin${index}`),
        firm_id: FIRM,
        site_id: key(`site${Math.floor(index / 2)}`),
        name: `Basin ${index + 1}`,
        kind: index % 4 === 0 ? "spa" : "pool",
        surface: "plaster",
        litres: index % 4 === 0 ? 1500 : 20_000 + 500 * index,
        kit_id: key("kit"),
        range_set_id: key(`set${index % 4 === 0 ? 1 : 0}`),
        call_days: [(index % 7) + 1],
        caller_id: key(`tech${index % 8}`),
        position: index,
      })),
    )
    .execute();
  await scope
    .insertInto("task_done")
    .values(
      basins.flatMap((index) =>
        ["shock", "lab-check", "fresh-reagents"].map((task) => ({
          id: key(`${task}${index}`),
          firm_id: FIRM,
          basin_id: key(`basin${index}`),
          member_id: key(`tech${index % 8}`),
          task,
          done_at: new Date(now.getTime() - (index % 9) * millisecondsInDay),
        })),
      ),
    )
    .execute();
  await visits(scope, first);
}

/** Weekly visits, made by the database itself: a hash of basin, week and what it is for stands in for chance. */
async function visits(scope: FirmScope, first: Date): Promise<void> {
  const chance = (what: string) =>
    sql.raw(`((hashtextextended('${what}' || basin.position || '/' || week, 7) & 1048575) / 1048576.0)`);
  const made = (what: string) => sql.raw(`md5('${what} ' || basin.id || ' ' || week)::uuid`);
  const at = sql`${first}::timestamptz + make_interval(weeks => week, days => (basin.position % 7)::int, hours => 1 + (basin.position % 8)::int)`;
  await sql`
    insert into visit (id, firm_id, basin_id, member_id, kit_id, range_set_id, litres, started_at, finished_at, note, look, sampling)
    select ${made("visit")}, basin.firm_id, basin.id, basin.caller_id, basin.kit_id, basin.range_set_id, basin.litres,
      ${at}, ${at} + interval '35 minutes',
      case when ${chance("note")} < 0.05 then 'Filter rinsed, leaves taken out of the skimmer' else '' end,
      '{"see":[],"hear":[],"smell":[],"feel":[],"note":""}', '{"circulation":"running","ignored":[]}'
    from basin, generate_series(0, ${WEEKS - 1}) as week
    where ${at} < now()`.execute(scope);
  const tests: [quantity: string, method: string, value: string, every: number][] = [
    ["temperature", "temperature", "round((22 + 6 * $)::numeric, 1)", 1],
    ["freeChlorine", "free-chlorine-fas-dpd", "round((0.4 + 5 * $)::numeric, 1)", 1],
    ["combinedChlorine", "combined-chlorine-fas-dpd", "round((0.5 * $)::numeric, 1)", 1],
    ["ph", "ph-phenol-red", "round((7.0 + $)::numeric, 1)", 1],
    ["totalAlkalinity", "total-alkalinity", "round((60 + 80 * $)::numeric, -1)", 1],
    ["calciumHardness", "calcium-hardness", "round((180 + 200 * $)::numeric, -1)", 1],
    ["cyanuricAcid", "cyanuric-acid-tube", "round((20 + 60 * $)::numeric, -1)", 1],
    ["totalChlorine", "total-chlorine-dpd", "round((0.6 + 5 * $)::numeric, 1)", 1.45],
  ];
  for (const [quantity, method, value, every] of tests) {
    const reading = sql.raw(value.replace("$", chanceText(quantity)));
    await sql`
      insert into reading (id, firm_id, visit_id, member_id, quantity, value, low, high, bound, kit_id, method_id, observation, taken_at)
      select ${made(quantity)}, basin.firm_id, ${made("visit")}, basin.caller_id, ${quantity}, ${reading}, ${reading} * 0.95, ${reading} * 1.05,
        'within', basin.kit_id, ${method}, jsonb_build_object('kind', 'number', 'value', ${reading}), ${at} + interval '5 minutes'
      from basin, generate_series(0, ${WEEKS - 1}) as week
      where ${chance(`made ${quantity}`)} < ${1 / every} and ${at} < now()`.execute(scope);
  }
  await sql`
    insert into dose (id, firm_id, visit_id, member_id, product_id, code, planned_grams, given_grams, given_at)
    select ${made("dose")}, basin.firm_id, ${made("visit")}, basin.caller_id,
      case when ${chance("which")} < 0.6 then ${key("sodium-hypochlorite")}::uuid else ${key("hydrochloric-acid")}::uuid end,
      'freeChlorine.low', 500, 480, ${at} + interval '20 minutes'
    from basin, generate_series(0, ${WEEKS - 1}) as week
    where ${chance("dosed")} < 0.5 and ${at} < now()`.execute(scope);
  await sql`
    insert into finding (id, firm_id, visit_id, position, code, detail)
    select md5('finding ' || reading.id)::uuid, reading.firm_id, reading.visit_id, 0, 'totalAlkalinity.low',
      jsonb_build_object('code', 'totalAlkalinity.low', 'quantity', 'totalAlkalinity', 'value', value, 'bound', 'within',
        'limit', 80, 'aim', 100, 'closes', false, 'rangeSet', 'outdoor-fixed-band')
    from reading where quantity = 'totalAlkalinity' and value < 80`.execute(scope);
}

const chanceText = (what: string) =>
  `((hashtextextended('${what}' || basin.position || '/' || week, 7) & 1048575) / 1048576.0)`;

const url = process.env.DATABASE_URL;
if (!url) throw new Error("DATABASE_URL names the database that the large firm goes into");
const db = openDatabase(url, 1, { patient: true });
try {
  await migrate(db);
  const there = await asFirm(db, FIRM, (scope) => scope.selectFrom("firm").select("id").executeTakeFirst());
  if (there) console.log("The large firm is there already.");
  else {
    const begun = Date.now();
    await asFirm(db, FIRM, (scope) => load(scope, new Date()));
    await sql`analyze`.execute(db);
    const counts = await asFirm(db, FIRM, async (scope) => {
      const { rows } = await sql<{ visits: number; readings: number }>`
        select (select count(*) from visit) as visits, (select count(*) from reading) as readings`.execute(
        scope,
      );
      return rows[0];
    });
    console.log(
      `${counts?.visits} visits and ${counts?.readings} readings in ${((Date.now() - begun) / 1000).toFixed(0)} s. Sign in: ${LARGE_EMAIL} with ${DEMO_PASSWORD}`,
    );
  }
} finally {
  await db.destroy();
}
