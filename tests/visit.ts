import { v7 as uuid } from "uuid";
import {
  type Brought,
  type Judgement,
  judge,
  type OpenedVisit,
  type VisitPlan,
  visitOf,
  type Written,
} from "#core";
import { asFirm, type Database } from "#server/db/connection";
import { readVisit } from "#server/db/visit-record";
import { type Client, dataOf } from "./client";
import type { Firm } from "./firm";

/** What a technician read, with the firm's titration kit. */
export interface Read {
  ph?: [number | null, number | null];
  alkalinity?: number;
  hardness?: number;
  stabiliser?: number;
  chlorine?: number;
  combined?: number;
  acidDrops?: number;
}

export const CONFIRMED = ["unlikely-change", "other-sample-size", "chlorine-bleached", "indicator-bleached"];

/** Makes these tests at a visit, over HTTP. */
export async function readAt(http: Client, visit: string, read: Read): Promise<void> {
  const post = (station: string, methodId: string, seen: object) =>
    http.postJson(`/visits/${visit}/${station}`, { id: uuid(), methodId, confirmed: CONFIRMED, seen });
  const count = (station: string, methodId: string, drops: number, sample = 25) =>
    post(station, methodId, { kind: "drops", count: Math.round(drops), sample });
  const place = (station: string, methodId: string, from: number | null, to: number | null) =>
    post(station, methodId, { kind: "place", place: { from, to } });
  if (read.chlorine !== undefined) await count("freeChlorine", "free-chlorine-fas-dpd", read.chlorine / 0.2);
  if (read.combined !== undefined)
    await count("combinedChlorine", "combined-chlorine-fas-dpd", read.combined / 0.2);
  if (read.ph) await place("ph", "ph-phenol-red", ...read.ph);
  if (read.acidDrops !== undefined) await count("acidDemand", "acid-demand", read.acidDrops, 44);
  if (read.alkalinity !== undefined) await count("totalAlkalinity", "total-alkalinity", read.alkalinity / 10);
  if (read.hardness !== undefined) await count("calciumHardness", "calcium-hardness", read.hardness / 10);
  if (read.stabiliser !== undefined)
    await place("cyanuricAcid", "cyanuric-acid-tube", read.stabiliser, read.stabiliser);
}

/** A new visit with these readings; the one before is closed. */
export async function visitWith(db: Database, firm: Firm, http: Client, read: Read): Promise<string> {
  await asFirm(db, firm.id, (scope) =>
    scope.updateTable("visit").set({ finished_at: new Date() }).where("finished_at", "is", null).execute(),
  );
  const start = await http.post(`/basins/${firm.basinId}`, new URLSearchParams({ id: uuid() }));
  const visit = (start.headers.get("location") ?? "").split("/")[2] ?? "";
  await readAt(http, visit, read);
  return visit;
}

/** A visit as its page shows it, over HTTP. */
export async function shownVisit(http: Client, visit: string): Promise<OpenedVisit & Judgement> {
  const loaded = await dataOf<Record<string, { data: { brought: Brought; written: Written; now: Date } }>>(
    await http.get(`/visits/${visit}/judge.data?_routes=routes/visit/layout`),
  );
  const data = loaded["routes/visit/layout"]?.data;
  if (!data) throw new Error("no such visit");
  const opened = visitOf(data.brought, data.written, data.now);
  return { ...opened, ...judge(opened) };
}

/** The plans that were begun in a visit, as they are kept. */
export const plansAt = (db: Database, firm: Firm, visit: string): Promise<VisitPlan[]> =>
  asFirm(
    db,
    firm.id,
    async (scope) =>
      (await readVisit(scope, { id: visit, memberId: firm.memberId }, new Date()))?.written.plans ?? [],
  );
