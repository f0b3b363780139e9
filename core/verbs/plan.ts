import { STEERED } from "../dosing/plan/goals";
import type { PlanInput } from "../dosing/plan/input";
import { type Plan, plansFor } from "../dosing/plan/plan";
import { predicted } from "../dosing/plan/predict";
import type { Solver } from "../dosing/plan/programme";
import { flagOf, onlyKeys } from "./fields";
import { AHEAD_KEYS, aheadOutput, aheadProperties, planAhead } from "./plan-ahead";
import { LINE_KEYS, lineOf, lineProperties } from "./plan-line";
import type { Fields } from "./verb";
import { numberOf } from "./water";

/**
 * The verb `plan`: what to pour in the minutes of a call and what comes at the next ones; with "still": true one
 * plan for a water that does not drift, with alternatives. Deterministic. A reading that the line leaves out is
 * neither steered nor held.
 * @param solver who solves the programme; loading it is the caller's
 */
export function plan(line: Fields, solver: Solver): object {
  const isStill = flagOf("still", line.still, false);
  onlyKeys("", line, isStill ? [...LINE_KEYS, "still"] : [...LINE_KEYS, "still", ...AHEAD_KEYS]);
  const asked = lineOf(line);
  const { input, setting, set, assumed } = asked;
  const leftAlone = STEERED.filter((quantity) => !input.goals[quantity].known);
  if (!isStill) return { ...planAhead(line, asked, solver), rangeSet: set.id, assumed, leftAlone };
  return {
    plans: plansFor(input, setting, solver).map((one) => answered(input, one)),
    rangeSet: set.id,
    assumed,
    leftAlone,
  };
}

function answered(problem: PlanInput, plan: Plan): object {
  const { name, solved, steps, way, missed, indexOutside, fetch } = plan;
  const { amounts, after, saturation, cost, settled } = solved;
  const intervals = predicted(problem, amounts);
  const readings = ["ph", "totalAlkalinity", "calciumHardness", "cyanuricAcid", "freeChlorine"] as const;
  return {
    name,
    amounts: Object.fromEntries(amounts.grams),
    replaced: { fraction: amounts.replaced, litres: amounts.replaced * problem.litres },
    aerated: amounts.aerated,
    cost,
    predicted: {
      ...Object.fromEntries(
        readings.map((quantity) => [
          quantity === "ph" ? "pH" : quantity,
          {
            value: after[quantity],
            low: intervals?.[quantity].low ?? null,
            high: intervals?.[quantity].high ?? null,
          },
        ]),
      ),
      saturation,
    },
    steps,
    way,
    warnings: missed,
    indexOutside,
    fetch,
    settled,
  };
}

const AROUND = {
  rangeSet: { type: "string" },
  assumed: { type: "object" },
  leftAlone: { type: "array", description: "readings that nothing is dosed for: they were not given" },
} as const;

export const planSchema = {
  input: {
    type: "object",
    properties: {
      ...lineProperties,
      still: {
        type: "boolean",
        default: false,
        description: "one plan for a water that does not drift, with alternatives",
      },
      ...aheadProperties,
    },
    required: ["water", "basin", "products"],
    additionalProperties: false,
  },
  output: {
    type: "object",
    properties: { ...aheadOutput, ...AROUND },
    /** What is answered with "still": true. */
    still: {
      type: "object",
      properties: {
        plans: {
          type: "array",
          description: "of one still water; the first is the one proposed",
          items: {
            type: "object",
            properties: {
              name: { type: "string" },
              amounts: {
                type: "object",
                description: "g as sold, by product; a second of one compound is named product-2",
              },
              replaced: { type: "object", description: "share and litres of water replaced first" },
              aerated: numberOf("carbon dioxide driven out, mmol/L"),
              cost: numberOf("money for what goes in"),
              predicted: {
                type: "object",
                description: "value, and the interval that holds it in 95 of 100 cases",
              },
              steps: { type: "array" },
              way: {
                type: "array",
                description:
                  "every water on the way: after each portion, air and water replaced; step and portion",
              },
              indexOutside: {
                type: ["object", "null"],
                description: "the index, where it ends outside its window",
              },
              fetch: { type: "array", description: "what the shelf lacks: product, strength, g as sold" },
              settled: {
                type: "boolean",
                description: "false: the best that a search found that did not rest",
              },
              warnings: {
                type: "array",
                description: "readings that stay outside, and what stands in the way",
              },
            },
          },
        },
        ...AROUND,
      },
    },
  },
} as const;
