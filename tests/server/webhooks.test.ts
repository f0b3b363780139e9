import { createHmac } from "node:crypto";
import { createServer, type IncomingMessage, type ServerResponse } from "node:http";
import type { AddressInfo } from "node:net";
import { v7 as uuid } from "uuid";
import { afterAll, beforeAll, beforeEach, describe, expect, it } from "vitest";
import type { BasinLearned, RangeSet, ShelfProduct, Suspicion } from "#core";
import { allBasins } from "#server/db/basins";
import { asFirm } from "#server/db/connection";
import { firmOf } from "#server/db/firms";
import { rangeSetVersion } from "#server/db/range-sets";
import { deliveriesOf, tellOf, webhooksOf } from "#server/db/webhooks";
import { OFF_AFTER_DAYS, sendHooks } from "#server/webhooks/deliver";
import { learnedNow } from "#server/webhooks/happened";
import { isOutside, postSafely } from "#server/webhooks/post";
import { type Client, dataOf, faultText } from "../client";
import { visitWith } from "../visit";
import { openWorld, type World } from "../world";

/** Webhooks: told at least once, signed, whatever the receiver does, and never to a machine of our own network. */
const KEY = "a key of twenty letters or more";
const DAY = 86_400_000;

interface Heard {
  path: string;
  headers: IncomingMessage["headers"];
  body: string;
}

let world: World;
let owner: Client;
let receiver: ReturnType<typeof createServer>;
let base: string;
const heard: Heard[] = [];
/** What each path answers. */
const answers: Record<string, (response: ServerResponse) => void> = {};
let clock = new Date();

beforeAll(async () => {
  world = await openWorld({ SECRETS_KEY: KEY });
  owner = await world.as(world.ours.ownerEmail);
  receiver = createServer(async (request, response) => {
    let body = "";
    for await (const part of request) body += part;
    heard.push({ path: request.url ?? "", headers: request.headers, body });
    (answers[request.url ?? ""] ?? ((one) => one.writeHead(204).end()))(response);
  });
  await new Promise<void>((done) => receiver.listen(0, "127.0.0.1", done));
  base = `http://127.0.0.1:${(receiver.address() as AddressInfo).port}`;
});
afterAll(async () => {
  receiver.closeAllConnections();
  receiver.close();
  await world.close();
});
beforeEach(async () => {
  heard.length = 0;
  for (const path of Object.keys(answers)) delete answers[path];
  for (const { id } of await hooks()) await send("withdraw-webhook", { id });
  clock = new Date();
});

const inOurs = <T>(work: Parameters<typeof asFirm<T>>[2]) => asFirm(world.db, world.ours.id, work);
const send = (command: string, given: object) =>
  owner.postJson("/settings/webhooks.data", { command, ...given });
const add = async (path: string, events = ["visit-closed"]): Promise<string> => {
  const answer = await send("add-webhook", { id: uuid(), url: `${base}${path}`, events });
  return (await dataOf<{ data: { token: string } }>(answer)).data.token;
};
const hooks = () => inOurs(webhooksOf);
const deliveries = () => inOurs((scope) => deliveriesOf(scope, 100));
const run = (hooksInside = true) =>
  sendHooks(world.db, world.ours.id, () => clock, { secretsKey: KEY, hooksInside });
const happen = (key: string) =>
  inOurs((scope) =>
    tellOf(scope, world.ours.id, clock, async () => [{ key, kind: "visit-closed", content: { key } }]),
  );
const closeOne = async () => {
  const visit = await visitWith(world.db, world.ours, world.http, { chlorine: 3, ph: [7.4, 7.6] });
  const close = () => world.http.post(`/visits/${visit}/close`, new URLSearchParams({ note: "" }));
  await close();
  await close();
  clock = new Date(Date.now() + 1000);
  return visit;
};

describe("a webhook", () => {
  it("is told once of a visit that was closed, signed over its id, its time and its body", async () => {
    const secret = await add("/hook");
    const visit = await closeOne();
    expect(await run()).toBe(1);
    expect(await run()).toBe(0);
    expect(heard).toHaveLength(1);
    const [{ headers, body }] = heard as [Heard];
    expect(JSON.parse(body)).toMatchObject({
      kind: "visit-closed",
      content: { visitId: visit, basinId: world.ours.basinId },
    });
    const id = String(headers["webhook-id"]);
    const signed = createHmac("sha256", secret).update(`${id}.${headers["webhook-timestamp"]}.${body}`);
    expect(headers["webhook-signature"]).toBe(`v1,${signed.digest("base64")}`);
    // The secret is shown once, and kept sealed.
    expect(await (await owner.get("/settings/webhooks")).text()).not.toContain(secret);
    const rows = await inOurs((scope) => scope.selectFrom("webhook").select("secret").execute());
    expect(rows.every((row) => !row.secret.toString().includes(secret))).toBe(true);
  });

  it("that fails loses nothing: all of it comes later, in its order, and by hand again", async () => {
    await add("/fails");
    answers["/fails"] = (response) => response.writeHead(500).end("no");
    for (const key of ["a", "b", "c"]) await happen(`fails ${key}`);
    expect(await run()).toBe(0);
    expect((await hooks())[0]?.failingSince).not.toBeNull();
    delete answers["/fails"];
    heard.length = 0;
    for (let turn = 0; turn < 4; turn++) {
      clock = new Date(clock.getTime() + 10 * 60_000);
      await run();
    }
    const told = heard.map(({ body }) => JSON.parse(body) as { sequence: number; content: { key: string } });
    expect(told.map(({ content }) => content.key)).toEqual(["fails a", "fails b", "fails c"]);
    expect(told.map(({ sequence }) => sequence)).toEqual(
      told.map(({ sequence }) => sequence).toSorted((a, b) => a - b),
    );
    expect((await hooks())[0]?.failingSince).toBeNull();
    const [last] = await deliveries();
    await send("tell-again", { id: last?.id });
    clock = new Date(Date.now() + DAY);
    expect(await run()).toBe(1);
    expect(JSON.parse(heard.at(-1)?.body ?? "").id).toBe(JSON.parse(heard.at(-2)?.body ?? "").id);
  });

  it("that hangs holds up no other; one that answers too much is heard by its status", async () => {
    await add("/hangs");
    await add("/quick");
    await add("/large");
    answers["/hangs"] = () => {};
    answers["/large"] = (response) => {
      response.writeHead(200);
      const part = Buffer.alloc(64 * 1024);
      // Ten megabytes, for as long as somebody listens.
      let left = 160;
      const more = () => {
        while (left-- > 0 && response.write(part));
        if (left > 0) response.once("drain", more);
        else response.end();
      };
      more();
    };
    await happen("beside one that hangs");
    expect(await run()).toBe(2);
    const states = (await deliveries()).slice(0, 3).map(({ state, why }) => [state, why]);
    expect(states.toSorted()).toEqual([
      ["done", ""],
      ["done", ""],
      ["waiting", "timeout"],
    ]);
  }, 60_000);

  it("follows no redirect, least of all to this machine", async () => {
    await add("/away");
    answers["/away"] = (response) => response.writeHead(302, { Location: `${base}/inside` }).end();
    await happen("redirected");
    expect(await run()).toBe(0);
    expect(heard.map(({ path }) => path)).toEqual(["/away"]);
    expect((await deliveries())[0]).toMatchObject({ state: "waiting", answer: 302, why: "302" });
  });

  it("goes to no machine of the own network, by address or by name, unless the operator lets it", async () => {
    await add("/inside");
    await happen("inside");
    expect(await run(false)).toBe(0);
    expect((await deliveries())[0]).toMatchObject({ state: "waiting", answer: null, why: "inside" });
    const port = (receiver.address() as AddressInfo).port;
    for (const host of ["localhost", "127.1", "[::1]", "[::ffff:127.0.0.1]", "2130706433"])
      expect(await postSafely(`http://${host}:${port}/inside`, {}, "{}", false), host).toEqual({
        status: null,
        why: "inside",
      });
    expect(heard).toEqual([]);
    for (const address of [
      "10.1.2.3",
      "172.16.0.1",
      "192.168.1.1",
      "169.254.169.254",
      "0.0.0.0",
      "fe80::1",
      "fd00::1",
      "::1",
      "100.64.0.1",
      "x",
    ])
      expect(isOutside(address), address).toBe(false);
    for (const address of ["93.184.216.34", "2606:2800:220:1::1"])
      expect(isOutside(address), address).toBe(true);
  });

  it("is switched off after days of failing, its owner is told, and it can be switched on again", async () => {
    await add("/gone");
    answers["/gone"] = (response) => response.writeHead(410).end();
    await happen("first of many");
    const begun = clock.getTime();
    while (clock.getTime() - begun < (OFF_AFTER_DAYS + 0.5) * DAY) {
      await run();
      clock = new Date(clock.getTime() + DAY / 3);
    }
    const [hook] = await hooks();
    expect(hook?.offAt).not.toBeNull();
    const page = await (await owner.get("/settings/webhooks")).text();
    expect(page).toMatch(/Switched off on/);
    expect(await (await owner.get("/settings/audit")).text()).toMatch(/was switched off/);
    // Nothing new waits for it.
    await happen("after that");
    expect((await deliveries())[0]).toMatchObject({ state: "failed" });
    await send("switch-webhook-on", { id: hook?.id });
    delete answers["/gone"];
    await happen("and again");
    expect(await run()).toBe(1);
  });

  it("is told of what a log teaches, each once: chlorine that will not last, what is suspected, what runs out", async () => {
    const now = new Date("2026-05-04T12:00:00Z");
    const [basin] = await inOurs(allBasins);
    const firm = await inOurs(firmOf);
    if (!basin) throw new Error("no basin");
    const set = await inOurs((scope) => rangeSetVersion(scope, basin.rangeSetId));
    const at = (hours: number, value: number) => ({
      at: now.getTime() + hours * 3_600_000,
      freeChlorine: { value, low: value - 0.2, high: value + 0.2 },
    });
    const known = {
      firm,
      basins: [basin],
      sets: new Map([[basin.rangeSetId, set as RangeSet]]),
      trucks: [],
      now,
    };
    const product = { id: "acid", name: "Acid", left: 900, reorder: 1000 } as ShelfProduct;
    const learned = (ends: number, suspicions: Suspicion[] = []) => ({
      basins: [{ id: basin.id, forecast: [at(0, 3), at(12, ends), at(48, ends)] } as BasinLearned],
      suspicions,
      visits: new Map([[basin.id, 7]]),
    });
    const volume: Suspicion = {
      code: "volume",
      basin: basin.id,
      ratio: { value: 1.3, low: 1.2, high: 1.4 },
      chance: 0.97,
    };
    const all = learnedNow(learned(0.1, [volume]), { ...known, products: [product] });
    expect(all.map(({ kind }) => kind)).toEqual(["chlorine-short", "suspicion-raised", "stock-low"]);
    expect(all[0]?.content).toMatchObject({ basinId: basin.id, nextStop: "2026-05-05" });
    // What is on a truck is not gone.
    const trucks = [
      {
        id: "t",
        name: "Van",
        memberId: null,
        stock: [{ productId: "acid", name: "Acid", left: 500, countedAt: now }],
      },
    ];
    expect(learnedNow(learned(3), { ...known, products: [product], trucks })).toEqual([]);
    await add("/learned", ["chlorine-short", "suspicion-raised", "stock-low"]);
    for (let turn = 0; turn < 2; turn++)
      await inOurs((scope) => tellOf(scope, world.ours.id, clock, async () => all));
    for (let turn = 0; turn < 3; turn++) await run();
    expect(heard.map(({ body }) => JSON.parse(body).kind)).toEqual(all.map(({ kind }) => kind));
  });

  it("is refused with field and value where its address is none", async () => {
    for (const url of ["ftp://hooks.example/", "hooks", "https://a:b@hooks.example/"]) {
      const answer = await send("add-webhook", { id: uuid(), url, events: ["visit-closed"] });
      expect(answer.status, url).toBe(422);
    }
    expect(
      await faultText(await send("add-webhook", { id: uuid(), url: "https://hooks.example/", events: [] })),
    ).toBeTruthy();
  });
});
