import { USUAL_MINUTES } from "../dosing/horizon/problem";
import { known, numberWithin } from "../fault";
import { type Held, HOLD_DAYS, hold, PROMISED, USUAL_CALL_PRICE } from "../hold/hold";
import { RANGE_SETS } from "../ranges/sets";
import { flagOf, givenOr, listOf, onlyKeys } from "./fields";
import { AHEAD_KEYS, aheadProperties, horizonOfLine } from "./plan-ahead";
import { LINE_KEYS, lineOf, lineProperties } from "./plan-line";
import type { Fields } from "./verb";

/** The verb `hold`. */

const KEYS = ["sets", "layman", "callPrice", "callMinutes"] as const;

/** How much of four weeks chlorine and pH are right as a basin is kept, and by what other means they would be. */
export function holdLine(line: Fields): object {
  onlyKeys("", line, [...LINE_KEYS, ...AHEAD_KEYS, ...KEYS]);
  const asked = lineOf(line);
  const problem = horizonOfLine(line, asked);
  const answer = hold(problem, {
    sets: listOf("sets", givenOr(line, "sets", [])).map((id, index) =>
      known(`sets.${index}`, id, RANGE_SETS),
    ),
    ...(flagOf("layman", line.layman, true) ? {} : { laymen: [] }),
    callPrice: numberWithin("callPrice", givenOr(line, "callPrice", USUAL_CALL_PRICE), 0, 10_000),
    callMinutes: numberWithin("callMinutes", givenOr(line, "callMinutes", USUAL_MINUTES), 1, 480),
  });
  return {
    asItIs: heldAnswer(answer.asItIs),
    ways: answer.ways.map(heldAnswer),
    cheapest: answer.cheapest && heldAnswer(answer.cheapest),
    short: answer.short,
    days: HOLD_DAYS,
    promised: PROMISED,
    location: problem.location,
    rangeSet: asked.set.id,
    assumed: asked.assumed,
  };
}

const heldAnswer = ({ means, ...figures }: Held): object => ({ means, ...figures });

const number = (description: string, more: object = {}) => ({ type: "number", description, ...more });

export const holdSchema = {
  input: {
    type: "object",
    properties: {
      ...lineProperties,
      ...aheadProperties,
      sets: {
        type: "array",
        items: { enum: Object.keys(RANGE_SETS) },
        description: "range sets that the law would allow here instead",
      },
      layman: {
        type: "boolean",
        default: true,
        description: "whether people there may dose between the calls",
      },
      callPrice: number("money for a call beside what is poured", {
        minimum: 0,
        maximum: 10_000,
        default: USUAL_CALL_PRICE,
      }),
      callMinutes: number("minutes of a call", { minimum: 1, maximum: 480, default: USUAL_MINUTES }),
    },
    required: ["water", "basin", "products"],
    additionalProperties: false,
  },
  output: {
    type: "object",
    properties: {
      asItIs: {
        type: "object",
        description:
          "shares of the time: right (chlorine over its floor and pH inside), under, over, phHigh, phLow, each {value, low, high}; cost, minutes, theirMinutes and calls in 30 days",
      },
      ways: {
        type: "array",
        description: "the same by other means: `means` says which, one or several together",
      },
      cheapest: { type: ["object", "null"], description: "the cheapest that promises `promised`" },
      short: {
        type: ["object", "null"],
        description:
          "where chlorine does not last: days after a call, chance, mg/L under the floor, mg/L wanted and the most that may be left",
      },
      days: { type: "number" },
      promised: { type: "number" },
      location: { type: "object" },
      rangeSet: { type: "string" },
      assumed: { type: "object" },
    },
  },
} as const;
