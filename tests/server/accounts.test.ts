import { parse } from "csv-parse/sync";
import { v7 as uuid } from "uuid";
import { afterAll, beforeAll, describe, expect, it } from "vitest";
import { asFirm } from "#server/db/connection";
import { apiClient, newToken } from "../api";
import { type Client, faultText } from "../client";
import { visitWith } from "../visit";
import { openWorld, type World } from "../world";

/** A month's accounts: from visits and doses in the book to a file that a bookkeeper opens. */
let world: World;
let owner: Client;
let siteId: string;
let productId: string;
const month = new Date().toISOString().slice(0, 7);

beforeAll(async () => {
  world = await openWorld();
  owner = await world.as(world.ours.ownerEmail);
  ({ siteId, productId } = await asFirm(world.db, world.ours.id, async (scope) => {
    await scope.updateTable("firm").set({ call_price: 30 }).execute();
    await scope.updateTable("site").set({ name: "=Site" }).execute();
    const product = await scope
      .updateTable("product")
      .set({ price_per_kg: 4 })
      .where("compound", "=", "hydrochloric-acid")
      .returning("id")
      .executeTakeFirstOrThrow();
    const site = await scope.selectFrom("site").select("id").executeTakeFirstOrThrow();
    return { siteId: site.id, productId: product.id };
  }));
  const visit = await visitWith(world.db, world.ours, world.http, {
    chlorine: 3,
    ph: [7.8, 8.0],
    alkalinity: 100,
  });
  const dosed = await world.http.postJson(`/visits/${visit}/dose.data`, {
    id: uuid(),
    code: "ph.high",
    productId,
    givenGrams: 512.4,
  });
  if (dosed.status !== 200) throw new Error(await dosed.text());
  await world.http.post(`/visits/${visit}/close`, new URLSearchParams({ note: "" }));
});
afterAll(() => world.close());

const rows = async (client = owner): Promise<Record<string, string>[]> =>
  parse(await (await client.get(`/book/month.csv?month=${month}`)).text(), { columns: true, bom: true });
const save = (prices: object) =>
  owner.postJson(`/book/prices/${siteId}.data`, { siteId, perVisit: null, products: {}, ...prices });

describe("a month's accounts", () => {
  it("are each visit and what went in, at the usual prices, in a file that a spreadsheet takes", async () => {
    const answer = await owner.get(`/book/month.csv?month=${month}`);
    expect(answer.headers.get("content-disposition")).toBe(`attachment; filename="${month}.csv"`);
    // Its encoding stands in front, so that no letter is guessed at.
    expect(new Uint8Array(await answer.arrayBuffer()).slice(0, 3)).toEqual(
      new Uint8Array([0xef, 0xbb, 0xbf]),
    );
    expect(await rows()).toMatchObject([
      { customer: "'=Site", kind: "visit", quantity: "1", price: "30", amount: "30.00", currency: "USD" },
      { kind: "product", quantity: "0.512", unit: "kg", price: "4", amount: "2.05" },
    ]);
    const json = await (await owner.get(`/book/month.json?month=${month}`)).json();
    expect(json).toMatchObject({
      month,
      currency: "USD",
      accounts: [{ visits: 1, total: 32.05, unpriced: 0 }],
    });
    expect(await rows(owner)).toHaveLength(2);
    expect((await owner.get("/book/month.csv?month=2026-13")).status).toBe(404);
    expect(parse(await (await owner.get("/book/month.csv?month=2001-01")).text(), { columns: true })).toEqual(
      [],
    );
  });

  it("are at a customer's own prices once they have some, and at the usual again when they are taken away", async () => {
    expect((await save({ perVisit: 45, products: { [productId]: 10 } })).status).toBe(200);
    expect((await rows()).map(({ amount }) => amount)).toEqual(["45.00", "5.12"]);
    expect(await (await owner.get("/book/month")).text()).toContain("50.12");
    const bad = await save({ perVisit: -1 });
    expect(bad.status).toBe(422);
    expect(await faultText(bad)).toMatch(/price of a visit.*-1.*0/i);
    const product = await save({ products: { [productId]: "much" } });
    expect(await faultText(product)).toMatch(/price of a product.*much/i);
    expect((await rows())[0]?.amount).toBe("45.00");
    expect((await save({})).status).toBe(200);
    expect((await rows()).map(({ amount }) => amount)).toEqual(["30.00", "2.05"]);
  });

  it("say what has no price instead of giving it away", async () => {
    await asFirm(world.db, world.ours.id, async (scope) => {
      await scope.updateTable("product").set({ price_per_kg: null }).where("id", "=", productId).execute();
      await scope
        .updateTable("product_price")
        .set({ price_per_kg: null })
        .where("product_id", "=", productId)
        .execute();
    });
    expect((await rows())[1]).toMatchObject({ price: "", amount: "" });
    expect(await (await owner.get("/book/month")).text()).toMatch(/no price/);
  });

  it("go to programs that may read the book, and to no technician", async () => {
    const token = await newToken(owner, ["read-book"]);
    const answer = await apiClient(world.web.address, token).get(`/accounts?month=${month}`);
    expect(await answer.json()).toMatchObject({ accounts: [{ siteId, visits: 1 }] });
    for (const path of ["/book/month", `/book/month.csv?month=${month}`, `/book/prices/${siteId}`])
      expect((await world.http.get(path)).status, path).toBe(403);
  });
});
