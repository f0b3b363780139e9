import { InputFault, known, numberWithin } from "../fault";
import { balanceOf } from "../judging/balance";
import { bathingOf } from "../judging/bathing";
import { findings, possibleFindings } from "../judging/findings";
import { QUANTITIES, QUANTITY_NAMES, type Quantity } from "../measure/quantity";
import { rangesOf } from "../ranges/range-set";
import { RANGE_SETS } from "../ranges/sets";
import { assumedIn, type DatedReading, waterFromReadings } from "../reading/from-readings";
import {
  closingTroubles,
  type Look,
  nothingFound,
  SENSE_NAMES,
  SENSES,
  type Trouble,
  urgentTroubles,
} from "../testing/order/look";
import { basinFrom, basinProperties } from "./basin";
import { fieldsOf, givenOr, listOf, oneOf, onlyKeys } from "./fields";
import { type Fields, isGiven } from "./verb";
import { numberOf } from "./water";

const BOUNDS = ["within", "at-least", "at-most"] as const;
const KEYS = ["quantity", "value", "low", "high", "bound", "daysAgo"] as const;
const USUAL_SET = "outdoor-fixed-band";

/**
 * The verb `judge`: readings against a range set, and the water that they make.
 * @example judge({ readings: [{ quantity: "ph", value: 8.0, bound: "at-least" }], basin: {}, rangeSet: "public-code" }).closed // true
 */
export function judge(input: Fields): object {
  onlyKeys("", input, ["readings", "basin", "rangeSet", "look"]);
  const { place, surface, sanitiser: told } = basinFrom(givenOr(input, "basin", {}));
  const made = readingsFrom(input.readings);
  // A bromine that was read, and no chlorine, is a bromine basin's.
  const saidOrRead = told ?? (made.bromine && !made.freeChlorine ? "bromine" : null);
  const sanitiser = saidOrRead ?? "chlorine";
  const look = lookFrom(input.look);
  const set = {
    ...known("rangeSet", givenOr(input, "rangeSet", USUAL_SET), RANGE_SETS),
    // Where nothing is said of it, all that was read is judged.
    place: { ...place, sanitiser: saidOrRead },
  };
  const today = Object.fromEntries(Object.entries(made).filter(([, one]) => !one.daysAgo));
  const carried = Object.fromEntries(Object.entries(made).filter(([, one]) => one.daysAgo));
  const water = waterFromReadings(made, place);
  const against = (readings: typeof made) => findings(readings, set, surface, water.water);
  const found = [
    ...against(today).map((finding) => ({ ...finding, certain: true })),
    // Of another day it stays told, with its age; it closes nothing today.
    ...against(carried).map((finding) => ({
      ...finding,
      closes: false,
      certain: true,
      daysAgo: made[finding.quantity]?.daysAgo,
    })),
    ...possibleFindings(today, set, surface, water.water).map(({ possible: _, ...finding }) => ({
      ...finding,
      certain: false,
    })),
  ];
  const closing = found.filter(({ closes }) => closes);
  const bathing = bathingOf({
    sanitiser,
    seen: look && { closing: closingTroubles(look), urgent: urgentTroubles(look) },
    findings: against(today),
    possible: possibleFindings(today, set, surface, water.water),
    tested: Object.fromEntries(Object.keys(today).map((quantity) => [quantity, 0])),
    closers: [],
    incidents: [],
    until: null,
  });
  return {
    findings: found,
    closed: bathing.state === "closed",
    open: bathing.state === "open",
    because: closing.map(({ code }) => code),
    bathing,
    water: water.water,
    standing: water.standing,
    assumed: assumedIn(water),
    possible: water.possible,
    saturation: balanceOf(water)?.saturation ?? null,
    ranges: rangesOf(set, surface, water.water),
    rangeSet: set.id,
  };
}

/** What was found before any test; all as it should be where nothing is said. */
function lookFrom(value: unknown): Look | null {
  if (value === null) return null;
  const found = value === undefined ? [] : listOf("look", value);
  const look = nothingFound();
  for (const [index, entry] of found.entries()) {
    const trouble = oneOf(`look.${index}`, entry, troubleNames);
    const sense = SENSE_NAMES.find((name) => (SENSES[name] as readonly string[]).includes(trouble));
    if (sense) (look[sense] as string[]).push(trouble);
  }
  return look;
}

const troubleNames = SENSE_NAMES.flatMap((sense): readonly Trouble[] => SENSES[sense]);

function readingsFrom(value: unknown): Partial<Record<Quantity, DatedReading>> {
  const made: Partial<Record<Quantity, DatedReading>> = {};
  for (const [index, entry] of listOf("readings", value).entries()) {
    const at = `readings.${index}`;
    const fields = fieldsOf(at, entry);
    onlyKeys(`${at}.`, fields, KEYS);
    const quantity = oneOf(`${at}.quantity`, fields.quantity, QUANTITY_NAMES);
    if (made[quantity]) throw new InputFault("inconsistent", `${at}.quantity`, quantity, "given twice");
    made[quantity] = readingFrom(at, fields, quantity);
  }
  return made;
}

function readingFrom(at: string, fields: Fields, quantity: Quantity): DatedReading {
  const { low: least, high: most, unit } = QUANTITIES[quantity];
  const number = (name: string, low: number, high: number) =>
    numberWithin(`${at}.${name}`, fields[name], low, high);
  const value = number("value", least, most);
  const bound = oneOf(`${at}.bound`, givenOr(fields, "bound", "within"), BOUNDS);
  return {
    value,
    unit,
    bound,
    low: bound === "at-most" ? null : isGiven(fields, "low") ? number("low", least, value) : value,
    high: bound === "at-least" ? null : isGiven(fields, "high") ? number("high", value, most) : value,
    kind: "meter",
    daysAgo: isGiven(fields, "daysAgo") ? number("daysAgo", 0, 36_500) : 0,
  };
}

const number = (description: string, more: object = {}) => ({ type: "number", description, ...more });

export const judgeSchema = {
  input: {
    type: "object",
    properties: {
      readings: {
        type: "array",
        items: {
          type: "object",
          properties: {
            quantity: { enum: QUANTITY_NAMES },
            value: number("as it was read, in the quantity's unit"),
            low: numberOf("the truth lies above; the value itself when left out"),
            high: numberOf("and not over; the value itself when left out"),
            bound: { enum: BOUNDS, default: "within" },
            daysAgo: number("age of a reading that was not made today", { minimum: 0, default: 0 }),
          },
          required: ["quantity", "value"],
          additionalProperties: false,
        },
      },
      basin: { type: "object", properties: basinProperties, additionalProperties: false },
      rangeSet: { enum: Object.keys(RANGE_SETS), default: USUAL_SET },
      look: {
        type: ["array", "null"],
        items: { enum: troubleNames },
        description: "troubles that were seen, heard, smelled or felt; null where nobody looked",
        default: [],
      },
    },
    required: ["readings"],
    additionalProperties: false,
  },
  output: {
    type: "object",
    properties: {
      findings: {
        type: "array",
        description:
          'code, value, bound, limit, aim, closes; "certain" false where only the bracket reaches beyond, "mayClose" where that far it would close, "daysAgo" for what was read before',
      },
      closed: { type: "boolean", description: "something closes the basin" },
      open: { type: "boolean", description: "sanitiser and pH were read and are inside, and nothing closes" },
      bathing: {
        type: "object",
        description:
          'whether people may bathe: "state" is closed, untested, care, mixing or open; "because" says why, "urgent" what may not be left as it is',
      },
      because: { type: "array", items: { type: "string" } },
      water: { type: "object", description: "what stands for each reading, mg/L, °C" },
      standing: { type: "object", description: "read, carried, old, at-least, at-most or assumed" },
      assumed: { type: "array", items: { type: "string" } },
      possible: { type: "boolean", description: "false when the readings cannot belong to one water" },
      saturation: { type: ["object", "null"], description: "null without pH, alkalinity and hardness" },
      ranges: { type: "object", description: "as they apply in this water" },
      rangeSet: numberOf("id of the set"),
    },
  },
} as const;
