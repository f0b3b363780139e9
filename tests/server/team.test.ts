import { sql } from "kysely";
import { v7 as uuid } from "uuid";
import { afterAll, beforeAll, describe, expect, it } from "vitest";
import { asFirm, asReader } from "#server/db/connection";
import { type Client, clientOf, dataOf, faultText } from "../client";
import { PASSWORD } from "../firm";
import { visitWith } from "../visit";
import { openWorld, type World } from "../world";

/** Who may do what: every address for every role, links that open one thing, and the walls below. */
let world: World;
let owner: Client;
let reader: Client;
let readerId: string;
let visit: string;
let theirVisit: string;
let siteId: string;

const READER = "reader@ours.example";

beforeAll(async () => {
  world = await openWorld();
  const { db, ours, theirs, http, as, web } = world;
  owner = await as(ours.ownerEmail);
  visit = await visitWith(db, ours, http, { ph: [7.4, 7.6], alkalinity: 60, hardness: 300, chlorine: 3 });
  await http.post(`/visits/${visit}/close`, new URLSearchParams({ note: "Filter rinsed" }));
  const other = await as(theirs.email);
  theirVisit = await visitWith(db, theirs, other, { ph: [7.4, 7.6], chlorine: 3 });
  await other.post(`/visits/${theirVisit}/close`, new URLSearchParams({ note: "SECRET OF THEIRS" }));
  siteId = await asFirm(
    db,
    ours.id,
    async (scope) => (await scope.selectFrom("site").select("id").executeTakeFirstOrThrow()).id,
  );
  const { token } = await invite({ role: "reader", siteIds: [siteId] });
  await clientOf(web.address).post(`/join/${token}`, join(READER));
  reader = await as(READER);
  readerId = await asFirm(
    db,
    ours.id,
    async (scope) =>
      (await scope.selectFrom("member").select("id").where("email", "=", READER).executeTakeFirstOrThrow())
        .id,
  );
});
afterAll(() => world.close());

const invite = async (sent: { role: string; siteIds: string[] }, client = owner) => {
  const answer = await client.postJson("/settings/team.data", {
    command: "invite",
    id: uuid(),
    name: "New One",
    ...sent,
  });
  return { answer, token: (await dataOf<{ data?: { token?: string } }>(answer.clone())).data?.token ?? "" };
};
const join = (email: string, password = PASSWORD) =>
  new URLSearchParams({ name: "New One", email, password });
const changeReader = (change: object) =>
  owner.postJson("/settings/team.data", {
    command: "change-member",
    id: readerId,
    role: "reader",
    siteIds: [siteId],
    disabled: false,
    ...change,
  });

describe("a reader", () => {
  it("shows a reader their own basins and where to go", async () => {
    const { ours } = world;
    const places = (await (await reader.get("/places")).json()) as { id: string }[];
    expect(places.map((place) => place.id)).toEqual([ours.basinId]);
    expect((await reader.get(`/basins/${ours.basinId}/series.data`)).status).toBe(200);
    expect((await reader.get("/")).headers.get("location")).toBe("/basins");
  });
});

describe("a reader's rows", () => {
  it("are those under their sites, whatever is asked, and none can be written", async () => {
    const { db, ours } = world;
    const as = <T>(work: Parameters<typeof asReader<T>>[3]) => asReader(db, ours.id, readerId, work);
    expect(await as((scope) => scope.selectFrom("basin").select("id").execute())).toHaveLength(1);
    await changeReader({ role: "technician", siteIds: [] });
    for (const table of ["site", "basin", "visit", "reading", "finding", "dose"] as const)
      expect(await as((scope) => sql`select * from ${sql.table(table)}`.execute(scope)), table).toMatchObject(
        { rows: [] },
      );
    await changeReader({});
    for (const query of [
      sql`update visit set note = 'x'`,
      sql`insert into task_done select gen_random_uuid(), firm_id, id, ${readerId}, 'shock', now() from basin`,
      sql`delete from finding`,
      sql`select price_per_kg from product`,
      sql`select password_hash from member`,
      sql`select email from member`,
      sql`select * from audit`,
      sql`select * from session`,
      sql`select * from drop_count`,
    ])
      await expect(as((scope) => query.execute(scope))).rejects.toThrow(/permission denied/);
  });
});

describe("an invitation", () => {
  it("is taken up once, by a password that is long enough, which is never sent back", async () => {
    const { web, as, ours } = world;
    const { token } = await invite({ role: "technician", siteIds: [] });
    const nobody = clientOf(web.address);
    expect(await (await nobody.get(`/join/${token}`)).text()).toContain("ours");
    const short = await nobody.post(`/join/${token}`, join("new@ours.example", "tooshort"));
    const said = await short.text();
    expect(short.status).toBe(422);
    expect(said).toMatch(/length is 8. The least allowed is 12/);
    expect(said).not.toContain("tooshort");
    const taken = await nobody.post(`/join/${token}`, join(ours.email));
    expect(taken.status).toBe(422);
    expect((await nobody.post(`/join/${token}`, join("new@ours.example"))).status).toBe(302);
    expect((await nobody.get(`/join/${token}`)).status).toBe(404);
    expect((await nobody.post(`/join/${token}`, join("again@ours.example"))).status).toBe(404);
    expect((await (await as("new@ours.example")).get("/")).status).toBe(200);
  });

  it("opens nothing when it was withdrawn, has expired, or is guessed", async () => {
    const { db, ours, web } = world;
    const nobody = clientOf(web.address);
    const { token } = await invite({ role: "technician", siteIds: [] });
    const late = (await invite({ role: "technician", siteIds: [] })).token;
    await asFirm(db, ours.id, async (scope) => {
      const open = await scope
        .selectFrom("invite")
        .selectAll()
        .where("accepted_at", "is", null)
        .orderBy("made_at")
        .execute();
      await owner.postJson("/settings/team", { command: "withdraw-invitation", id: open.at(-2)?.id });
      await scope
        .updateTable("invite")
        .set({ expires_at: new Date(Date.now() - 1000) })
        .where("id", "=", open.at(-1)?.id ?? "")
        .execute();
    });
    for (const wrong of [token, late, "x".repeat(43)])
      expect((await nobody.get(`/join/${wrong}`)).status).toBe(404);
  });

  it("of a reader names at least one site, ours", async () => {
    expect(await faultText((await invite({ role: "reader", siteIds: [] })).answer)).toMatch(/sites/);
    expect(await faultText((await invite({ role: "reader", siteIds: [uuid()] })).answer)).toMatch(
      /sites.*Choose one of: Site/,
    );
  });
});

describe("a member", () => {
  it("who is shut out is out at once", async () => {
    await changeReader({ disabled: true });
    expect((await reader.get("/basins")).headers.get("location")).toMatch(/^\/sign-in/);
    await changeReader({});
    // What has ended does not revive: they sign in anew.
    expect((await reader.get("/basins")).status).toBe(302);
    reader = await world.as(READER);
    expect((await reader.get("/basins")).status).toBe(200);
  });

  it("is never the last owner to go", async () => {
    const answer = await owner.postJson("/settings/team.data", {
      command: "change-member",
      id: world.ours.ownerId,
      role: "technician",
      siteIds: [],
      disabled: false,
    });
    expect(await faultText(answer)).toMatch(/last owner/);
  });

  it("sees where they are signed in and ends one of them", async () => {
    const { web, ours } = world;
    const other = clientOf(web.address);
    await other.as(ours.ownerEmail);
    const sessions = async () =>
      (
        await dataOf<Record<string, { data: { sessions: { id: string; own: boolean }[] } }>>(
          await owner.get("/settings.data?_routes=routes/settings/route"),
        )
      )["routes/settings/route"]?.data.sessions ?? [];
    const before = await sessions();
    expect(before.filter((one) => one.own)).toHaveLength(1);
    const another = before.find((one) => !one.own);
    // Somebody else's session is not theirs to end.
    await world.http.post(
      "/settings",
      new URLSearchParams({ command: "end-session", id: another?.id ?? "" }),
    );
    expect(await sessions()).toHaveLength(before.length);
    for (const one of before.filter((session) => !session.own))
      await owner.post("/settings", new URLSearchParams({ command: "end-session", id: one.id }));
    expect((await other.get("/")).headers.get("location")).toMatch(/^\/sign-in/);
    expect((await owner.get("/")).status).toBe(200);
  });
});

describe("a sheet for the customer", () => {
  const share = async (days: number) => {
    const answer = await world.http.postJson(`/visits/${visit}/customer.data`, {
      command: "share-sheet",
      id: uuid(),
      days,
    });
    return { answer, token: (await dataOf<{ data?: { token?: string } }>(answer.clone())).data?.token ?? "" };
  };
  const shares = () =>
    asFirm(world.db, world.ours.id, (scope) =>
      scope.selectFrom("share").selectAll().orderBy("made_at", "desc").execute(),
    );

  it("is one page of plain words and a PDF", async () => {
    const page = await (await world.http.get(`/visits/${visit}/customer`)).text();
    for (const said of [
      "Total alkalinity",
      "60 ppm",
      "80 to 120",
      "Filter rinsed",
      // Alkalinity alone was read: that says nothing of bathing.
      "Not tested: do not use the water.",
      "Open the cover only while an adult watches the water.",
      "Next visit",
    ])
      expect(page).toContain(said);
    const pdf = await world.http.get(`/visits/${visit}/customer.pdf`);
    expect(pdf.headers.get("content-type")).toBe("application/pdf");
    const bytes = Buffer.from(await pdf.arrayBuffer());
    expect(bytes.subarray(0, 5).toString()).toBe("%PDF-");
    expect(bytes.toString("latin1").match(/\/Type \/Page\b/g)).toHaveLength(1);
    expect(bytes.toString("latin1")).toMatch(/FontFile/);
  });

  it("opens by its link to anybody, and by no other", async () => {
    const { token } = await share(30);
    const nobody = clientOf(world.web.address);
    const answer = await nobody.get(`/s/${token}`);
    expect(answer.headers.get("referrer-policy")).toBe("same-origin");
    // The page, its file, its data, and what a wrong one is answered with.
    for (const path of [`/s/${token}`, `/s/${token}/sheet.pdf`, `/s/${token}.data`, "/s/wrong"])
      expect((await nobody.get(path)).headers.get("x-robots-tag"), path).toMatch(/noindex/);
    const page = await answer.text();
    expect(page).toMatch(/<meta name="robots" content="noindex/);
    expect(page).toContain("60 ppm");
    // Nothing of the firm's own: ids, prices, other visits.
    expect(page).not.toContain(world.ours.basinId);
    expect((await nobody.get(`/s/${token}/sheet.pdf`)).headers.get("content-type")).toBe("application/pdf");
    const [row] = await shares();
    expect(row?.token_hash.toString("base64url")).not.toBe(token);
    const flipped = `${token.slice(0, -1)}${token.endsWith("A") ? "E" : "A"}`;
    for (const wrong of [flipped, token.toLowerCase(), row?.id, "x"])
      expect((await nobody.get(`/s/${wrong}`)).status).toBe(404);
  });

  it("opens no longer once the link is withdrawn or past its day", async () => {
    const nobody = clientOf(world.web.address);
    const { token } = await share(7);
    const [row] = await shares();
    await world.http.postJson(`/visits/${visit}/customer`, { command: "withdraw-share", id: row?.id });
    expect((await nobody.get(`/s/${token}`)).status).toBe(404);
    const late = (await share(7)).token;
    const [second] = await shares();
    await asFirm(world.db, world.ours.id, (scope) =>
      scope
        .updateTable("share")
        .set({ expires_at: new Date(Date.now() - 1000) })
        .where("id", "=", second?.id ?? "")
        .execute(),
    );
    expect((await nobody.get(`/s/${late}`)).status).toBe(404);
    expect(await faultText((await share(3000)).answer)).toMatch(/Choose one of: 7, 30, 365/);
  });

  it("brakes whoever guesses", async () => {
    const nobody = clientOf(world.web.address);
    const answers: number[] = [];
    for (let guess = 0; guess < 40; guess++) answers.push((await nobody.get(`/s/guess-${guess}`)).status);
    expect(answers.at(-1)).toBe(429);
  });
});

describe("who did what", () => {
  it("stands in a list that nobody can change", async () => {
    const page = await (await owner.get("/settings/audit")).text();
    for (const said of ["Invited New One", "Blocked New One", "Shared a visit sheet"])
      expect(page).toContain(said);
    for (const query of [sql`update audit set action = 'member-joined'`, sql`delete from audit`])
      await expect(asFirm(world.db, world.ours.id, (scope) => query.execute(scope))).rejects.toThrow(
        /permission denied/,
      );
  });
});
