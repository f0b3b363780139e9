import { v7 as uuid } from "uuid";
import { afterAll, beforeAll, describe, expect, it } from "vitest";
import type { ShownPlan, ShownPlans } from "#core";
import { asFirm, type Database } from "#server/db/connection";
import { webServer } from "../../scripts/lib/world.mjs";
import { type Client, clientOf, faultText } from "../client";
import { newDatabase } from "../database";
import { type Firm, newFirm } from "../firm";

/** One plan for all readings of a visit, over HTTP. */
let db: Database;
let close: () => Promise<void>;
let ours: Firm;
let web: Awaited<ReturnType<typeof webServer>>;
let http: Client;

beforeAll(async () => {
  const made = await newDatabase();
  ({ db, close } = made);
  ours = await newFirm(db, "ours");
  web = await webServer(made.url);
  http = clientOf(web.address);
  await http.as(ours.email);
});
afterAll(async () => {
  await web?.stop();
  await close();
});

/** The plans of a visit as this server works them out. */
async function plansAt(visit: string): Promise<ShownPlan[] | null> {
  const shown: ShownPlans | null = await (await http.get(`/visits/${visit}/plans`)).json();
  return shown?.plans ?? null;
}

/** A visit with these readings; the one before is closed. */
async function visitWith(readings: {
  ph?: [number, number];
  alkalinity?: number;
  hardness?: number;
  stabiliser?: number;
  chlorine?: number;
}) {
  await asFirm(db, ours.id, (scope) =>
    scope.updateTable("visit").set({ finished_at: new Date() }).where("finished_at", "is", null).execute(),
  );
  const start = await http.post(`/basins/${ours.basinId}`, new URLSearchParams({ id: uuid() }));
  const visit = (start.headers.get("location") ?? "").split("/")[2] ?? "";
  const confirmed = ["unlikely-change", "other-sample-size", "chlorine-bleached", "indicator-bleached"];
  const count = (station: string, methodId: string, drops: number) =>
    http.postJson(`/visits/${visit}/${station}`, {
      id: uuid(),
      methodId,
      confirmed,
      seen: { kind: "drops", count: drops, sample: 25 },
    });
  const place = (station: string, methodId: string, from: number, to: number) =>
    http.postJson(`/visits/${visit}/${station}`, {
      id: uuid(),
      methodId,
      confirmed,
      seen: { kind: "place", place: { from, to } },
    });
  if (readings.chlorine !== undefined)
    await count("freeChlorine", "free-chlorine-fas-dpd", readings.chlorine / 0.2);
  if (readings.ph) await place("ph", "ph-phenol-red", ...readings.ph);
  if (readings.alkalinity !== undefined)
    await count("totalAlkalinity", "total-alkalinity", readings.alkalinity / 10);
  if (readings.hardness !== undefined)
    await count("calciumHardness", "calcium-hardness", readings.hardness / 10);
  if (readings.stabiliser !== undefined)
    await place("cyanuricAcid", "cyanuric-acid-tube", readings.stabiliser, readings.stabiliser);
  return { visit, plans: await plansAt(visit) };
}

describe("a visit's plan", () => {
  it("brings every reading home in one go, and keeps what was given of it", async () => {
    const { visit, plans } = await visitWith({
      ph: [8, 8],
      alkalinity: 60,
      hardness: 150,
      stabiliser: 40,
      chlorine: 2,
    });
    const plan = plans?.[0];
    if (!plan) throw new Error("no plan");
    expect(plan.missed).toEqual([]);
    expect(plan.after.ph).toBeGreaterThan(7.2);
    expect(plan.after.ph).toBeLessThan(7.8);
    expect(plan.after.totalAlkalinity).toBeGreaterThan(80);
    expect(plan.after.calciumHardness).toBeGreaterThan(200);
    expect(plan.intervals?.ph.low).toBeLessThan(plan.after.ph);
    const step = plan.steps.find((one) => one.kind === "dose");
    if (step?.kind !== "dose") throw new Error("no dose");
    const code = `plan.${plan.name}.${step.product}`;
    const dose = { id: uuid(), code, productId: step.product, givenGrams: 123 };
    expect((await http.postJson(`/visits/${visit}/dose`, dose)).status).toBe(200);
    const [stored] = await asFirm(db, ours.id, (scope) =>
      scope.selectFrom("dose").selectAll().where("visit_id", "=", visit).execute(),
    );
    expect(stored).toMatchObject({ given_grams: 123, code });
    expect(stored?.planned_grams).toBeCloseTo(step.grams, 3);
    const unknown = { ...dose, id: uuid(), code: `plan.guess.${step.product}` };
    expect(await faultText(await http.postJson(`/visits/${visit}/dose.data`, unknown))).toMatch(
      /plan\.guess|not known/,
    );
  });

  it("says that stabiliser needs other water, which is not known here", async () => {
    const { plans } = await visitWith({
      ph: [7.4, 7.6],
      alkalinity: 100,
      hardness: 300,
      stabiliser: 90,
      chlorine: 3,
    });
    expect(plans?.[0]?.missed).toMatchObject([{ quantity: "cyanuricAcid", obstacle: "replacement-limit" }]);
  });

  it("is none without pH or alkalinity, or off a scale", async () => {
    expect((await visitWith({ chlorine: 2, alkalinity: 100 })).plans).toBeNull();
  });
});
