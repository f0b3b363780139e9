import { createHash } from "node:crypto";
import { sql } from "kysely";
import sharp from "sharp";
import { v7 as uuid } from "uuid";
import { afterAll, beforeAll, describe, expect, it } from "vitest";
import { TITRATION_KIT } from "#core";
import { asFirm } from "#server/db/connection";
import { ADDRESSES, commandsOf, filled } from "../addresses";
import { type Client, clientOf, dataOf } from "../client";
import { PASSWORD } from "../firm";
import { visitWith } from "../visit";
import { openWorld, type World } from "../world";

/**
 * Every address × every role × every write × whose ids. The addresses come from the routes and the writes
 * from their modules, so that a new one without a line here is a failure, not a gap.
 */
let world: World;
let people: Record<Who, Client>;
let ours: Record<string, string>;
let theirs: Record<string, string>;
let photo: Blob;

const WHO = ["nobody", "reader", "technician", "owner"] as const;
type Who = (typeof WHO)[number];
const SECRET = "SECRET OF THEIRS";
/** A basin of ours at a site that our reader does not see. */
const HIDDEN = "HIDDEN POOL OF OURS";
const READER = "reader@ours.example";

beforeAll(async () => {
  world = await openWorld();
  const { db, http, as, web } = world;
  const owner = await as(world.ours.ownerEmail);
  photo = new Blob([
    new Uint8Array(
      await sharp({ create: { width: 8, height: 8, channels: 3, background: "#888" } })
        .jpeg()
        .toBuffer(),
    ),
  ]);
  const idsOf = async (firm: World["ours"], client: Client, note: string) => {
    const done = await visitWith(db, firm, client, { ph: [7.4, 7.6], chlorine: 3 });
    await client.post(`/visits/${done}/close`, new URLSearchParams({ note }));
    const open = await visitWith(db, firm, client, { ph: [7.4, 7.6], chlorine: 3, alkalinity: 60 });
    const { siteId, productId } = await asFirm(db, firm.id, async (scope) => ({
      siteId: (await scope.selectFrom("site").select("id").executeTakeFirstOrThrow()).id,
      productId: (await scope.selectFrom("product").select("id").executeTakeFirstOrThrow()).id,
    }));
    const reading = await asFirm(db, firm.id, (scope) =>
      scope.selectFrom("reading").select("id").where("visit_id", "=", done).executeTakeFirstOrThrow(),
    );
    return {
      visitId: open,
      done,
      basinId: firm.basinId,
      kitId: firm.kitId,
      setId: firm.rangeSetId,
      siteId,
      productId,
      memberId: firm.memberId,
      readingId: reading.id,
      photoId: uuid(),
      uploadId: uuid(),
      station: "salt",
      recipe: "fresh-fill",
      file: "export.json",
      token: "x".repeat(43),
    };
  };
  ours = await idsOf(world.ours, http, "Filter rinsed");
  theirs = await idsOf(world.theirs, await as(world.theirs.email), SECRET);
  const hidden = uuid();
  const basin = {
    id: uuid(),
    siteId: hidden,
    newSite: { name: "Elsewhere", street: "", district: "", contact: "" },
  };
  const made = await owner.postJson("/basins/new", {
    ...basin,
    name: HIDDEN,
    kind: "pool",
    surface: "plaster",
    litres: 9000,
    indoors: false,
    isPublic: false,
    kitId: world.ours.kitId,
    rangeSetId: world.ours.rangeSetId,
  });
  expect(made.status).toBe(302);
  const invited = await owner.postJson("/settings/team.data", {
    command: "invite",
    id: uuid(),
    name: "Reader",
    role: "reader",
    siteIds: [ours.siteId],
  });
  const { data } = await dataOf<{ data: { token: string } }>(invited);
  const form = new URLSearchParams({ name: "Reader", email: READER, password: PASSWORD });
  await clientOf(web.address).post(`/join/${data.token}`, form);
  people = { nobody: clientOf(web.address), reader: await as(READER), technician: http, owner };
});
afterAll(() => world.close());

/** Everything in the database that a request may not change by being refused. */
async function state(): Promise<string> {
  const { rows: tables } = await sql<{ name: string }>`
    select relname as name from pg_class where relnamespace = 'public'::regnamespace and relkind = 'r'
      and relname not in ('session', 'readiness', 'instance', 'brake', 'job_lease') and relname not like 'kysely%' order by 1`.execute(
    world.db,
  );
  const hash = createHash("sha256");
  for (const firm of [world.ours.id, world.theirs.id])
    for (const { name } of tables) {
      const rows = await asFirm(world.db, firm, (scope) =>
        sql<{ row: string }>`select to_jsonb(t)::text as row from ${sql.table(name)} t order by 1`.execute(
          scope,
        ),
      );
      hash.update(`${name} ${rows.rows.map(({ row }) => row).join("\n")}`);
    }
  return hash.digest("hex");
}

/** Pages that are open to whoever comes, and those that a role of the firm may read. */
const PUBLIC = [
  "/sign-in",
  "/setup",
  "/health",
  "/ready",
  "/schemas/kit.json",
  "/schemas/book.json",
  "/bench",
  "/practice",
  "/guide/:page?",
  "/offline",
  "/offline/words",
  "/api",
];
const OWNERS = [
  "/basins/held",
  "/settings/team",
  "/settings/work",
  "/settings/audit",
  "/settings/mail",
  "/settings/health",
  "/settings/api",
  "/settings/webhooks",
  "/book/month",
  "/book/month.csv",
  "/book/month.json",
  "/book/prices/:siteId",
  "/book/import",
  "/book/import/:uploadId",
];
const READERS = [
  "/week",
  "/basins",
  "/basins/:basinId",
  "/basins/:basinId/series",
  "/places",
  "/settings",
  "/visits/:visitId/customer",
  "/visits/:visitId/customer.pdf",
];
/** What opens by a token of its own. */
const BY_LINK = [
  "/join/:token",
  "/reset/:token",
  "/c/:token",
  "/c/:token/card.pdf",
  "/s/:token",
  "/s/:token/sheet.pdf",
  "/s/:token/photos/:photoId",
  "/m/:token",
  "/calendar/:file",
];
/** A finished visit has these; one under way does not yet. */
const OF_DONE = ["/visits/:visitId/customer", "/visits/:visitId/customer.pdf"];

/** Who guesses at links for long is asked to wait instead of being told that there is none. */
const noAt = (pattern: string): number[] => [401, 403, 404, ...(BY_LINK.includes(pattern) ? [429] : [])];

const mayRead = (pattern: string): readonly Who[] => {
  if (PUBLIC.includes(pattern)) return WHO;
  if (BY_LINK.includes(pattern)) return [];
  if (OWNERS.includes(pattern)) return ["owner"];
  return READERS.includes(pattern) ? ["reader", "technician", "owner"] : ["technician", "owner"];
};

describe("every address that is read", () => {
  it.each(WHO)("shows %s what is theirs, and says no to the rest", async (who) => {
    for (const { pattern } of ADDRESSES.filter(({ reads }) => reads)) {
      const values = { ...ours, ...(OF_DONE.includes(pattern) ? { visitId: ours.done ?? "" } : {}) };
      const answer = await people[who].get(filled(pattern, values));
      const place = `${who} at ${pattern}`;
      expect(answer.status, place).toBeLessThan(500);
      const text = await answer.text();
      expect(text, place).not.toContain(SECRET);
      if (who === "reader") expect(text, place).not.toContain(HIDDEN);
      if (!mayRead(pattern).includes(who)) {
        if (who === "nobody" && answer.status === 302)
          expect(answer.headers.get("location"), place).toMatch(/^\/(sign-in|$)/);
        else if (who === "reader" && answer.status === 302)
          expect(answer.headers.get("location"), place).toMatch(/^\/basins$|\/customer$|^\/$/);
        else expect([405, ...noAt(pattern)], place).toContain(answer.status);
      } else if (answer.status !== 302) expect([200, 404], place).toContain(answer.status);
      if (!pattern.startsWith("/schemas"))
        expect(answer.headers.get("cache-control"), place).toMatch(/no-store/);
    }
  });

  it("says that it is only written to, where it is", async () => {
    const written = ADDRESSES.filter(({ reads, writes }) => writes && !reads);
    expect(written.length).toBeGreaterThan(5);
    for (const { pattern } of written) {
      const answer = await people.owner.get(filled(pattern, ours));
      expect([answer.status, answer.headers.get("allow")], pattern).toEqual([405, "POST"]);
    }
  });

  it("gives a reader at the bench nothing to put a result to", async () => {
    const kits = async (who: Who) =>
      (
        await dataOf<Record<string, { data: { basins: object[] | null } }>>(
          await people[who].get("/bench.data"),
        )
      )["routes/bench/route"]?.data.basins;
    expect(await kits("reader")).toBeNull();
    expect(await kits("technician")).toHaveLength(2);
  });

  it.each(["reader", "technician", "owner"] as const)("keeps another firm's from our %s", async (who) => {
    for (const { pattern } of ADDRESSES.filter(({ pattern }) => pattern.includes(":")))
      for (const visitId of [theirs.visitId, theirs.done]) {
        const path = filled(pattern, { ...theirs, visitId: visitId ?? "" });
        for (const address of [path, `${path}.data`]) {
          const answer = await people[who].get(address);
          const place = `${who} at ${address}`;
          expect(answer.status, place).toBeLessThan(500);
          expect(await answer.text(), place).not.toContain(SECRET);
          if (/:(visitId|basinId|kitId|setId)/.test(pattern) && !address.endsWith(".data"))
            expect([302, 400, 403, 404, 405], place).toContain(answer.status);
        }
      }
  });
});

interface Write {
  may: readonly Who[];
  /** What is sent, as one of those who may; by the ids of one firm. */
  json?: (ids: Record<string, string>) => object;
  form?: (ids: Record<string, string>) => URLSearchParams | FormData;
  body?: string;
  query?: string;
  /** Answers that say yes besides 2xx and 3xx: what is asked for is not there, or not to be had here. */
  yes?: number[];
}

const WORKERS = ["technician", "owner"] as const;
const OWNER = ["owner"] as const;
const MEMBERS = ["reader", "technician", "owner"] as const;
const day = "2031-03-05";
const form = (fields: Record<string, string>) => () => new URLSearchParams(fields);
const observation = () => ({
  id: uuid(),
  methodId: "salt",
  seen: { kind: "drops", count: 16, sample: 10 },
});

/** Each write with something that would go through, under its address and its command. */
const WRITES: Record<string, Write> = {
  "/bench/attach": {
    may: WORKERS,
    json: ({ basinId }) => ({
      basinId,
      at: new Date().toISOString(),
      kitName: TITRATION_KIT.name,
      observation: { id: uuid(), methodId: "salt", seen: { kind: "drops", count: 16, sample: 10 } },
    }),
  },
  "/ order-calls": {
    may: WORKERS,
    json: ({ basinId }) => ({ day, version: 0, basinIds: [basinId] }),
    yes: [422],
  },
  "/ assign-call": {
    may: WORKERS,
    json: ({ basinId }) => ({ day, version: 1, basinId, memberId: null }),
    yes: [422],
  },
  "/ skip-call": { may: WORKERS, json: ({ basinId }) => ({ day, basinId, why: "closed" }) },
  "/ tick-task": { may: WORKERS, json: ({ basinId }) => ({ id: uuid(), basinId, task: "shock" }) },
  "/ add-event": { may: WORKERS, json: ({ basinId }) => ({ id: uuid(), basinId, day, name: "Party" }) },
  "/ remove-event": { may: WORKERS, json: () => ({ id: uuid() }), yes: [404] },
  "/week": {
    may: WORKERS,
    json: ({ basinId }) => ({
      id: uuid(),
      versions: {},
      moves: [{ basinId, from: null, to: "2031-03-06", memberId: null }],
      orders: [],
    }),
    yes: [422],
  },
  "/week/regular": { may: OWNER, json: ({ basinId }) => ({ basinId, callDays: [2, 5], everyWeeks: 1 }) },
  "/basins/:basinId/week save-wishes": {
    may: OWNER,
    json: () => ({ least: 2, most: 8, allowed: null, fixed: [], daily: false, use: 1, mayGo: null }),
  },
  "/basins/:basinId/week save-place": {
    may: WORKERS,
    json: () => ({ place: { latitude: 40, longitude: -105 } }),
  },
  "/settings/week save-member-week": {
    may: OWNER,
    json: ({ memberId }) => ({ memberId, hours: [480, 480, 480, 480, 480, 0, 0], off: [], carries: null }),
  },
  "/settings/week save-firm-week": { may: OWNER, json: () => ({ closed: ["2031-12-25"] }) },
  "/basins/new": {
    may: WORKERS,
    json: ({ siteId, kitId, setId }) => ({
      id: uuid(),
      siteId,
      newSite: null,
      name: "New one",
      kind: "pool",
      surface: "plaster",
      litres: 20_000,
      indoors: false,
      isPublic: false,
      kitId,
      rangeSetId: setId,
    }),
  },
  "/basins/:basinId": { may: WORKERS, form: () => new URLSearchParams({ id: uuid() }) },
  "/basins/:basinId/facts": { may: WORKERS, json: () => ({ name: "" }), yes: [422] },
  "/basins/:basinId/access": { may: WORKERS, json: () => ({ access: { code: "4711" } }) },
  "/basins/:basinId/photos": { may: WORKERS, form: () => photoForm() },
  "/basins/:basinId/judgement": {
    may: WORKERS,
    json: ({ setId }) => ({ rangeSetId: setId, rangeOverrides: {}, barred: [], mostReplaced: 0.5 }),
  },
  "/basins/:basinId/card make-card": {
    may: WORKERS,
    json: () => ({ id: uuid(), product: "dichlor", strength: 0.56, grams: 28.5, everyDays: 1 }),
  },
  "/basins/:basinId/card withdraw-card": { may: WORKERS, json: () => ({}) },
  "/basins/:basinId/volume": {
    may: WORKERS,
    json: () => ({ id: uuid(), how: "entered", litres: 10_000 }),
  },
  "/book/import/file": { may: OWNER, body: "date,fc\n2024-05-01,3\n", query: "name=log.csv&id=" },
  "/book/import/:uploadId": { may: OWNER, json: () => ({ command: "try" }), yes: [404] },
  "/shelf save-bottle": {
    may: WORKERS,
    json: () => ({
      id: uuid(),
      reagent: "Titrant",
      measure: "drops",
      full: 700,
      lot: "",
      openedOn: null,
      expiresOn: null,
    }),
  },
  "/shelf empty-bottle": { may: WORKERS, json: () => ({ id: uuid() }), yes: [422] },
  "/shelf/products save-product": {
    may: WORKERS,
    json: () => ({
      id: uuid(),
      product: "borax",
      name: "Borax",
      strength: 1,
      density: null,
      pricePerKg: null,
      reorder: null,
      planned: true,
    }),
  },
  "/shelf/products prefer-product": { may: WORKERS, json: ({ productId }) => ({ id: productId }) },
  "/shelf/products retire-product": { may: WORKERS, json: () => ({ id: uuid() }), yes: [404] },
  "/shelf/products save-delivery": {
    may: WORKERS,
    json: ({ productId }) => ({ id: uuid(), productId, lot: "", usedFrom: "2026-01-02" }),
  },
  "/shelf/products remove-delivery": { may: WORKERS, json: () => ({ id: uuid() }), yes: [422] },
  "/shelf/trucks save-truck": { may: WORKERS, json: () => ({ id: uuid(), name: "Van", memberId: null }) },
  "/shelf/trucks load-truck": {
    may: WORKERS,
    json: ({ productId }) => ({ id: uuid(), truckId: uuid(), productId, grams: 5, how: "counted" }),
    yes: [422, 400],
  },
  "/shelf/trucks retire-truck": { may: WORKERS, json: () => ({ id: uuid() }), yes: [404] },
  "/shelf/kits": {
    may: WORKERS,
    json: () => ({ id: uuid(), line: uuid(), basedOn: null, kit: { ...TITRATION_KIT, name: "Ours" } }),
  },
  "/settings set-units": { may: OWNER, form: form({ command: "set-units", units: "us" }) },
  "/settings set-rates": {
    may: OWNER,
    json: () => ({ fillRate: 1500, persulfateDose: 24, seasonStart: "04-01" }),
  },
  "/settings set-cadence": { may: OWNER, json: () => ({ cadence: {} }) },
  "/settings set-device-rule": { may: OWNER, json: () => ({ forgetDays: 7 }) },
  "/settings/work-list": {
    may: OWNER,
    json: () => ({
      id: uuid(),
      kind: "pool",
      basedOn: 0,
      list: { items: [{ key: "brush", rule: { by: "days", every: 7 } }] },
    }),
  },
  "/basins/:basinId/repairs quote-defect": {
    may: WORKERS,
    json: () => ({ id: uuid(), defectId: uuid(), amount: 80, text: "" }),
    yes: [404],
  },
  "/basins/:basinId/repairs drop-defect": {
    may: WORKERS,
    json: () => ({ defectId: uuid(), why: "old" }),
    yes: [404],
  },
  "/s/:token": { may: [], form: form({ quoteId: "x", name: "Ines" }) },
  "/basins/:basinId/customer": { may: WORKERS, json: () => ({ email: "", isOn: false }) },
  "/settings/mail set-mail-server": {
    may: OWNER,
    json: () => ({
      host: "mail.example.org",
      port: 587,
      tls: "asked",
      username: "",
      sender: "office@example.org",
    }),
  },
  "/settings/mail mail-again": { may: WORKERS, json: () => ({ id: uuid() }), yes: [404] },
  "/settings/mail remove-mail-server": { may: OWNER, json: () => ({}) },
  "/settings/mail/try": { may: OWNER, json: () => ({}), yes: [404] },
  "/m/:token": { may: [], form: form({ stop: "yes" }) },
  "/visits/:visitId/customer show-photo": {
    may: WORKERS,
    json: () => ({ photoId: uuid(), isShown: true }),
    yes: [404],
  },
  "/visits/:visitId/customer mail-sheet": { may: WORKERS, json: () => ({}) },
  "/visits/:visitId/customer mail-again": { may: WORKERS, json: () => ({ id: uuid() }) },
  "/settings set-photo-rule": { may: OWNER, json: () => ({ photoMonths: 12 }) },
  "/settings/work/file": {
    may: OWNER,
    form: ({ visitId, memberId }) => workForm(memberId ?? "", visitId ?? ""),
  },
  "/settings/theme": { may: MEMBERS, form: form({ theme: "dark" }) },
  "/settings/language": { may: MEMBERS, form: form({ language: "es" }) },
  "/settings/demo": { may: OWNER, form: form({}), yes: [404] },
  "/settings/practice": {
    may: WORKERS,
    json: () => ({
      used: true,
      tests: [
        {
          methodId: "total-alkalinity",
          runs: 9,
          trapsSeen: 0,
          trapsMissed: 0,
          lastOn: "2031-03-05",
          bias: 0.02,
          scatter: 0.07,
        },
      ],
    }),
  },
  "/settings end-session": {
    may: MEMBERS,
    form: form({ command: "end-session", id: "0011223344556677" }),
    yes: [404],
  },
  "/settings leave-everywhere": { may: MEMBERS },
  "/settings set-own-units": { may: MEMBERS, form: form({ command: "set-own-units", units: "metric" }) },
  "/settings change-password": {
    may: MEMBERS,
    form: form({ command: "change-password", current: "not this one", next: "another long password" }),
    yes: [422],
  },
  "/settings/calendar make-feed": { may: WORKERS, json: () => ({ id: uuid(), mine: true }) },
  "/settings/calendar withdraw-feed": { may: WORKERS, json: () => ({ id: uuid() }), yes: [422] },
  "/book/prices/:siteId": {
    may: OWNER,
    json: ({ siteId }) => ({ siteId, perVisit: 40, products: {} }),
  },
  "/settings/webhooks add-webhook": {
    may: OWNER,
    json: () => ({ id: uuid(), url: "https://hooks.example/", events: ["visit-closed"] }),
    yes: [422],
  },
  "/settings/webhooks withdraw-webhook": { may: OWNER, json: () => ({ id: uuid() }), yes: [404] },
  "/settings/webhooks switch-webhook-on": { may: OWNER, json: () => ({ id: uuid() }), yes: [404] },
  "/settings/webhooks tell-again": { may: OWNER, json: () => ({ id: uuid() }), yes: [404] },
  "/settings/api make-api-token": {
    may: OWNER,
    json: () => ({ id: uuid(), name: "A program", scopes: ["read-book"] }),
  },
  "/settings/api withdraw-api-token": { may: OWNER, json: () => ({ id: uuid() }), yes: [404] },
  "/settings/health": { may: OWNER, form: form({ run: "expiry" }), yes: [422] },
  "/settings/team invite": {
    may: OWNER,
    json: () => ({ id: uuid(), name: "New", role: "technician", siteIds: [] }),
  },
  "/settings/team withdraw-invitation": { may: OWNER, json: () => ({ id: uuid() }), yes: [404] },
  "/settings/team make-reset": { may: OWNER, json: ({ memberId }) => ({ id: uuid(), memberId }) },
  "/settings/team change-member": {
    may: OWNER,
    json: ({ memberId }) => ({ id: memberId, role: "technician", siteIds: [], disabled: false }),
  },
  "/settings/ranges/:setId": { may: OWNER, json: () => ({ id: uuid() }), yes: [422] },
  "/devices": { may: WORKERS, form: form({ address: "tcp://192.0.2.1:1", quantity: "ph" }), yes: [404] },
  "/bundle": { may: WORKERS, json: () => ({}) },
  "/sync": {
    may: WORKERS,
    json: ({ visitId }) => ({
      sentAt: new Date(),
      commands: [
        {
          id: uuid(),
          name: "look",
          visitId,
          given: { see: [], hear: [], smell: [], feel: [], note: "" },
          made: {
            device: "a phone",
            sequence: 1,
            at: new Date(),
            seen: { version: 0, plans: 0, readings: [], looked: false, sampled: false },
          },
        },
      ],
    }),
  },
  "/visits/:visitId/work": { may: WORKERS, json: () => ({ id: uuid(), key: "brush", state: "done" }) },
  "/visits/:visitId/plant": {
    may: WORKERS,
    json: () => ({ id: uuid(), kind: "filterPressure", value: 90, changed: false }),
  },
  "/visits/:visitId/place": {
    may: WORKERS,
    json: () => ({ id: uuid(), which: "start", latitude: 39.7, longitude: -105, accuracy: 20 }),
  },
  "/visits/:visitId/defects": { may: WORKERS, json: () => ({ id: uuid(), title: "Loose latch" }) },
  "/visits/:visitId/job": {
    may: WORKERS,
    json: () => ({ id: uuid(), jobId: uuid(), won: false, why: "drained" }),
    yes: [422],
  },
  "/visits/:visitId/photos": { may: WORKERS, form: () => photoForm() },
  "/visits/:visitId/incident": {
    may: WORKERS,
    json: () => ({ id: uuid(), kind: "glass", note: "a bottle at the steps" }),
  },
  "/visits/:visitId/correct": {
    may: WORKERS,
    json: ({ readingId }) => ({
      id: uuid(),
      readingId,
      seen: { kind: "drops", count: 5, sample: 25 },
      why: "slip",
    }),
    yes: [422],
  },
  "/visits/:visitId/plan": { may: WORKERS, json: () => ({ stop: "rain" }), yes: [422] },
  "/visits/:visitId/customer share-sheet": { may: WORKERS, json: () => ({ id: uuid(), days: 7 }) },
  "/visits/:visitId/customer withdraw-share": { may: WORKERS, json: () => ({ id: uuid() }), yes: [404] },
  "/visits/:visitId/look": {
    may: WORKERS,
    json: () => ({ id: uuid(), see: [], hear: [], smell: [], feel: [], note: "" }),
  },
  "/visits/:visitId/sample": {
    may: WORKERS,
    json: () => ({ id: uuid(), circulation: "running", ignored: [] }),
  },
  "/visits/:visitId/dose": {
    may: WORKERS,
    json: ({ productId }) => ({ id: uuid(), code: "ph.high", productId, givenGrams: 5 }),
    yes: [422],
  },
  "/visits/:visitId/:station": { may: WORKERS, json: observation },
  "/visits/:visitId/close": { may: WORKERS, form: () => new URLSearchParams({ id: uuid(), note: "" }) },
};

/** What a technician did, as an owner takes it in. */
const workForm = (maker: string, visitId: string) => {
  const sent = new FormData();
  const seen = { version: 0, plans: 0, readings: [], looked: false, sampled: false };
  const made = { device: "a phone", sequence: 1, at: new Date(), seen };
  const given = { see: [], hear: [], smell: [], feel: [], note: "" };
  const commands = [{ id: uuid(), name: "look", visitId, given, made }];
  sent.set("work", JSON.stringify({ maker, commands }));
  return sent;
};

const photoForm = () => {
  const sent = new FormData();
  sent.set("id", uuid());
  sent.set("photo", photo, "p.jpg");
  return sent;
};

/** Writes of an address, each under its name here. */
const writesOf = (pattern: string, file: string): string[] => {
  const commands = commandsOf(file);
  return commands.length < 2 ? [pattern] : commands.map((command) => `${pattern} ${command}`);
};

/** What anybody may send who holds a password or a token; tested where these are. */
const OF_GATE = ["/sign-in", "/setup", "/sign-out", "/join/:token", "/reset/:token", "/c/:token"];
const written = ADDRESSES.filter(({ writes, pattern }) => writes && !OF_GATE.includes(pattern)).flatMap(
  ({ pattern, file }) => writesOf(pattern, file).map((name) => ({ name, pattern })),
);

async function send(who: Who, name: string, pattern: string, ids: Record<string, string>): Promise<number> {
  const write = WRITES[name];
  if (!write) throw new Error(`no write is described for ${name}`);
  const values = { ...ids, ...(/customer|correct/.test(pattern) ? { visitId: ids.done ?? "" } : {}) };
  const command = name.split(" ")[1];
  const index = pattern === "/" || pattern === "/shelf" ? "?index" : "";
  const path = filled(pattern, values) + index;
  const client = people[who];
  const { json, form: made, body, query } = write;
  const answer = json
    ? await client.postJson(path, { ...(command ? { command } : {}), ...json(values) })
    : body
      ? await client.post(`${path}?${query}${uuid()}`, body, { "Content-Type": "application/octet-stream" })
      : await client.post(path, made?.(values) ?? new URLSearchParams());
  const refusedHere = answer.status === 302 && /^\/sign-in/.test(answer.headers.get("location") ?? "");
  return refusedHere ? 401 : answer.status;
}

describe("every address that is written to", () => {
  it("is described here, each of its writes", () => {
    expect(written.map(({ name }) => name).sort()).toEqual(Object.keys(WRITES).sort());
  });

  it.each(WHO)("does for %s what they may, and changes nothing at all for the rest", async (who) => {
    const barred = written.filter(({ name }) => !WRITES[name]?.may.includes(who));
    const before = await state();
    for (const { name, pattern } of barred)
      for (const ids of [ours, theirs])
        expect(noAt(pattern), `${who}: ${name}`).toContain(await send(who, name, pattern, ids));
    expect(await state()).toBe(before);
    if (who === "nobody") return;
    ours.visitId = await visitWith(world.db, world.ours, world.http, { ph: [7.4, 7.6], chlorine: 3 });
    // The close comes last: nothing is written to a visit after it.
    const free = written.filter((one) => WRITES[one.name]?.may.includes(who));
    const isClose = ({ pattern }: { pattern: string }) => Number(pattern.endsWith("/close"));
    for (const { name, pattern } of free.sort((a, b) => isClose(a) - isClose(b))) {
      const write = WRITES[name];
      // The word that signs out everywhere would sign out this test.
      if (!write?.json && !write?.form && !write?.body) continue;
      const status = await send(who, name, pattern, ours);
      if (!write.yes?.includes(status)) expect([200, 302], `${who}: ${name}: ${status}`).toContain(status);
    }
  });

  it.each(MEMBERS)("lets our %s write nothing of another firm", async (who) => {
    const before = await asFirm(world.db, world.theirs.id, (scope) =>
      sql`select sum(hashtext(to_jsonb(t)::text)) from visit t`.execute(scope),
    );
    for (const { name, pattern } of written.filter((one) => WRITES[one.name]?.may.includes(who))) {
      const status = await send(who, name, pattern, { ...theirs, setId: theirs.setId ?? "" });
      expect(status, `${who}: ${name}`).toBeLessThan(500);
      if (/:(visitId|basinId)/.test(pattern)) expect([400, 404, 422], `${who}: ${name}`).toContain(status);
    }
    const after = await asFirm(world.db, world.theirs.id, (scope) =>
      sql`select sum(hashtext(to_jsonb(t)::text)) from visit t`.execute(scope),
    );
    expect(after.rows).toEqual(before.rows);
  });

  it("is not reached by words it does not know", async () => {
    for (const { pattern } of written)
      for (const body of [
        "",
        "{",
        "null",
        "[]",
        '"x"',
        '{"command":"toString"}',
        '{"command":{"a":1},"id":7}',
      ]) {
        const answer = await people.owner.postJson(filled(pattern, ours), body);
        expect(answer.status, `${pattern} ${body}`).toBeLessThan(500);
        expect(answer.status, `${pattern} ${body}`).toBeGreaterThanOrEqual(
          pattern === "/visits/:visitId/close" ? 302 : 400,
        );
      }
  });
});
