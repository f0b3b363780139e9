import { millisecondsInHour } from "date-fns/constants";
import { v7 as uuid } from "uuid";
import { afterAll, beforeAll, describe, expect, it } from "vitest";
import { asFirm } from "#server/db/connection";
import { ADDRESSES, filled } from "../addresses";
import { type Client, clientOf, faultText } from "../client";
import { PASSWORD } from "../firm";
import { openWorld, type World } from "../world";

/** What no page of ours sends: each a clear refusal, none an error of the server. */
let world: World;
let owner: Client;
let visit: string;

beforeAll(async () => {
  world = await openWorld();
  owner = await world.as(world.ours.ownerEmail);
  const start = await world.http.post(`/basins/${world.ours.basinId}`, new URLSearchParams({ id: uuid() }));
  visit = (start.headers.get("location") ?? "").split("/")[2] ?? "";
});
afterAll(() => world.close());

const ids = () => ({
  visitId: visit,
  basinId: world.ours.basinId,
  kitId: world.ours.kitId,
  setId: world.ours.rangeSetId,
  station: "salt",
  file: "export.csv",
});

describe("text that no table can hold", () => {
  it.each([
    ["NUL", "a\0b"],
    ["half a character", "a\ud800b"],
    ["the other half", "\udc00"],
  ])("is refused in every field: %s", async (_, text) => {
    const id = uuid();
    for (const [path, body] of [
      [`/visits/${visit}/look`, { id, see: [], hear: [], smell: [], feel: [], note: text }],
      [`/visits/${visit}/plan`, { stop: text }],
      ["/shelf/trucks", { command: "save-truck", id, name: text, memberId: null }],
      ["/?index", { command: "add-event", id, basinId: world.ours.basinId, day: "2031-03-05", name: text }],
      ["/settings", { command: "set-rates", fillRate: 1500, persulfateDose: 24, seasonStart: text }],
      ["/settings", { command: "set-cadence", cadence: { tests: { ph: text } } }],
      ["/settings/team", { command: "invite", id, name: text, role: "owner", siteIds: [] }],
      [
        "/shelf?index",
        {
          command: "save-bottle",
          id,
          reagent: text,
          measure: "drops",
          full: 7,
          lot: "",
          openedOn: null,
          expiresOn: null,
        },
      ],
    ] as const)
      expect((await owner.postJson(path, body)).status, path).toBe(422);
    for (const [path, fields] of [
      [`/visits/${visit}/close`, { note: text }],
      ["/sign-in", { email: text, password: text }],
    ] as const) {
      const from = path === "/sign-in" ? clientOf(world.web.address) : owner;
      const answer = await from.post(path, new URLSearchParams(fields));
      // A form turns half a character into the sign for an unknown one, which is text.
      expect(text.includes("\0") ? [422] : [302, 401, 422], path).toContain(answer.status);
    }
  });

  it("is refused in an address too", async () => {
    for (const path of [
      "/%00",
      "/basins/%00",
      "/book?q=%00",
      "/?by=%00",
      "/%E0%A4%A",
      "/visits/%",
      "/book?q=%ff%",
    ])
      expect((await owner.get(path)).status, path).toBe(400);
  });
});

describe("a cookie", () => {
  it.each(["%", "%E0%A4%A", "dark%00", "", "x".repeat(3000)])(
    "that cannot be read is none: %s",
    async (value) => {
      const cookie = await owner.signedIn(world.ours.ownerEmail);
      const answer = await owner.get("/settings", { Cookie: `${cookie}; pelagon_theme=${value}` });
      expect(answer.status).toBe(200);
      const nobody = await owner.get("/settings", { Cookie: `pelagon_session=${value}` });
      expect(nobody.status).toBe(302);
    },
  );

  it("is renewed with the session that it names", async () => {
    const cookie = await owner.signedIn(world.ours.ownerEmail);
    expect((await owner.get("/", { Cookie: cookie })).headers.get("set-cookie")).toBeNull();
    await asFirm(world.db, world.ours.id, (scope) =>
      scope
        .updateTable("session")
        .set({ seen_at: new Date(Date.now() - millisecondsInHour) })
        .execute(),
    );
    const answer = await owner.get("/", { Cookie: cookie });
    expect(answer.headers.get("set-cookie")).toMatch(new RegExp(`^${cookie}; .*Max-Age=2592000`));
  });
});

describe("where to go after signing in", () => {
  it.each([
    ["/basins?x=1", "/basins?x=1"],
    ["//evil.example", "/"],
    ["/\\evil.example", "/"],
    ["/\t/evil.example", "/"],
    ["/\n/evil.example", "/"],
    ["/%09/evil.example", "/%09/evil.example"],
    ["/.//evil.example", "/"],
    ["https://evil.example", "/"],
    ["javascript:alert(1)", "/"],
  ])("%j stays here", async (to, goes) => {
    const answer = await clientOf(world.web.address).post(
      `/sign-in?to=${encodeURIComponent(to)}`,
      new URLSearchParams({ email: world.ours.email, password: PASSWORD }),
    );
    expect(answer.headers.get("location")).toBe(goes);
  });
});

describe("a body", () => {
  it("that is none, or of another kind than the field, is refused by name", async () => {
    for (const cadence of ["", "{", "[1]", "7", '{"tests":7}', `${"[".repeat(5000)}`])
      expect(
        (await owner.postJson("/settings", `{"command":"set-cadence","cadence":${cadence}}`)).status,
        cadence.slice(0, 20),
      ).toBe(422);
    expect(
      await faultText(
        await owner.postJson(`/visits/${visit}/salt.data`, {
          id: uuid(),
          methodId: "salt",
          seen: { kind: "drops", count: "many", sample: 10 },
        }),
      ),
    ).toMatch(/The count is "many". Enter a number/);
    const deep = `${'{"a":'.repeat(30)}1${"}".repeat(30)}`;
    expect(await faultText(await owner.postJson(`/visits/${visit}/look.data`, deep))).toMatch(/25.*24/);
  });

  it("of every type is taken nowhere by every address", async () => {
    for (const { pattern, writes } of ADDRESSES.filter((one) => one.writes && one.pattern !== "/sign-out"))
      for (const type of [
        "text/plain",
        "multipart/form-data",
        "application/x-www-form-urlencoded",
        "application/xml",
      ]) {
        const answer = await owner.post(filled(pattern, ids()), "%\0{[", { "Content-Type": type });
        expect(writes && answer.status < 500, `${pattern} ${type} ${answer.status}`).toBe(true);
      }
  });

  it("that asks for a night where no queue is says so, and acknowledges nothing", async () => {
    const asked = await owner.post("/settings/health.data", new URLSearchParams({ run: "expiry" }));
    expect(asked.status).toBe(422);
  });

  it("to an address that takes none is a clear no", async () => {
    for (const { pattern } of ADDRESSES.filter((one) => !one.writes)) {
      const answer = await owner.postJson(filled(pattern, ids()), {});
      expect(answer.status, pattern).toBeGreaterThanOrEqual(400);
      expect(answer.status, pattern).toBeLessThan(500);
    }
    for (const path of ["/", "/.data", "/_root.data", "/nowhere"]) {
      const answer = await owner.postJson(path, {});
      expect(answer.status, path).toBeGreaterThanOrEqual(400);
      expect(answer.status, path).toBeLessThan(500);
    }
    for (const method of ["PUT", "DELETE", "PATCH", "OPTIONS", "TRACE"].filter((one) => one !== "TRACE"))
      expect(
        (await fetch(`${world.web.address}/`, { method, headers: { Origin: world.web.address } })).status,
      ).toBe(405);
  });
});

describe("a value beyond what can be", () => {
  it("in an address is refused or left out", async () => {
    const far = encodeURIComponent("+275760-09-13T00:00:00.000Z");
    for (const path of [
      `/basins/${world.ours.basinId}?before=${far}`,
      `/book?after=${far}_${uuid()}`,
      `/book?from=9999-99-99&to=0000-00-00`,
      `/settings/audit?after=${far}_${uuid()}`,
      "/?day=275760-09-13",
      "/?day=0001-01-01",
      "/?day=9999-12-31",
      `/basins/${world.ours.basinId}/series?days=1e308`,
      `/basins/${world.ours.basinId}/series?days=-1`,
    ])
      expect((await owner.get(path)).status, path).toBeLessThan(500);
  });

  it("as an id of another firm's row is told, not called saved, and breaks nothing", async () => {
    const { theirs, ours, http, db } = world;
    const taken = theirs.basinId;
    const foreign = [
      [
        "/shelf?index",
        {
          command: "save-bottle",
          id: taken,
          reagent: "x",
          measure: "drops",
          full: 7,
          lot: "",
          openedOn: null,
          expiresOn: null,
        },
      ],
      [
        "/?index",
        { command: "add-event", id: uuid(), basinId: theirs.basinId, day: "2031-03-05", name: "x" },
      ],
      ["/?index", { command: "tick-task", id: uuid(), basinId: theirs.basinId, task: "shock" }],
      ["/shelf/trucks", { command: "save-truck", id: uuid(), name: "x", memberId: theirs.memberId }],
      [
        `/visits/${visit}/salt`,
        { id: uuid(), kitId: theirs.kitId, methodId: "salt", seen: { kind: "drops", count: 5, sample: 10 } },
      ],
    ] as const;
    for (const [path, body] of foreign.slice(1)) {
      const { status } = await http.postJson(path, body);
      expect([400, 403, 404, 422], path).toContain(status);
    }
    expect((await http.postJson(foreign[0][0], foreign[0][1])).status).toBeLessThan(500);
    // A row of theirs under a key that is ours to choose: theirs stays as it is.
    const truck = uuid();
    const other = await world.as(theirs.email);
    expect(
      (
        await other.postJson("/shelf/trucks", {
          command: "save-truck",
          id: truck,
          name: "Theirs",
          memberId: null,
        })
      ).status,
    ).toBe(200);
    const clash = await http.postJson("/shelf/trucks", {
      command: "save-truck",
      id: truck,
      name: "Ours",
      memberId: null,
    });
    expect([400, 403, 404, 422]).toContain(clash.status);
    const names = await asFirm(db, theirs.id, (scope) => scope.selectFrom("truck").select("name").execute());
    expect(names).toEqual([{ name: "Theirs" }]);
    expect(await asFirm(db, ours.id, (scope) => scope.selectFrom("truck").select("name").execute())).toEqual(
      [],
    );
  });
});
