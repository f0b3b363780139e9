import loadHighs from "highs";
import * as core from ".";
import { asked } from "./season/season.fixtures";
import { COMPARATOR_KIT } from "./testing/kits/comparator-kit";
import { STRIP_KIT } from "./testing/kits/strip-kit";
import { TITRATION_KIT } from "./testing/kits/titration-kit";
import { brought, STARTED, uuidOf, WREN } from "./visit/visit.fixtures";
import { NOTHING_WRITTEN } from "./visit/written";
import { POOL_WATER } from "./water/water.fixtures";
import { madeUpWeek } from "./week/week.fixtures";

/** What the examples in the docs of the core's public functions speak of. */
export async function exampleWorld() {
  const call = brought();
  const by = WREN;
  const at = STARTED;
  const id = uuidOf(900);
  const highs = (await loadHighs()) as unknown as core.Highs;
  const solver = core.solverOf(highs);
  const begun = NOTHING_WRITTEN;
  const drops = (methodId: string, count: number, sample: number, place: number) => ({
    id: uuidOf(900 + place),
    methodId,
    seen: { kind: "drops" as const, count, sample },
  });
  const read = core.commandOf(
    "read",
    {
      tests: [
        drops("total-alkalinity", 14, 25, 1),
        drops("free-chlorine-fas-dpd", 10, 25, 2),
        { id: uuidOf(903), methodId: "ph-phenol-red", seen: { kind: "place", place: { from: 7.8, to: 8 } } },
      ],
    },
    { id, by, at },
  );
  const facts = core.decide(call, begun, read);
  const written = core.afterCommand(begun, facts);
  const opened = core.visitOf(call, written, at);
  const problem = core.problemOf(opened);
  const input = core.problemOrThrow(problem).input;
  const horizon = core.horizonOf(opened);
  if ("reason" in horizon) throw new Error(horizon.reason);
  const totals = core.totalsOf(POOL_WATER);
  const alkalinity = core.methodById(TITRATION_KIT, "total-alkalinity") as core.Method;
  const hidden = core.hiddenWater("ordinary", 1);
  return {
    ...core,
    week: madeUpWeek({ seed: 1, basins: 3, days: 7, people: 2, hours: 300 }),
    weekly: { callDays: [2], everyWeeks: 1, weeksFrom: "2026-05-04", season: null },
    hidden,
    vessel: core.newVessel(alkalinity, hidden, 25),
    worked: { method: alkalinity, water: hidden, line: 25, events: [], counted: 0, until: 0 },
    alkalinity: core.methodById(TITRATION_KIT, "total-alkalinity"),
    phenolRed: core.methodById(TITRATION_KIT, "ph-phenol-red"),
    kit: TITRATION_KIT,
    comparator: COMPARATOR_KIT,
    strips: STRIP_KIT,
    set: core.RANGE_SETS["outdoor-fixed-band"],
    water: POOL_WATER,
    totals,
    conditions: core.conditionsOf(totals),
    highs,
    solver,
    input,
    problem,
    horizon,
    brought: call,
    basin: call.basin,
    lightning: { kind: "lightning" as const, at: STARTED },
    now: STARTED,
    bathing: core.bathingAt(opened),
    begun,
    written,
    opened,
    facts,
    seasonAsked: asked(),
    by,
    at,
    id,
  };
}
