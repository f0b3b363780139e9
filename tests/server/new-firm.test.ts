import { execFile } from "node:child_process";
import { v7 as uuid } from "uuid";
import { afterAll, beforeAll, describe, expect, it } from "vitest";
import { type Client, clientOf, dataOf, faultText } from "../client";
import { visitWith } from "../visit";
import { openWorld, type World } from "../world";

/** A firm from nothing: made by its command, its first basin added, its first visit made. */
let world: World;
beforeAll(async () => {
  world = await openWorld();
});
afterAll(() => world.close());

const make = (...args: string[]) =>
  new Promise<{ code: unknown; stdout: string; stderr: string }>((done) => {
    const env = { ...process.env, DATABASE_URL: world.url };
    execFile("node_modules/.bin/tsx", ["scripts/new-firm.ts", ...args], { env }, (fault, stdout, stderr) =>
      done({ code: fault ? fault.code : 0, stdout, stderr }),
    );
  });

describe("a new firm", () => {
  let owner: Client;
  interface Choices {
    sites: { id: string }[];
    kits: { id: string; name: string }[];
    sets: { id: string; name: string }[];
  }
  const choices = async (): Promise<Choices> => {
    const loaded = await dataOf<Record<string, { data: Choices }>>(
      await owner.get("/basins/new.data?_routes=routes/basins/new"),
    );
    const data = loaded["routes/basins/new"]?.data;
    if (!data) throw new Error("no choices");
    return data;
  };

  it("is made with an owner whose password is shown once", async () => {
    const made = await make("Brook Pools", "Ida Brook", "ida@brook.example", "Europe/Oslo", "metric");
    expect(made.stderr).toBe("");
    const password = /with (\S+)$/m.exec(made.stdout)?.[1] ?? "";
    expect(password.length).toBeGreaterThanOrEqual(16);
    const answer = await clientOf(world.web.address).post(
      "/sign-in",
      new URLSearchParams({ email: "ida@brook.example", password }),
    );
    const cookie = (answer.headers.get("set-cookie") ?? "").split(";")[0] ?? "";
    const http = clientOf(world.web.address);
    owner = {
      ...http,
      get: (path, headers = {}) => http.get(path, { Cookie: cookie, ...headers }),
      postJson: (path, body, headers = {}) => http.postJson(path, body, { Cookie: cookie, ...headers }),
    };
    // Empty screens teach.
    expect(await (await owner.get("/")).text()).toContain("The first hour");
    expect(await (await owner.get("/basins")).text()).toContain("The first hour");
    expect(await (await owner.get("/book")).text()).not.toContain("Fennmoor");
  });

  it("is refused for an address that is taken, a zone that is none, and a word too few", async () => {
    expect((await make("Brook Pools", "Ida", "ida@brook.example")).stderr).toMatch(/belongs to somebody/);
    expect((await make("Brook Pools", "Ida", "other@brook.example", "Moon/Sea")).stderr).toMatch(
      /no time zone Moon\/Sea/,
    );
    expect((await make("Brook Pools")).code).toBe(2);
  });

  it("adds its first basin at a new site, once, and finds it where it looks", async () => {
    const { kits, sets, sites } = await choices();
    expect(sites).toEqual([]);
    expect(kits.map((kit) => kit.name)).toContain("Full titration kit");
    expect(sets).toHaveLength(5);
    const sent = {
      id: uuid(),
      siteId: uuid(),
      newSite: { name: "Mill House", street: "1 Brook Lane", district: "", contact: "" },
      name: "Garden pool",
      kind: "pool",
      surface: "vinyl",
      litres: 42_000,
      indoors: false,
      isPublic: false,
      kitId: kits[0]?.id,
      rangeSetId: sets[0]?.id,
    };
    const add = (change: object) => owner.postJson("/basins/new.data", { ...sent, ...change });
    expect(await faultText(await add({ litres: "some" }))).toMatch(/volume is "some". Enter a number/i);
    expect(await faultText(await add({ litres: 5 }))).toMatch(/least allowed is 20/);
    expect(await faultText(await add({ kitId: world.ours.kitId }))).toMatch(/kit/);
    expect(await faultText(await add({ newSite: null }))).toMatch(/site/i);
    expect(await (await owner.get("/basins")).text()).not.toContain("Garden pool");
    for (let time = 0; time < 2; time++) expect((await add({})).status).toBeLessThan(400);
    const list = await (await owner.get("/basins")).text();
    expect(list.match(/Garden pool/g)?.length).toBeGreaterThan(0);
    expect((await choices()).sites).toHaveLength(1);
    expect(await (await owner.get(`/basins/${sent.id}`)).text()).toContain("42,000 L");
    // Nobody else's.
    expect((await world.http.get(`/basins/${sent.id}`)).status).toBe(404);
  });
});

describe("a firm that was there", () => {
  it("goes on as before", async () => {
    const { db, ours, http } = world;
    const visit = await visitWith(db, ours, http, { ph: [7.4, 7.6], chlorine: 3 });
    expect((await http.get(`/visits/${visit}/judge`)).status).toBe(200);
  });
});
