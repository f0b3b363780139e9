import { parse } from "devalue";
import { v7 as uuid } from "uuid";
import { afterAll, beforeAll, describe, expect, it } from "vitest";
import { asFirm, type Database } from "#server/db/connection";
import { type Client, countAfter, faultText, postCount } from "../client";
import { type Firm, PASSWORD } from "../firm";
import { openWorld, type World } from "../world";

/** The production build, asked over HTTP as a browser would, and as one that means ill. */
let db: Database;
let close: () => Promise<void>;
let ours: Firm;
let theirs: Firm;
let web: World["web"];
let http: Client;

beforeAll(async () => {
  ({ db, ours, theirs, web, http, close } = await openWorld());
});
afterAll(() => close());

const post: Client["post"] = (...call) => http.post(...call);
const postJson: Client["postJson"] = (...call) => http.postJson(...call);
const get: Client["get"] = (...call) => http.get(...call);
const signedIn: Client["signedIn"] = (email) => http.signedIn(email);

/** A visit of its own: one that an earlier test left open is closed first. */
async function startVisit(): Promise<string> {
  await asFirm(db, ours.id, (scope) =>
    scope.updateTable("visit").set({ finished_at: new Date() }).where("finished_at", "is", null).execute(),
  );
  const answer = await post(`/basins/${ours.basinId}`, new URLSearchParams({ id: uuid() }));
  return (answer.headers.get("location") ?? "").split("/")[2] ?? "";
}

const readings = (visitId: string) =>
  asFirm(db, ours.id, (scope) =>
    scope.selectFrom("reading").selectAll().where("visit_id", "=", visitId).execute(),
  );
const drops = (count: number, sample = 25, id = uuid()) => ({
  id,
  methodId: "free-chlorine-fas-dpd",
  seen: { kind: "drops", count, sample },
});

describe("signing in", () => {
  it("says the same to a wrong address and a wrong password", async () => {
    const wrong = async (email: string, password: string) => {
      const answer = await post("/sign-in", new URLSearchParams({ email, password }), { Cookie: "" });
      const said = (await answer.text()).match(/role="alert"[^>]*>([^<]+)/)?.[1];
      return { status: answer.status, said, cookie: answer.headers.get("set-cookie") };
    };
    const unknown = await wrong("nobody@ours.example", PASSWORD);
    expect(unknown).toEqual(await wrong(ours.email, "not this one"));
    expect(unknown).toMatchObject({ status: 401, cookie: null });
    expect(unknown.said).toMatch(/do not match/);
  });

  it("gives a cookie that scripts and other sites do not get", async () => {
    const answer = await post(
      "/sign-in",
      new URLSearchParams({ email: ours.email.toUpperCase(), password: PASSWORD }),
      { Cookie: "" },
    );
    expect(answer.status).toBe(302);
    expect(answer.headers.get("set-cookie")).toMatch(/HttpOnly; SameSite=Lax/);
  });

  it("goes only to pages of its own afterwards", async () => {
    for (const [to, where] of [
      ["/basins", "/basins"],
      ["//elsewhere.example", "/"],
      ["https://elsewhere.example", "/"],
      ["/\\elsewhere", "/"],
    ]) {
      const answer = await post(
        `/sign-in?to=${encodeURIComponent(to ?? "")}`,
        new URLSearchParams({ email: ours.email, password: PASSWORD }),
        { Cookie: "" },
      );
      expect(answer.headers.get("location")).toBe(where);
    }
  });

  it("slows a guesser down, and does not lock out the others", async () => {
    let last = 0;
    for (let tries = 0; tries < 10; tries++)
      last = (
        await post("/sign-in", new URLSearchParams({ email: "owner@theirs.example", password: "guess" }), {
          Cookie: "",
        })
      ).status;
    expect(last).toBe(429);
    expect(await signedIn(theirs.email)).toMatch(/pelagon_session/);
  });

  it("ends when signed out, on the server too", async () => {
    const mine = await signedIn(ours.email);
    expect((await get("/", { Cookie: mine })).status).toBe(200);
    await post("/sign-out", new URLSearchParams(), { Cookie: mine });
    expect((await get("/", { Cookie: mine })).headers.get("location")).toBe("/sign-in");
    expect((await get("/basins", { Cookie: "pelagon_session=forged" })).headers.get("location")).toBe(
      "/sign-in?to=%2Fbasins",
    );
  });

  it("does not show demo credentials without demo data", async () => {
    expect(await (await get("/sign-in", { Cookie: "" })).text()).not.toContain("orrin-vale-demo");
  });
});

describe("every answer", () => {
  it("carries the usual headers and a policy with a fresh nonce", async () => {
    const [one, two] = [await get("/"), await get("/")];
    const policy = one.headers.get("content-security-policy") ?? "";
    expect(policy).toMatch(/default-src 'none'/);
    // The solver is WebAssembly of our own; nothing else is let through beside the nonce.
    expect(policy).toMatch(/script-src 'self' 'nonce-[\w-]{20,}' 'wasm-unsafe-eval';/);
    expect(policy).toMatch(/frame-ancestors 'none'/);
    expect(policy).not.toMatch(/script-src[^;]*'unsafe-/);
    expect(policy).not.toBe(two.headers.get("content-security-policy"));
    expect(one.headers.get("x-content-type-options")).toBe("nosniff");
    expect(one.headers.get("x-powered-by")).toBeNull();
    const page = await one.text();
    const scripts = page.match(/<script\b[^>]*>/g) ?? [];
    expect(scripts.length).toBeGreaterThan(0);
    for (const script of scripts) expect(script).toMatch(/nonce="|src="/);
  });
});

describe("a write", () => {
  it("without our Origin is refused", async () => {
    const visit = await startVisit();
    for (const origin of ["", "http://elsewhere.example", "null"]) {
      const answer = await postJson(`/visits/${visit}/freeChlorine`, drops(5), { Origin: origin });
      expect(answer.status).toBe(403);
    }
    expect(await readings(visit)).toEqual([]);
  });

  it("over the limit is refused before it is read", async () => {
    const visit = await startVisit();
    const answer = await post(`/visits/${visit}/close`, new URLSearchParams({ note: "x".repeat(2_000_000) }));
    expect(answer.status).toBe(413);
    expect(await answer.text()).toMatch(/at most 1000000/);
    const long = await post(`/visits/${visit}/close`, new URLSearchParams({ note: "y".repeat(4001) }));
    expect(long.status).toBe(422);
    expect(await long.text()).toMatch(/The note is too long. Use at most 4,000/);
  });

  it("sent twice counts once", async () => {
    const id = uuid();
    const twice = [1, 2].map(() => post(`/basins/${ours.basinId}`, new URLSearchParams({ id })));
    const [first, second] = await Promise.all(twice);
    expect(first?.headers.get("location")).toBe(second?.headers.get("location"));
    const visit = (first?.headers.get("location") ?? "").split("/")[2] ?? "";
    const same = drops(9);
    const answers = await Promise.all([1, 2, 3].map(() => postJson(`/visits/${visit}/freeChlorine`, same)));
    for (const answer of answers) expect(answer.status).toBe(302);
    expect(await readings(visit)).toMatchObject([{ id: same.id, value: 1.8, superseded_at: null }]);
  });

  it("again with a new key corrects, and the old one stays in the trail", async () => {
    const visit = await startVisit();
    const first = drops(9);
    await postJson(`/visits/${visit}/freeChlorine`, first);
    await postJson(`/visits/${visit}/freeChlorine`, drops(11));
    const kept = (await readings(visit)).filter((row) => row.quantity === "freeChlorine");
    const standing = kept.filter((row) => row.superseded_at === null);
    expect(standing).toMatchObject([{ value: 2.2 }]);
    expect(kept.find((row) => row.id === first.id)?.superseded_at).not.toBeNull();
    expect(standing[0]?.supersedes).toBe(first.id);
  });
});

describe("bad input", () => {
  const ph = (place: object) => ({ id: uuid(), methodId: "ph-phenol-red", seen: { kind: "place", place } });
  it.each([
    ["a negative count", "freeChlorine", drops(-3), /The count is -3. The least allowed is 0/],
    [
      "a thousand million drops",
      "freeChlorine",
      drops(1e9),
      /The count is 1000000000. The most allowed is 500/,
    ],
    ["a sample of nothing", "freeChlorine", drops(5, 0), /The sample size is 0. Choose one of: 25, 10/],
    ["half a drop", "freeChlorine", drops(2.5), /Enter a whole number/],
    ["nothing at all", "freeChlorine", "", /cannot be read/],
    ["broken JSON", "freeChlorine", "{", /cannot be read/],
    ["a colour that is not on the scale", "ph", ph({ from: 15, to: 15 }), /15. Choose one of: 6\.8/],
    [
      "400 °F",
      "temperature",
      { id: uuid(), methodId: "temperature-meter", seen: { kind: "number", value: 204.4 } },
      /Temperature is 204\.4 °C. The most allowed is 60 °C/,
    ],
    [
      "not a number",
      "temperature",
      { id: uuid(), methodId: "temperature-meter", seen: { kind: "number", value: null } },
      /Enter a number/,
    ],
    ["an unknown test", "ph", { ...ph({ from: 7.4, to: 7.4 }), methodId: "guess" }, /The test is guess/],
    ["a key that is none", "freeChlorine", { ...drops(3), id: "1" }, /The key/],
  ])("%s is told by name, value and limit", async (_, station, body, said) => {
    const visit = await startVisit();
    const answer = await postJson(`/visits/${visit}/${station}`, body);
    expect(answer.status).toBe(422);
    const again = await postJson(`/visits/${visit}/${station}.data`, body);
    expect(await faultText(again)).toMatch(said);
  });

  it("a total chlorine under the free is refused", async () => {
    const visit = await startVisit();
    await postJson(`/visits/${visit}/freeChlorine`, drops(15));
    const answer = await postJson(`/visits/${visit}/combinedChlorine.data`, {
      id: uuid(),
      methodId: "total-chlorine-dpd",
      seen: { kind: "place", place: { from: 1, to: 1 } },
    });
    expect(await faultText(answer)).toMatch(/Total chlorine 1 is less than free chlorine 3/);
    const fine = await postJson(`/visits/${visit}/combinedChlorine`, {
      id: uuid(),
      methodId: "total-chlorine-dpd",
      seen: { kind: "place", place: { from: 3, to: 5 } },
    });
    expect(fine.status).toBe(302);
    expect(
      (await readings(visit)).find((row) => row.quantity === "combinedChlorine" && !row.superseded_at),
    ).toMatchObject({ value: 1, low: 0, high: 2.2 });
  });

  it("another firm's basin or visit is not there", async () => {
    expect((await get(`/basins/${theirs.basinId}`)).status).toBe(404);
    expect((await get("/basins/not-an-id")).status).toBe(404);
    expect((await post(`/basins/${theirs.basinId}`, new URLSearchParams({ id: uuid() }))).status).toBe(404);
    await http.as(theirs.email);
    const foreign = (
      (await post(`/basins/${theirs.basinId}`, new URLSearchParams({ id: uuid() }))).headers.get(
        "location",
      ) ?? ""
    ).split("/")[2];
    await http.as(ours.email);
    expect((await get(`/visits/${foreign}/freeChlorine`)).status).toBe(404);
    const counted = await postCount(http, foreign ?? "", { drops: 1, sequence: 1 });
    expect(parse(await counted.text())).toMatchObject({
      results: [{ fault: { code: "not-there", field: "visit" } }],
      counts: [],
      visits: [],
    });
    expect(await faultText(await postJson(`/visits/${foreign}/freeChlorine.data`, drops(3)))).toMatch(
      /not known here/,
    );
  });

  it("only an owner changes the firm's units", async () => {
    expect(
      (await post("/settings", new URLSearchParams({ command: "set-units", units: "metric" }))).status,
    ).toBe(403);
    const owner = await signedIn(ours.ownerEmail);
    expect(
      (
        await post("/settings", new URLSearchParams({ command: "set-units", units: "cubits" }), {
          Cookie: owner,
        })
      ).status,
    ).toBe(422);
    expect(
      (
        await post("/settings", new URLSearchParams({ command: "set-units", units: "metric" }), {
          Cookie: owner,
        })
      ).status,
    ).toBe(200);
    expect(await (await get(`/basins/${ours.basinId}`)).text()).toContain("10,000 L");
    await post("/settings", new URLSearchParams({ command: "set-units", units: "us" }), { Cookie: owner });
    expect(await (await get(`/basins/${ours.basinId}`)).text()).toContain("2,640 gal");
  });
});

describe("a count under way", () => {
  it("keeps the later of two copies, whichever comes last", async () => {
    const visit = await startVisit();
    const send = (drops: number, sequence: number) => countAfter(http, visit, { drops, sequence });
    expect(await send(4, 4)).toMatchObject({ drops: 4, sequence: 4 });
    expect(await send(7, 7)).toMatchObject({ drops: 7 });
    expect(await send(5, 5)).toMatchObject({ drops: 7, sequence: 7 });
    expect(await send(6, 8)).toMatchObject({ drops: 6, sequence: 8 });
  });
});

describe("a visit", () => {
  it("is judged, dosed, closed, and stands in the book after a restart", async () => {
    const visit = await startVisit();
    await postJson(`/visits/${visit}/freeChlorine`, drops(2));
    await postJson(`/visits/${visit}/totalAlkalinity`, {
      id: uuid(),
      methodId: "total-alkalinity",
      seen: { kind: "drops", count: 6, sample: 25 },
    });
    const products = await asFirm(db, ours.id, (scope) => scope.selectFrom("product").selectAll().execute());
    const soda = products.find((product) => product.compound === "sodium-bicarbonate");
    const dose = { id: uuid(), code: "totalAlkalinity.low", productId: soda?.id ?? "", givenGrams: 600 };
    expect((await postJson(`/visits/${visit}/dose`, dose)).status).toBe(200);
    expect((await postJson(`/visits/${visit}/dose`, dose)).status).toBe(200);
    expect(
      await faultText(await postJson(`/visits/${visit}/dose.data`, { ...dose, id: uuid(), givenGrams: -1 })),
    ).toMatch(/The amount given is -1. The least allowed is 0/);
    const closing = await post(
      `/visits/${visit}/close`,
      new URLSearchParams({ note: "Leaves in the skimmer." }),
    );
    expect(closing.headers.get("location")).toBe(`/visits/${visit}`);
    await web.stop();
    await web.start();
    const page = await (await get(`/basins/${ours.basinId}`)).text();
    expect(page).toContain("Leaves in the skimmer.");
    const stored = await asFirm(db, ours.id, (scope) =>
      scope.selectFrom("dose").selectAll().where("visit_id", "=", visit).execute(),
    );
    // 60 → 100 ppm in 10 000 L: 40 / 50.04 eq/m³ × 10 m³ × 84.007 / 0.99 = 678 g
    expect(stored).toHaveLength(1);
    expect(stored[0]?.planned_grams).toBeCloseTo(678.3, 0);
    expect(stored[0]?.given_grams).toBe(600);
    const found = await asFirm(db, ours.id, (scope) =>
      scope.selectFrom("finding").select("code").where("visit_id", "=", visit).orderBy("position").execute(),
    );
    expect(found.map((row) => row.code)).toEqual(["freeChlorine.low", "totalAlkalinity.low"]);
    expect(await faultText(await postJson(`/visits/${visit}/freeChlorine.data`, drops(3)))).toMatch(
      /already finished/,
    );
  });
});
