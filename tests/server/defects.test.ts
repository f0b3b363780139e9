import { v7 as uuid } from "uuid";
import { afterAll, beforeAll, describe, expect, it } from "vitest";
import { dayIn, nothingFound, visitOf } from "#core";
import { asFirm, asReader } from "#server/db/connection";
import { defectsOf } from "#server/db/defects";
import { firmOf } from "#server/db/firms";
import { readVisit } from "#server/db/visit-record";
import { roundOn } from "#server/round/day";
import { customerSheet } from "#server/visits/customer-sheet";
import { type Client, clientOf, faultText } from "../client";
import { readAt } from "../visit";
import { openWorld, type World } from "../world";

/** What is broken: found at a visit, asked for at the next, offered, approved by a link, mended. */
let world: World;
let http: Client;
let customer: Client;
beforeAll(async () => {
  world = await openWorld();
  http = world.http;
  customer = clientOf(world.web.address);
});
afterAll(() => world?.close());

const inOurs = <T>(work: Parameters<typeof asFirm<T>>[2]): Promise<T> =>
  asFirm(world.db, world.ours.id, work);
async function begin(): Promise<string> {
  const start = await http.post(`/basins/${world.ours.basinId}`, new URLSearchParams({ id: uuid() }));
  return (start.headers.get("location") ?? "").split("/")[2] ?? "";
}
async function close(visit: string): Promise<void> {
  await http.postJson(`/visits/${visit}/look`, { id: uuid(), ...nothingFound() });
  await readAt(http, visit, { chlorine: 3, ph: [7.4, 7.6], alkalinity: 100 });
  const closed = await http.post(
    `/visits/${visit}/close.data`,
    new URLSearchParams({ id: uuid(), note: "" }),
  );
  expect(closed.status).toBe(202);
}
const tell = (visit: string, given: object) =>
  http.postJson(`/visits/${visit}/defects.data`, { id: uuid(), ...given });
const opened = (visit: string) =>
  inOurs(async (scope) => {
    const record = await readVisit(scope, { id: visit, memberId: world.ours.memberId }, new Date());
    if (!record) throw new Error("no visit");
    return visitOf(record.brought, record.written, new Date());
  });
const all = () => inOurs((scope) => defectsOf(scope, [world.ours.basinId]));
const quote = (defectId: string, amount: unknown, text = "") =>
  http.postJson(`/basins/${world.ours.basinId}/repairs.data`, {
    command: "quote-defect",
    id: uuid(),
    defectId,
    amount,
    text,
  });
async function linkOf(visit: string): Promise<string> {
  const made = await http.postJson(`/visits/${visit}/customer.data`, {
    command: "share-sheet",
    id: uuid(),
    days: 7,
  });
  return `/s/${/"token","([\w-]{20,})"/.exec(await made.text())?.[1] ?? ""}`;
}
const approve = (link: string, quoteId: string, name = "Ines Varrow") =>
  customer.post(`${link}.data`, new URLSearchParams({ quoteId, name }));

describe("something broken", () => {
  let first = "";
  let link = "";

  it("is asked for at every visit and on the Round, until it is mended", async () => {
    first = await begin();
    expect(await faultText(await tell(first, { title: " " }))).toMatch(/what is broken/i);
    const key = uuid();
    for (let twice = 0; twice < 2; twice++)
      expect((await tell(first, { id: key, title: "Gate latch is loose" })).status).toBe(200);
    await tell(first, { title: "Light is dark" });
    expect((await opened(first)).defects.map(({ title }) => title)).toEqual([
      "Gate latch is loose",
      "Light is dark",
    ]);
    await close(first);
    const second = await begin();
    const here = await opened(second);
    expect(here.defects).toHaveLength(2);
    const light = here.defects.find(({ title }) => title.startsWith("Light"))?.id;
    expect((await tell(second, { defectId: light, mended: true })).status).toBe(200);
    expect((await opened(second)).defects.find(({ id }) => id === light)?.mended).toBe(true);
    await close(second);
    expect((await all()).map(({ title, state }) => [title, state])).toEqual([
      ["Gate latch is loose", "seen"],
      ["Light is dark", "mended"],
    ]);
    const third = await begin();
    expect((await opened(third)).defects.map(({ title }) => title)).toEqual(["Gate latch is loose"]);
    await close(third);
    const call = await inOurs(async (scope) => {
      const firm = await firmOf(scope);
      const { calls } = await roundOn(scope, firm, dayIn(new Date(), firm.timeZone), new Date());
      return calls.find(({ basin }) => basin.id === world.ours.basinId);
    });
    expect(call?.repairs).toEqual([{ title: "Gate latch is loose", state: "seen" }]);
  });

  it("is offered for an amount, and approved by the sheet's link, by name", async () => {
    const [gate] = await all();
    expect(await faultText(await quote(gate?.id ?? "", -5))).toMatch(/amount.*0/i);
    expect(await faultText(await quote(gate?.id ?? "", "much"))).toMatch(/amount/i);
    expect((await quote(gate?.id ?? "", 80, "New latch, half an hour")).status).toBe(200);
    link = await linkOf(first);
    const page = await (await customer.get(link)).text();
    expect(page).toContain("New latch, half an hour");
    const [quoted] = await all();
    expect(quoted).toMatchObject({ state: "quoted", quote: { amount: 80, version: 1 } });
    expect(await faultText(await approve(link, quoted?.quote?.id ?? "", " "))).toMatch(/your name/i);
    expect((await approve(link, quoted?.quote?.id ?? "")).status).toBe(200);
    expect((await all())[0]).toMatchObject({ state: "approved", quote: { approvedBy: "Ines Varrow" } });
    // A second tap, by somebody else, changes nothing.
    await approve(link, quoted?.quote?.id ?? "", "Another");
    expect((await all())[0]?.quote?.approvedBy).toBe("Ines Varrow");
    const sheet = await inOurs((scope) => customerSheet(scope, first));
    expect(sheet?.repairs).toMatchObject([{ title: "Gate latch is loose", quote: { amount: 80 } }]);
  });

  it("is not approved for another amount than the one that was read", async () => {
    const old = (await all())[0]?.quote?.id ?? "";
    await quote((await all())[0]?.id ?? "", 120);
    expect((await all())[0]).toMatchObject({ state: "quoted", quote: { version: 2, approvedBy: null } });
    expect(await faultText(await approve(link, old))).toMatch(/changed.*120/);
    expect((await all())[0]?.state).toBe("quoted");
    expect((await approve(link, (await all())[0]?.quote?.id ?? "")).status).toBe(200);
    expect((await all())[0]?.state).toBe("approved");
  });

  it("is approved only by a link to its own basin, and not once it is mended or left", async () => {
    const other = await begin();
    await tell(other, { title: "Cover is torn" });
    await close(other);
    const torn = (await all()).find(({ title }) => title === "Cover is torn");
    await quote(torn?.id ?? "", 300);
    const id = (await all()).find(({ title }) => title === "Cover is torn")?.quote?.id ?? "";
    expect((await approve(`/s/${"y".repeat(43)}`, id)).status).toBe(404);
    expect(await faultText(await approve(link, uuid()))).toMatch(/quote/i);
    const dropped = { command: "drop-defect", defectId: torn?.id, why: "", dropped: true };
    const repairs = `/basins/${world.ours.basinId}/repairs.data`;
    expect(await faultText(await http.postJson(repairs, dropped))).toMatch(/reason|why/i);
    expect((await http.postJson(repairs, { ...dropped, why: "A new one is on its way" })).status).toBe(200);
    expect(await faultText(await approve(link, id))).toMatch(/quote/i);
    expect(await faultText(await quote(torn?.id ?? "", 10))).not.toBe("");
    expect((await all()).find(({ title }) => title === "Cover is torn")?.state).toBe("dropped");
  });

  it("is another firm's neither to see nor to offer, and a reader's to read at their own site", async () => {
    const theirs = await world.as(world.theirs.ownerEmail);
    const gate = (await all())[0];
    const foreign = await theirs.postJson(`/basins/${world.theirs.basinId}/repairs.data`, {
      command: "quote-defect",
      id: uuid(),
      defectId: gate?.id,
      amount: 1,
      text: "",
    });
    expect(foreign.status).toBe(404);
    expect((await theirs.get(`/basins/${world.ours.basinId}/repairs`)).status).toBe(404);
    const seen = await asReader(world.db, world.ours.id, uuid(), (scope) =>
      defectsOf(scope, [world.ours.basinId]),
    );
    expect(seen).toEqual([]);
  });
});

describe("two offers for one thing", () => {
  it("are two versions where they are made in the same moment; one key is one offer", async () => {
    const visit = await begin();
    expect((await tell(visit, { title: "Cracked lid" })).status).toBeLessThan(300);
    const defect = (await all()).find(({ title }) => title === "Cracked lid")?.id ?? "";
    const answers = await Promise.all([40, 50, 60, 70].map((amount) => quote(defect, amount)));
    expect(answers.map(({ status }) => status)).toEqual([200, 200, 200, 200]);
    const versions = await inOurs((scope) =>
      scope
        .selectFrom("quote")
        .select("version")
        .where("defect_id", "=", defect)
        .orderBy("version")
        .execute(),
    );
    expect(versions.map(({ version }) => version)).toEqual([1, 2, 3, 4]);
    const sent = { command: "quote-defect", id: uuid(), defectId: defect, amount: 80, text: "" };
    const send = (body: object) => http.postJson(`/basins/${world.ours.basinId}/repairs.data`, body);
    expect((await send(sent)).status).toBe(200);
    expect((await send(sent)).status).toBe(200);
    // The same key with another amount is another offer, and is told so.
    expect((await send({ ...sent, amount: 90 })).status).toBe(409);
    expect((await all()).find(({ id }) => id === defect)?.quote).toMatchObject({ version: 5, amount: 80 });
    await close(visit);
  });
});
