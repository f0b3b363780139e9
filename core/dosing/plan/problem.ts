import type { Finding } from "../../judging/findings";
import type { Quantity } from "../../measure/quantity";
import type { RangeSet, Surface } from "../../ranges/range-set";
import { isBounded, isKnown, type WaterEstimate } from "../../reading/from-readings";
import type { Sample } from "../../water/sample";
import { goalsOf, STEERED } from "./goals";
import { type PlanProduct, WEIGHTS } from "./input";
import type { LeftAlone, PlanProblem } from "./shown";
import type { StepSetting } from "./steps";

/** Why no plan can be made of what was read. */
export type NoPlan =
  | { reason: "needs-reading"; quantity: Quantity }
  | { reason: "off-scale"; quantity: Quantity }
  | { reason: "inconsistent" };

/** Readings that no plan can do without: every dose moves them. */
const NEEDS = ["ph", "totalAlkalinity"] as const;

/**
 * Why a water cannot be planned for; null when it can. A pH of another day says nothing about what goes
 * in now, and one off its scale nothing about how much, unless demand drops were counted. Chlorine over
 * its scale makes the pH read wrong.
 * @example whyNoPlan(waterFromValues([], { kind: "pool", outdoors: true })).reason // "needs-reading"
 */
export function whyNoPlan({ standing, possible }: WaterEstimate): NoPlan | null {
  for (const quantity of NEEDS)
    if (standing[quantity] === "assumed" || (quantity === "ph" && standing.ph === "old"))
      return { reason: "needs-reading", quantity };
  for (const quantity of NEEDS) if (isBounded(standing[quantity])) return { reason: "off-scale", quantity };
  if (standing.freeChlorine === "at-least") return { reason: "off-scale", quantity: "freeChlorine" };
  return possible ? null : { reason: "inconsistent" };
}

export interface ProblemInput {
  set: RangeSet;
  surface: Surface;
  litres: number;
  kind: StepSetting["kind"];
  outdoors: boolean;
  findings: readonly Finding[];
  products: readonly PlanProduct[];
  /** What is known of the fill water, mg/L; null when nothing is. */
  fill: { totalAlkalinity: number; calciumHardness: number } | null;
  /** The largest share of the water that may be replaced at a time. */
  mostReplaced: number;
  freshFill?: boolean;
  stabilisedChlorine?: boolean;
  tablets?: boolean;
  cell?: boolean;
}

/** The problem that a planner is given for this water. */
export function problemFor(known: WaterEstimate, given: ProblemInput): PlanProblem {
  const { set, surface, findings, kind, outdoors } = given;
  const { water, spreads, standing, daysAgo } = known;
  const fill = given.fill ? fillWater(given.fill, water.temperature) : null;
  return {
    input: {
      water,
      litres: given.litres,
      goals: goalsOf(set, surface, water, known, { kind, outdoors }),
      products: given.products,
      fill,
      mostReplaced: fill ? given.mostReplaced : 0,
      aeration: true,
      stabilisedChlorine: given.stabilisedChlorine ?? false,
      tablets: given.tablets ?? false,
      cell: given.cell ?? false,
      weights: WEIGHTS,
    },
    setting: {
      kind,
      indoors: !outdoors,
      freshFill: given.freshFill ?? false,
      surface: surface === "vinyl" ? "vinyl" : "other",
      sanitiserFirst: findings.some((finding) => finding.code === "freeChlorine.low" && finding.closes),
    },
    set,
    surface,
    spreads,
    leftAlone: STEERED.flatMap((quantity): LeftAlone[] =>
      isKnown(known, quantity)
        ? []
        : [
            {
              quantity,
              standing: standing[quantity] as LeftAlone["standing"],
              value: water[quantity],
              daysAgo: daysAgo[quantity] ?? null,
            },
          ],
    ),
  };
}

/**
 * Fill water as it comes from the main: its pH and solids are rarely known and matter little.
 * @example fillWater({ totalAlkalinity: 80, calciumHardness: 150 }, 20).ph // 7.6
 */
export const fillWater = (
  known: { totalAlkalinity: number; calciumHardness: number },
  temperature: number,
): Sample => ({
  ...known,
  ph: 7.6,
  cyanuricAcid: 0,
  freeChlorine: 0,
  borate: 0,
  temperature,
  totalDissolvedSolids: 300,
});
