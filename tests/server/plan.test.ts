import { v7 as uuid } from "uuid";
import { afterAll, beforeAll, describe, expect, it } from "vitest";
import {
  addDays,
  closingOf,
  dayIn,
  type HorizonPlan,
  missesOf,
  type PlanStep,
  PRODUCTS,
  type VisitPlan,
} from "#core";
import { asFirm, type Database } from "#server/db/connection";
import { firmOf } from "#server/db/firms";
import { roundOn } from "#server/round/day";
import { type Client, clientOf, faultText } from "../client";
import type { Firm } from "../firm";
import { plansAt, type Read, readAt, shownVisit, visitWith } from "../visit";
import { openWorld, type World } from "../world";

/** From readings to a plan, its steps and its retest, over HTTP. */
let db: Database;
let close: () => Promise<void>;
let ours: Firm;
let theirs: Firm;
let web: World["web"];
let http: Client;

beforeAll(async () => {
  ({ db, ours, theirs, web, http, close } = await openWorld());
  // Time for everything: what is cut to the minutes has a test of its own.
  await asFirm(db, ours.id, (scope) => scope.updateTable("firm").set({ call_minutes: 300 }).execute());
});
afterAll(() => close());

const shownAt = async (visit: string): Promise<HorizonPlan | null> => {
  const shown: { plan: HorizonPlan } | null = await (await http.get(`/visits/${visit}/plans`)).json();
  return shown?.plan ?? null;
};
const keptAt = (visit: string): Promise<VisitPlan[]> => plansAt(db, ours, visit);
const post = (visit: string, body: unknown) => http.postJson(`/visits/${visit}/plan`, body);
const refused = async (visit: string, body: unknown) =>
  faultText(await http.postJson(`/visits/${visit}/plan.data`, body));
const begin = async (visit: string, change: object = {}): Promise<VisitPlan> => {
  const id = uuid();
  const answer = await post(visit, { id, origin: "alternative", name: "balanced", ...change });
  expect(answer.status).toBe(302);
  const plan = (await keptAt(visit)).find((one) => one.id === id);
  if (!plan) throw new Error("not kept");
  return plan;
};
const settle = (visit: string, plan: VisitPlan, position: number, change: object = {}) => {
  const step = plan.content.steps[position];
  return post(visit, {
    planId: plan.id,
    position,
    state: "done",
    why: "",
    ...(step?.kind === "dose" ? { dose: { id: uuid(), givenGrams: step.grams } } : {}),
    ...change,
  });
};
const at = (plan: VisitPlan, kind: PlanStep["kind"]) =>
  plan.content.steps.flatMap((step, position) => (step.kind === kind ? [position] : []));
const layoutOf = (visit: string) => shownVisit(http, visit);

const OFF: Read = { ph: [8, 8], alkalinity: 60, hardness: 150, stabiliser: 40, chlorine: 2 };

describe("a visit's plan", () => {
  it("brings every reading home in one go", async () => {
    const shown = await shownAt(await visitWith(db, ours, http, OFF));
    if (!shown) throw new Error("no plan");
    const plan = shown.now;
    expect(shown.leftOut).toEqual([]);
    expect(plan.after.ph).toBeGreaterThan(7.2);
    expect(plan.after.ph).toBeLessThan(7.8);
    expect(plan.after.totalAlkalinity).toBeGreaterThan(80);
    expect(plan.after.calciumHardness).toBeGreaterThan(200);
    expect(plan.intervals?.ph.low).toBeLessThan(plan.after.ph);
  });

  it("says that stabiliser needs other water, which is not known here", async () => {
    const visit = await visitWith(db, ours, http, {
      ...OFF,
      ph: [7.4, 7.6],
      alkalinity: 100,
      hardness: 300,
      stabiliser: 90,
    });
    const shown = await shownAt(visit);
    expect(shown?.open).toMatchObject([{ quantity: "cyanuricAcid", becomes: "project" }]);
    expect(shown?.projects).toMatchObject([{ kind: "replace-water", fraction: null }]);
    expect(shown?.now.steps.some((step) => step.kind === "replace-water")).toBe(false);
  });

  it("is none without pH or alkalinity", async () => {
    expect(await shownAt(await visitWith(db, ours, http, { chlorine: 2, alkalinity: 100 }))).toBeNull();
  });

  it("takes a pH that ran off its scale from the demand drops", async () => {
    const off: Read = { ...OFF, ph: [8.2, null] };
    expect(await shownAt(await visitWith(db, ours, http, off))).toBeNull();
    const plan = (await shownAt(await visitWith(db, ours, http, { ...off, acidDrops: 6 })))?.now;
    expect(plan?.before.ph).toBeGreaterThan(8.2);
    expect(plan?.steps.some((step) => step.kind === "dose")).toBe(true);
  });

  it("leaves out what is barred at the basin, taken from plans, or used up", async () => {
    const judgement = (barred: string[]) =>
      http.postJson(`/basins/${ours.basinId}/judgement`, {
        rangeSetId: ours.rangeSetId,
        rangeOverrides: {},
        barred,
        mostReplaced: 0.5,
      });
    const used = async () => {
      const shown = await shownAt(await visitWith(db, ours, http, OFF));
      return new Set(shown?.pours.map(({ compound }) => compound));
    };
    expect(await used()).toContain("calcium-chloride");
    expect((await judgement(["calcium-chloride", "calcium-hypochlorite"])).status).toBe(200);
    expect(await used()).not.toContain("calcium-chloride");
    expect((await judgement([])).status).toBe(200);
    const product = await asFirm(db, ours.id, (scope) =>
      scope
        .selectFrom("product")
        .selectAll()
        .where("compound", "=", "calcium-chloride")
        .executeTakeFirstOrThrow(),
    );
    const stock = (grams: number | null) =>
      http.postJson("/shelf/products", {
        command: "save-product",
        id: product.id,
        product: "calcium-chloride",
        name: product.name,
        strength: PRODUCTS["calcium-chloride"].strength,
        density: null,
        pricePerKg: 2,
        planned: true,
        stock: grams,
      });
    expect((await stock(200)).status).toBe(200);
    const visit = await visitWith(db, ours, http, OFF);
    const poured = ((await shownAt(visit))?.pours ?? [])
      .filter(({ compound }) => compound === "calcium-chloride")
      .reduce((sum, { grams }) => sum + grams, 0);
    expect(poured).toBeLessThanOrEqual(200 + 1e-6);
    expect((await stock(null)).status).toBe(200);
  });
});

describe("a plan that was begun", () => {
  it("is kept as it stood, is led through, and draws the shelf down", async () => {
    const visit = await visitWith(db, ours, http, OFF);
    const shown = await shownAt(visit);
    const plan = await begin(visit);
    expect(plan.content.steps).toEqual(shown?.now.steps);
    expect(plan.content.ahead?.promised).toEqual(shown?.promised);
    // The same key again changes nothing.
    await post(visit, { id: plan.id, origin: "alternative", name: "balanced" });
    expect(await keptAt(visit)).toHaveLength(1);

    const [first] = at(plan, "dose");
    if (first === undefined) throw new Error("no dose");
    expect((await settle(visit, plan, first)).status).toBe(200);
    expect((await layoutOf(visit)).progress?.next).toBeGreaterThan(first);
    const stored = await asFirm(db, ours.id, (scope) =>
      scope.selectFrom("dose").selectAll().where("visit_id", "=", visit).execute(),
    );
    expect(stored).toMatchObject([{ code: `plan.${plan.id}.${first}` }]);
    // Taken back: to do again, and nothing given.
    await settle(visit, plan, first, { state: "open", dose: { id: uuid(), givenGrams: 0 } });
    expect((await layoutOf(visit)).progress?.next).toBe(first);
    const standing = await asFirm(db, ours.id, (scope) =>
      scope
        .selectFrom("dose")
        .selectAll()
        .where("visit_id", "=", visit)
        .where("superseded_at", "is", null)
        .execute(),
    );
    expect(standing).toMatchObject([{ given_grams: 0 }]);
  });

  it("asks why a step is skipped, what was given, and why it stops", async () => {
    const visit = await visitWith(db, ours, http, OFF);
    const plan = await begin(visit);
    const [first = 0] = at(plan, "dose");
    const skip = { planId: plan.id, position: first, state: "skipped" };
    expect(await refused(visit, { ...skip, why: " " })).toMatch(/reason/i);
    expect(await refused(visit, { planId: plan.id, position: first, state: "done", why: "" })).toMatch(
      /amount given/i,
    );
    expect(await refused(visit, { planId: plan.id, position: 99, state: "done", why: "" })).toMatch(/99/);
    expect(await refused(visit, { stop: "" })).toMatch(/reason/i);
    expect(await refused(visit, { id: uuid(), origin: "alternative", name: "guess" })).toMatch(/guess/);
    expect((await post(visit, { ...skip, why: "bag was wet" })).status).toBe(200);
    expect((await keptAt(visit))[0]?.settled).toMatchObject([
      { position: first, state: "skipped", why: "bag was wet" },
    ]);
    expect((await post(visit, { stop: "thunder" })).status).toBe(302);
    expect((await keptAt(visit))[0]).toMatchObject({ whyEnded: "thunder" });
    expect((await layoutOf(visit)).progress).toBeNull();
  });

  it("is retested: a new round of readings, held against the promise by what was given", async () => {
    const visit = await visitWith(db, ours, http, OFF);
    const plan = await begin(visit);
    for (const position of at(plan, "dose")) {
      const step = plan.content.steps[position];
      // Of the bicarbonate only half went in.
      const share = step?.kind === "dose" && step.compound === "sodium-bicarbonate" ? 0.5 : 1;
      const grams = step?.kind === "dose" ? step.grams * share : 0;
      await settle(visit, plan, position, { dose: { id: uuid(), givenGrams: grams } });
    }
    const before = await layoutOf(visit);
    expect(before.progress).toMatchObject({ dosed: true, retested: false });
    await readAt(http, visit, {
      hardness: plan.content.after.calciumHardness,
      alkalinity: 80,
      ph: [7.4, 7.6],
      chlorine: 3,
    });
    const after = await layoutOf(visit);
    expect(after.progress).toMatchObject({ retested: true, toRetest: [] });
    expect(after.readings.find((one) => one.quantity === "totalAlkalinity")).toMatchObject({
      value: 80,
      round: 1,
    });
    const [kept] = await keptAt(visit);
    const outcome = (quantity: string) => kept?.outcomes.find((one) => one.quantity === quantity);
    // Promised for half the bicarbonate, not for what was planned.
    expect(outcome("totalAlkalinity")?.promised).toBeLessThan(plan.content.after.totalAlkalinity - 10);
    expect(outcome("totalAlkalinity")?.before).toBe(60);
    expect(outcome("calciumHardness")?.verdict).toBe("as-promised");
    // Nothing of the first round was overwritten.
    const readings = await asFirm(db, ours.id, (scope) =>
      scope
        .selectFrom("reading")
        .select(["value", "round"])
        .where("visit_id", "=", visit)
        .where("quantity", "=", "totalAlkalinity")
        .where("superseded_at", "is", null)
        .orderBy("round")
        .execute(),
    );
    expect(readings).toEqual([
      { value: 60, round: 0 },
      { value: 80, round: 1 },
    ]);
    // The close keeps what was found on arrival, as settled.
    await http.post(`/visits/${visit}/close`, new URLSearchParams({ note: "" }));
    const found = await asFirm(db, ours.id, (scope) =>
      scope.selectFrom("finding").select("detail").where("visit_id", "=", visit).execute(),
    );
    const details = found.map((one) => one.detail as { code: string; settled?: boolean });
    expect(details.find((one) => one.code === "totalAlkalinity.low")).toMatchObject({ settled: true });
  });

  it("may be a recipe, or amounts by hand", async () => {
    // A pH that is over comes first, and is told so.
    const over = await visitWith(db, ours, http, { ...OFF, combined: 1 });
    expect(await refused(over, { id: uuid(), origin: "recipe", name: "breakpoint" })).toMatch(/ph-first/);
    const visit = await visitWith(db, ours, http, { ...OFF, ph: [7.4, 7.6], combined: 1 });
    const shock = await begin(visit, { origin: "recipe", name: "breakpoint" });
    expect(shock.content.facts.freeChlorine).toBeCloseTo(10, 6);
    expect(await refused(visit, { id: uuid(), origin: "recipe", name: "chlorine-too-high" })).toMatch(
      /nothing-to-do/,
    );
    expect(await refused(visit, { id: uuid(), origin: "recipe", name: "stew" })).toMatch(/stew/);
    const product = await asFirm(db, ours.id, (scope) =>
      scope
        .selectFrom("product")
        .selectAll()
        .where("compound", "=", "sodium-bicarbonate")
        .executeTakeFirstOrThrow(),
    );
    const byHand = {
      origin: "what-if",
      grams: { [product.id]: 500 },
      replaced: 0,
      aerated: 0,
      name: undefined,
    };
    const plan = await begin(visit, byHand);
    expect(plan.content.steps[0]).toMatchObject({ kind: "dose", grams: 500 });
    expect(plan.round).toBe(1);
    expect(await refused(visit, { id: uuid(), ...byHand, grams: { [uuid()]: 5 } })).toMatch(/amount/i);
    expect(await refused(visit, { id: uuid(), ...byHand, grams: {} })).toMatch(/amount/i);
  });

  it("is out of another firm's reach", async () => {
    const visit = await visitWith(db, ours, http, OFF);
    const plan = await begin(visit);
    const other = clientOf(web.address);
    await other.as(theirs.email);
    expect((await other.get(`/visits/${visit}/plans`)).status).toBe(404);
    const answer = await other.postJson(`/visits/${visit}/plan`, { stop: "mine now" });
    expect(answer.status).toBe(404);
    expect((await keptAt(visit)).find((one) => one.id === plan.id)?.endedAt).toBeNull();
  });
});

describe("what a plan promised", () => {
  it("stands at the next call, is told where it was missed, and is what the day's truck is loaded for", async () => {
    // A call every day, so that the next one is tomorrow.
    await asFirm(db, ours.id, (scope) =>
      scope
        .updateTable("basin")
        .set({ call_days: [1, 2, 3, 4, 5, 6, 7], every_weeks: 1 })
        .where("id", "=", ours.basinId)
        .execute(),
    );
    const visit = await visitWith(db, ours, http, OFF);
    const plan = await begin(visit);
    const ahead = plan.content.ahead;
    expect(ahead?.promised.length).toBe(3);
    expect(ahead?.calls[0]?.doses.length).toBeGreaterThan(0);
    const opened = await layoutOf(visit);
    const closing = closingOf(opened);
    expect(closing.expected.ph).toEqual(ahead?.promised[0]?.readings.ph);
    expect(closing.due).toContain("freeChlorine");
    await http.post(`/visits/${visit}/close`, new URLSearchParams({ id: uuid(), note: "" }));

    const firm = await asFirm(db, ours.id, firmOf);
    const tomorrow = addDays(dayIn(new Date(), firm.timeZone), 1);
    const round = await asFirm(db, ours.id, (scope) => roundOn(scope, firm, tomorrow, new Date()));
    const call = round.calls.find(({ basin }) => basin.id === ours.basinId);
    expect(call?.load).toEqual(
      ahead?.calls[0]?.doses.map(({ product, grams }) => ({ productId: product, grams })),
    );

    const next = await visitWith(db, ours, http, { ph: [7.4, 7.6], alkalinity: 90, chlorine: 9 });
    const found = await layoutOf(next);
    expect(found.promised?.readings.ph).toEqual(ahead?.promised[0]?.readings.ph);
    expect(missesOf(found).map(({ quantity }) => quantity)).toContain("freeChlorine");
  });
});

describe("what the readings say together", () => {
  it("closes the basin, tells weak chlorine, and holds drops against the model", async () => {
    const visit = await visitWith(db, ours, http, { ...OFF, chlorine: 0.4, stabiliser: 90, acidDrops: 30 });
    const { notices, demand } = await layoutOf(visit);
    const codes = notices.map((notice) => notice.code);
    expect(codes[0]).toBe("basin.closed");
    expect(codes).toContain("chlorine.overstabilised");
    expect(codes).toContain("demand.disagrees");
    expect(demand?.agree).toBe(false);
  });
});
