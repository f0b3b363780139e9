import { sql } from "kysely";
import { v7 as uuid } from "uuid";
import { afterAll, beforeAll, describe, expect, it } from "vitest";
import { addDays, type BasinLearned, dayIn, type FirmLog, learnFirm } from "#core";
import { cardOf, entriesOf, openedCard } from "#server/db/cards";
import { asCardHolder, asFirm } from "#server/db/connection";
import { firmOf } from "#server/db/firms";
import { readBrought } from "#server/db/visit-record";
import { learnOneFirm } from "#server/learning/learn-firm";
import { type Client, clientOf, dataOf, faultText } from "../client";
import { visitWith } from "../visit";
import { openWorld, type World } from "../world";

/** The card by the water: made by the firm, read and told of by whoever has its link, and in the log as theirs. */
let world: World;
let owner: Client;
let guest: Client;
beforeAll(async () => {
  world = await openWorld();
  owner = await world.as(world.ours.ownerEmail);
  guest = clientOf(world.web.address);
});
afterAll(() => world?.close());

const inOurs = <T>(work: Parameters<typeof asFirm<T>>[2]) => asFirm(world.db, world.ours.id, work);
const DOSE = { product: "dichlor", strength: 0.56, grams: 28.5, everyDays: 1 };

async function make(more: object = {}, client = world.http): Promise<string> {
  const answer = await client.postJson(`/basins/${world.ours.basinId}/card.data`, {
    command: "make-card",
    id: uuid(),
    ...DOSE,
    ...more,
  });
  const { data } = await dataOf<{ data: { token?: string } }>(answer);
  if (!data.token) throw new Error(JSON.stringify(data));
  return data.token;
}
/** As if the card had hung there for so many days. */
const hungFor = (days: number) =>
  inOurs((scope) =>
    sql`update card set made_at = made_at - make_interval(days => ${sql.lit(days)}) where withdrawn_at is null`.execute(
      scope,
    ),
  );
const today = async () => dayIn(new Date(), (await inOurs(firmOf)).timeZone);
const tell = (token: string, fields: Record<string, string>) =>
  guest.post(`/c/${token}.data`, new URLSearchParams(fields));
const entries = async () => {
  const card = await inOurs((scope) => cardOf(scope, world.ours.basinId));
  return card ? inOurs((scope) => entriesOf(scope, [card.id])) : [];
};

describe("a card by the water", () => {
  it("is read by its link without a sign-in, on paper too, and says nothing of the firm's own", async () => {
    const token = await make();
    const page = await guest.get(`/c/${token}`);
    expect(page.status).toBe(200);
    const html = await page.text();
    // 28.5 g of dichlor at 0.95 g/mL is 30 mL: two level tablespoons.
    expect(html).toContain("2 level tablespoons");
    expect(html).toContain("Acid and chlorine make poison gas");
    expect(html).toContain('content="noindex, nofollow"');
    expect(html).not.toContain(world.ours.ownerEmail);
    const pdf = await guest.get(`/c/${token}/card.pdf`);
    expect(pdf.headers.get("content-type")).toBe("application/pdf");
    expect(
      Buffer.from(await pdf.arrayBuffer())
        .subarray(0, 5)
        .toString(),
    ).toBe("%PDF-");
    expect((await world.http.get(`/basins/${world.ours.basinId}/card.pdf`)).status).toBe(200);
  });

  it("takes a dose once, however often they tap, and takes it back", async () => {
    const token = await make();
    await hungFor(3);
    const slot = await today();
    for (let tap = 0; tap < 10; tap++)
      expect((await tell(token, { said: "given", slot })).status).toBeLessThan(400);
    expect(await entries()).toMatchObject([{ kind: "given", slot }]);
    await tell(token, { said: "not-given", slot });
    expect(await entries()).toEqual([]);
    await Promise.all(Array.from({ length: 5 }, () => tell(token, { said: "given", slot })));
    expect(await entries()).toHaveLength(1);
  });

  it("counts a dose that somebody there gave among what went in before the next visit", async () => {
    const token = await make();
    await hungFor(3);
    const wentIn = async () =>
      (
        await inOurs((scope) =>
          readBrought(
            scope,
            { id: uuid(), basinId: world.ours.basinId, memberId: world.ours.memberId },
            new Date(),
          ),
        )
      )?.dosesBefore;
    const already = (await wentIn()) ?? [];
    const slot = addDays(await today(), -1);
    await tell(token, { said: "given", slot });
    const { grams, product, strength } = DOSE;
    const more = (await wentIn()) ?? [];
    expect(more).toHaveLength(already.length + 1);
    // By the end of the day that it was said of.
    expect(more.at(-1)).toMatchObject({ product, strength, grams, litres: 10_000 });
    expect(more.at(-1)?.givenAt.getTime()).toBeLessThan(Date.now());
    await tell(token, { said: "not-given", slot });
    expect(await wentIn()).toEqual(already);
  });

  it("refuses a day that has no dose, a word that is none, and a strip beyond its scale, by name", async () => {
    const token = await make();
    await hungFor(3);
    const day = await today();
    const refused = async (fields: Record<string, string>) => {
      const answer = await tell(token, fields);
      expect(answer.status).toBe(422);
      return faultText(answer);
    };
    expect(await refused({ said: "given", slot: addDays(day, 1) })).toMatch(/slot/i);
    expect(await refused({ said: "given", slot: addDays(day, -30) })).toMatch(/slot/i);
    expect(await refused({ said: "nothing" })).toMatch(/said/i);
    expect(await refused({ said: "strip", freeChlorine: "90" })).toMatch(/20/);
    expect(await refused({ said: "strip", ph: "seven" })).toMatch(/pH/);
    await refused({ said: "strip" });
    expect(await entries()).toEqual([]);
  });

  it("keeps the newest strip of a day", async () => {
    const token = await make();
    await tell(token, { said: "strip", freeChlorine: "3", ph: "7,6" });
    await tell(token, { said: "strip", freeChlorine: "5" });
    expect(await entries()).toMatchObject([{ kind: "strip", read: { freeChlorine: 5 } }]);
  });

  it("opens nothing once it is withdrawn, replaced, or never was", async () => {
    const first = await make();
    const second = await make({ grams: 57 });
    expect((await guest.get(`/c/${first}`)).status).toBe(404);
    expect((await guest.get(`/c/${second}`)).status).toBe(200);
    const answer = await world.http.postJson(`/basins/${world.ours.basinId}/card`, {
      command: "withdraw-card",
    });
    expect(answer.status).toBeLessThan(400);
    expect((await guest.get(`/c/${second}`)).status).toBe(404);
    expect((await tell(second, { said: "strip", freeChlorine: "3" })).status).toBe(404);
    expect((await guest.get(`/c/${"x".repeat(43)}`)).status).toBe(404);
  });

  it("speaks what the people there read, as their site has it, on the page and on paper", async () => {
    await inOurs((scope) => scope.updateTable("site").set({ language: "es" }).execute());
    const token = await make();
    const english = { "Accept-Language": "en", Cookie: "" };
    const nobody = clientOf(world.web.address);
    const page = await (await nobody.get(`/c/${token}`, english)).text();
    expect(page).toMatch(/<html lang="es-US"/);
    expect(page).toContain("Guárdelo bajo llave");
    const pdf = await nobody.get(`/c/${token}/card.pdf`, english);
    expect(Buffer.from(await pdf.arrayBuffer()).toString("latin1")).toMatch(/\/Lang \(es-US\)/);
    await inOurs((scope) => scope.updateTable("site").set({ language: null }).execute());
  });

  it("is made of what the owner's list has, of no more chlorine than a test would allow, and for a basin of ours", async () => {
    const refused = async (given: object, basinId = world.ours.basinId) => {
      const answer = await world.http.postJson(`/basins/${basinId}/card.data`, {
        command: "make-card",
        id: uuid(),
        ...DOSE,
        ...given,
      });
      return { status: answer.status, text: answer.status === 422 ? await faultText(answer) : "" };
    };
    expect((await refused({ product: "hydrochloric-acid", strength: 0.31 })).status).toBe(422);
    expect((await refused({ product: "trichlor", strength: 0.9 })).status).toBe(422);
    // 5 mg/L of 10 m³ or 40 m³ is far less than 5 kg of dichlor holds.
    expect((await refused({ grams: 5000 })).text).toMatch(/at most|5000|5,000/);
    expect((await refused({ everyDays: 0.1 })).status).toBe(422);
    expect((await refused({}, world.theirs.basinId)).status).toBe(404);
    const allowed = await owner.postJson("/settings.data", {
      command: "set-rates",
      fillRate: 1000,
      persulfateDose: 10,
      seasonStart: "04-01",
      laymen: ["hydrochloric-acid"],
    });
    expect(allowed.status).toBeLessThan(400);
    expect((await refused({})).status).toBe(422);
    expect(await make({ product: "hydrochloric-acid", strength: 0.31, grams: 200 })).toHaveLength(43);
    await inOurs((scope) => sql`update firm set layman_products = '{dichlor}'`.execute(scope));
  });
});

describe("whoever holds a card's link", () => {
  it("sees that card, the name of its basin and its firm, and nothing else of the database", async () => {
    const token = await make();
    const held = await openedCard(world.db, token);
    if (!held) throw new Error("no card");
    const { rows: tables } = await sql<{ name: string }>`
      select relname as name from pg_class where relnamespace = 'public'::regnamespace and relkind = 'r' order by 1`.execute(
      world.db,
    );
    const readable: string[] = [];
    for (const { name } of tables)
      await asCardHolder(world.db, held, (scope) =>
        sql`select 1 from ${sql.table(name)} limit 1`.execute(scope),
      ).then(
        () => readable.push(name),
        () => null,
      );
    expect(readable).toEqual(["basin", "card", "card_entry", "firm", "visit"]);
    const seen = await asCardHolder(world.db, held, async (scope) => ({
      cards: (await sql`select id from card`.execute(scope)).rows.length,
      basins: (await sql`select id from basin`.execute(scope)).rows.length,
      firms: (await sql`select id from firm`.execute(scope)).rows.length,
    }));
    expect(seen).toEqual({ cards: 1, basins: 1, firms: 1 });
    for (const write of [
      sql`update basin set name = 'x'`,
      sql`update card set withdrawn_at = now()`,
      sql`update card_entry set content = '{}'`,
      sql`delete from card_entry`,
      sql`select note from visit`,
      sql`select contact from site`,
      sql`insert into card_entry (id, firm_id, card_id, kind, slot, at, content)
        values (${uuid()}, ${world.theirs.id}, ${held.cardId}, 'given', 'x', now(), '{}')`,
      sql`insert into card_entry (id, firm_id, card_id, kind, slot, at, content)
        values (${uuid()}, ${held.firmId}, ${uuid()}, 'given', 'x', now(), '{}')`,
    ])
      await expect(asCardHolder(world.db, held, (scope) => write.execute(scope))).rejects.toThrow();
  });
});

describe("what the people there told", () => {
  it("is in the log as theirs: doses by how likely they were given, a strip with its scatter", async () => {
    await visitWith(world.db, world.ours, world.http, { ph: [7.4, 7.6], chlorine: 3, alkalinity: 100 }).then(
      (visit) => world.http.post(`/visits/${visit}/close`, new URLSearchParams({ id: uuid(), note: "" })),
    );
    await inOurs((scope) =>
      sql`update visit set started_at = started_at - interval '5 days', finished_at = finished_at - interval '5 days'`.execute(
        scope,
      ),
    );
    const token = await make();
    await hungFor(4);
    await tell(token, { said: "given", slot: await today() });
    await tell(token, { said: "strip", freeChlorine: "5" });
    let log: FirmLog | null = null;
    await learnOneFirm(
      world.db,
      world.ours.id,
      {
        learn: async (given) => {
          log = given;
          return (
            learnFirm(given) ?? { basins: [] as BasinLearned[], suspicions: [], calibration: {} as never }
          );
        },
        hold: async (bases) => bases.map(() => ({ hold: null, worth: null })),
        weatherBetween: async () => [],
      },
      new Date(Date.now() + 1000),
    );
    const own = (log as FirmLog | null)?.basins.find(({ id }) => id === world.ours.basinId);
    const theirs =
      own?.visits.flatMap(({ doses }) => doses.filter(({ chance }) => chance !== undefined)) ?? [];
    expect(theirs.filter(({ chance }) => chance === 0.5).length).toBeGreaterThanOrEqual(2);
    // Those of cards that hung there before are in it too.
    expect(theirs.filter(({ chance }) => chance === 0.98).length).toBeGreaterThanOrEqual(1);
    expect(theirs[0]).toMatchObject({ product: "dichlor", grams: 28.5 });
    const strip = own?.visits
      .flatMap(({ readings }) => readings)
      .find(({ value, low }) => value === 5 && low === 3);
    expect(strip).toMatchObject({ quantity: "freeChlorine", high: 7 });
  });

  it("is in the plan: what they give is not poured for", async () => {
    const visit = await visitWith(world.db, world.ours, world.http, {
      ph: [7.4, 7.6],
      chlorine: 3,
      alkalinity: 100,
    });
    const loaded = await dataOf<Record<string, { data: { brought: { between: unknown } } }>>(
      await world.http.get(`/visits/${visit}/judge.data?_routes=routes/visit/layout`),
    );
    expect(loaded["routes/visit/layout"]?.data.brought.between).toMatchObject({
      product: "dichlor",
      everyDays: 1,
    });
  });
});
