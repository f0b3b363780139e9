import { request } from "node:http";
import { createGenerator } from "json-schema-faker";
import { v7 as uuid } from "uuid";
import { afterAll, beforeAll, describe, expect, it } from "vitest";
import { asFirm } from "#server/db/connection";
import { type ApiClient, type ApiOperation, apiClient, described, newToken } from "../api";
import { type Client, clientOf } from "../client";
import { readAt, shownVisit, visitWith } from "../visit";
import { openWorld, type World } from "../world";

/** The interface for programs: what it says of itself, whom it lets in, and that it is the same door as the pages'. */
const SCOPES = ["read-book", "read-plans", "write-visits", "manage"] as const;
const SECRET = "SECRET OF THEIRS";

let world: World;
let owner: Client;
let api: ApiClient;
let told: Awaited<ReturnType<typeof described>>;
let ids: Record<string, string>;

beforeAll(async () => {
  world = await openWorld({ API_REQUESTS: "1000000" });
  owner = await world.as(world.ours.ownerEmail);
  api = apiClient(world.web.address, await newToken(owner, SCOPES));
  told = await described(world.web.address);
  const theirs = await world.as(world.theirs.email);
  const done = await visitWith(world.db, world.theirs, theirs, { chlorine: 3 });
  await theirs.post(`/visits/${done}/close`, new URLSearchParams({ note: SECRET }));
  const { siteId, productId } = await asFirm(world.db, world.ours.id, async (scope) => ({
    siteId: (await scope.selectFrom("site").select("id").executeTakeFirstOrThrow()).id,
    productId: (await scope.selectFrom("product").select("id").executeTakeFirstOrThrow()).id,
  }));
  const visitId = await visitWith(world.db, world.ours, world.http, { chlorine: 3, ph: [7.4, 7.6] });
  const { basinId, kitId, rangeSetId, memberId } = world.ours;
  ids = { basinId, kitId, rangeSetId, memberId, siteId, productId, visitId, theirVisit: done };
}, 120_000);
afterAll(() => world.close());

const json = async <T>(answer: Response): Promise<T> => (await answer.json()) as T;
interface Problem {
  status: number;
  code: string;
  field: string | null;
  value: string | null;
  limit: unknown;
  detail?: string;
}

const filled = (path: string, own: Record<string, string> = {}): string =>
  path.replace(/\{(\w+)\}/g, (_, name: string) => own[name] ?? ids[name] ?? uuid());
const ask = (
  client: ApiClient,
  { method, path }: Pick<ApiOperation, "method" | "path">,
  body: unknown = {},
) => (method === "GET" ? client.get(filled(path)) : client.post(filled(path), body));

describe("a token", () => {
  it("does what its scopes say, and nothing of another", async () => {
    for (const scope of SCOPES) {
      const client = apiClient(world.web.address, await newToken(owner, [scope], scope));
      for (const operation of told.operations) {
        const answer = await ask(client, operation);
        const place = `${scope} at ${operation.operationId}`;
        if (operation.scope === scope) expect(answer.status, place).not.toBe(403);
        else expect(answer.status, place).toBe(403);
        expect(await told.faultOf(operation, answer), place).toBeNull();
      }
    }
  });

  it("is kept as its hash, told once, and opens nothing once it is withdrawn or its maker is no owner", async () => {
    const token = await newToken(owner, ["read-book"], "Short-lived");
    const client = apiClient(world.web.address, token);
    expect((await client.get("/firm")).status).toBe(200);
    const rows = await asFirm(world.db, world.ours.id, (scope) =>
      scope.selectFrom("api_token").selectAll().where("name", "=", "Short-lived").execute(),
    );
    expect(JSON.stringify(rows)).not.toContain(token);
    expect(rows[0]?.used_at).not.toBeNull();
    const page = await (await owner.get("/settings/api")).text();
    expect(page).toContain("Short-lived");
    expect(page).not.toContain(token);
    await owner.postJson("/settings/api.data", { command: "withdraw-api-token", id: rows[0]?.id });
    expect((await client.get("/firm")).status).toBe(401);
    const second = uuid();
    await asFirm(world.db, world.ours.id, async (scope) => {
      const hash = await scope
        .selectFrom("member")
        .select("password_hash")
        .where("id", "=", world.ours.ownerId)
        .executeTakeFirstOrThrow();
      await scope
        .insertInto("member")
        .values({
          id: second,
          firm_id: world.ours.id,
          email: "second@ours.example",
          name: "Second",
          role: "owner",
          ...hash,
        })
        .execute();
    });
    const theirOwn = apiClient(
      world.web.address,
      await newToken(await world.as("second@ours.example"), ["read-book"], "Of the second"),
    );
    expect((await theirOwn.get("/firm")).status).toBe(200);
    await owner.postJson("/settings/team.data", {
      command: "change-member",
      id: second,
      role: "technician",
      disabled: false,
      siteIds: [],
    });
    expect((await theirOwn.get("/firm")).status).toBe(401);
  });

  it("is asked for: a cookie, none, or a made-up one opens nothing", async () => {
    const none = await fetch(`${world.web.address}/api/v1/firm`);
    expect([none.status, none.headers.get("www-authenticate")]).toEqual([401, "Bearer"]);
    expect((await owner.get("/api/v1/firm")).status).toBe(401);
    expect((await apiClient(world.web.address, "x".repeat(43)).get("/firm")).status).toBe(401);
    expect((await clientOf(world.web.address).postJson("/api/v1/visits", {})).status).toBe(401);
  });

  it("opens no way around it: an address that only begins like the interface's is a page's, and wants its origin", async () => {
    const { hostname, port } = new URL(world.web.address);
    for (const path of ["/api/v1/../../settings/api", "/api/v1/%2e%2e/%2e%2e/settings/api"]) {
      const status = await new Promise((done, fail) => {
        const headers = { "Content-Type": "application/json", Origin: "http://elsewhere.example" };
        const asked = request({ hostname, port, path, method: "POST", headers }, (answer) => {
          answer.resume();
          done(answer.statusCode);
        });
        asked.on("error", fail);
        asked.end("{}");
      });
      expect(status, path).toBe(403);
    }
  });

  it("is counted by the minute, and told how much is left", async () => {
    const narrow = await openWorld({ API_REQUESTS: "3" });
    try {
      const token = await newToken(await narrow.as(narrow.ours.ownerEmail), ["read-book"]);
      const client = apiClient(narrow.web.address, token);
      const left = [];
      for (let turn = 0; turn < 3; turn++) {
        const answer = await client.get("/firm");
        left.push([answer.status, answer.headers.get("ratelimit-remaining")]);
      }
      expect(left).toEqual([
        [200, "2"],
        [200, "1"],
        [200, "0"],
      ]);
      const over = await client.get("/firm");
      expect(over.status).toBe(429);
      expect(Number(over.headers.get("retry-after"))).toBeGreaterThan(0);
      expect(await json<Problem>(over)).toMatchObject({ code: "too-many" });
    } finally {
      await narrow.close();
    }
  });
});

describe("a visit from a program", () => {
  it("is the pages' own: drops are converted, kept once under their key, and read back as they were", async () => {
    await asFirm(world.db, world.ours.id, (scope) =>
      scope.updateTable("visit").set({ finished_at: new Date() }).where("finished_at", "is", null).execute(),
    );
    const key = uuid();
    const start = () => api.post("/visits", { basinId: ids.basinId }, { "Idempotency-Key": key });
    const visit = (await json<{ id: string }>(await start())).id;
    expect(visit).toBe(key);
    expect((await json<{ id: string }>(await start())).id).toBe(key);
    const test = {
      id: uuid(),
      methodId: "total-alkalinity",
      seen: { kind: "drops", count: 9, sample: 25 },
    };
    const testKey = uuid();
    const send = (tests: object[]) =>
      api.post(`/visits/${visit}/tests`, { tests }, { "Idempotency-Key": testKey });
    expect((await send([test])).status).toBe(200);
    expect((await send([test])).status).toBe(200);
    const other = await send([{ ...test, seen: { ...test.seen, count: 10 } }]);
    expect([other.status, (await json<Problem>(other)).code]).toEqual([409, "key-taken"]);
    // Nine drops of 10 mg/L each.
    const read = await api.get(`/basins/${ids.basinId}/readings?quantity=totalAlkalinity&from=2020-01-01`);
    const { items } = await json<{ items: { value: number; visitId: string; observation: object }[] }>(read);
    expect(items.filter(({ visitId }) => visitId === visit)).toMatchObject([
      { value: 90, observation: { count: 9, sample: 25 } },
    ]);
    expect((await shownVisit(world.http, visit)).readings).toMatchObject([
      { quantity: "totalAlkalinity", value: 90 },
    ]);
    expect((await api.post(`/visits/${visit}/close`, { note: "By a program" })).status).toBe(200);
    const whole = await json<{ note: string; readings: object[] }>(await api.get(`/visits/${visit}`));
    expect(whole).toMatchObject({ note: "By a program" });
    expect(whole.readings).toHaveLength(1);
  });

  it("is refused with code, field, value and limit; a value alone where drops are counted", async () => {
    const visit = await visitWith(world.db, world.ours, world.http, {});
    const send = async (test: object) =>
      json<Problem>(await api.post(`/visits/${visit}/tests`, { tests: [{ id: uuid(), ...test }] }));
    expect(
      await send({ methodId: "total-alkalinity", seen: { kind: "drops", count: 501, sample: 25 } }),
    ).toMatchObject({ status: 422, code: "too-high", value: "501", limit: 500 });
    const ppm = await send({ methodId: "total-alkalinity", seen: { kind: "number", value: 90 } });
    expect(ppm.status).toBe(422);
    const bad = await json<Problem>(
      await api.post("/visits", { basinId: ids.basinId }, { "Idempotency-Key": "7" }),
    );
    expect(bad).toMatchObject({ status: 422, field: "Idempotency-Key", value: "7" });
    const asked = await json<Problem>(await api.get("/visits?limit=900"));
    expect(asked).toMatchObject({ status: 422, code: "too-high", field: "limit", value: "900", limit: 200 });
    expect(await json<Problem>(await api.get("/visits?cursor=bm9uZQ"))).toMatchObject({ field: "cursor" });
    expect((await api.post("/visits", "{", {})).status).toBe(422);
    expect((await api.post("/visits", "{}", { "Content-Type": "text/plain" })).status).toBe(415);
    expect((await fetch(`${world.web.address}/api/v1/visits`, { method: "DELETE" })).status).toBe(405);
    expect((await api.get("/nothing")).status).toBe(404);
  });
});

describe("lists", () => {
  it("come in pages that are the whole, each row once", async () => {
    for (let turn = 0; turn < 4; turn++) {
      const visit = await visitWith(world.db, world.ours, world.http, {});
      await readAt(world.http, visit, { chlorine: 2 + turn, ph: [7.4, 7.4] });
      await world.http.post(`/visits/${visit}/close`, new URLSearchParams({ note: `${turn}` }));
    }
    const walk = async (path: string, limit: number) => {
      const found: string[] = [];
      let next: string | null = "";
      while (next !== null) {
        const page: { items: { id: string }[]; next: string | null } = await json(
          await api.get(`${path}?limit=${limit}${next ? `&cursor=${next}` : ""}`),
        );
        expect(page.items.length).toBeLessThanOrEqual(limit);
        found.push(...page.items.map(({ id }) => id));
        next = page.next;
      }
      return found;
    };
    for (const path of ["/visits", `/basins/${ids.basinId}/readings`, "/products", "/basins"]) {
      const whole = await walk(path, 200);
      expect(whole.length, path).toBeGreaterThan(0);
      expect(new Set(whole).size, path).toBe(whole.length);
      expect(await walk(path, 2), path).toEqual(whole);
    }
  });

  it("are not sent again to whoever has them", async () => {
    const first = await api.get("/products");
    const tag = first.headers.get("etag") ?? "";
    const again = await api.get("/products", { "If-None-Match": tag });
    expect([again.status, await again.text()]).toEqual([304, ""]);
    expect((await api.get("/products", { "If-None-Match": '"another"' })).status).toBe(200);
  });
});

describe("the walls", () => {
  it("keep another firm's from every operation", async () => {
    const own = { visitId: ids.theirVisit ?? "", basinId: world.theirs.basinId };
    for (const operation of told.operations) {
      const path = filled(operation.path, own);
      const answer =
        operation.method === "GET" ? await api.get(path) : await api.post(path, { basinId: own.basinId });
      const text = await answer.text();
      expect(answer.status, operation.operationId).toBeLessThan(500);
      expect(text, operation.operationId).not.toContain(SECRET);
      if (/\{(visitId|basinId)\}/.test(operation.path))
        expect([404, 422], operation.operationId).toContain(answer.status);
    }
  });
});

describe("by its own document", () => {
  it("every operation answers within its schema whatever is sent, and breaks on nothing", async () => {
    const generator = createGenerator({ seed: 20_261_202, optionalsProbability: 0.6 });
    const known = (name: string): string | undefined => (name === "rangeSetId" ? ids.rangeSetId : ids[name]);
    /** Half of the ids that are asked for are ours: what lies behind them is tried, too. */
    const withOurs = (value: unknown, turn: number): unknown => {
      if (Array.isArray(value)) return value.map((one) => withOurs(one, turn));
      if (value === null || typeof value !== "object") return value;
      return Object.fromEntries(
        Object.entries(value).map(([name, one]) => [
          name,
          (turn % 2 === 0 && known(name)) || withOurs(one, turn),
        ]),
      );
    };
    const faults: string[] = [];
    const statuses = new Map<number, number>();
    for (const operation of told.operations)
      for (let turn = 0; turn < TURNS; turn++) {
        const query = new URLSearchParams();
        for (const { name, in: where, schema } of operation.parameters)
          if (where === "query" && turn > 0)
            query.set(
              name,
              String(turn % 3 === 0 ? ODD[turn % ODD.length] : await generator.generate(schema)),
            );
        const path = `${filled(operation.path)}${query.size > 0 ? `?${query}` : ""}`;
        const made = operation.body ? withOurs(await generator.generate(operation.body), turn) : {};
        const body = turn % 4 === 3 ? spoiled(made, turn) : made;
        const answer = operation.method === "GET" ? await api.get(path) : await api.post(path, body);
        statuses.set(answer.status, (statuses.get(answer.status) ?? 0) + 1);
        const fault = answer.status >= 500 ? `${answer.status}` : await told.faultOf(operation, answer);
        if (fault) faults.push(`${operation.method} ${path} ${JSON.stringify(body).slice(0, 300)}: ${fault}`);
      }
    if (process.env.API_TURNS) console.log(Object.fromEntries(statuses));
    expect(faults.slice(0, 10).join("\n")).toBe("");
    // It got past the checks, and not only past them.
    expect(statuses.get(200) ?? 0).toBeGreaterThan(100);
    expect(statuses.get(422) ?? 0).toBeGreaterThan(50);
  }, 240_000);
});

const TURNS = Number(process.env.API_TURNS ?? 10);
const ODD = [
  "",
  "-1",
  "1e400",
  "null",
  "'; drop table visit; --",
  "2026-02-30",
  "\u{1F4A7}",
  "0x10",
  "a".repeat(400),
];

/** Something that no schema asked for, in the place of one field. */
function spoiled(made: unknown, turn: number): unknown {
  if (made === null || typeof made !== "object" || Array.isArray(made)) return ODD;
  const names = Object.keys(made);
  const name = names[turn % Math.max(1, names.length)] ?? "more";
  return { ...made, [name]: [ODD, -1e308, null, { deep: { deeper: ODD } }, ODD.at(-1)][turn % 5] };
}
