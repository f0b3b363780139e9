import { millisecondsInDay } from "date-fns/constants";
import { BASIN_KINDS } from "../basin/basin";
import type { FeederKind } from "../drift/habits";
import { InputFault, known, numberWithin } from "../fault";
import { learnFirm } from "../learning/learn";
import {
  type BasinLog,
  type FeederSetting,
  LEARNED,
  type LoggedDose,
  type LoggedReading,
  type LoggedVisit,
} from "../learning/log";
import { QUANTITY_NAMES } from "../measure/quantity";
import { BASIN_LITRES, basinLitres } from "../measure/units";
import { molesPerGram, PRODUCT_IDS, PRODUCTS, type ProductId } from "../products/products";
import { mixesLike } from "../ranges/bathing-limits";
import { SURFACES } from "../ranges/range-set";
import { SAMPLE_LIMITS, type Sample } from "../water/sample";
import { beliefAnswer } from "./belief";
import { fieldsOf, flagOf, givenOr, listOf, oneOf, onlyKeys } from "./fields";
import { type Fields, isGiven } from "./verb";
import { locationByClock, locationOf, timeOf, weatherOf } from "./when";

const FEEDERS = ["none", "tablets", "saltCell", "pump"] as const satisfies readonly FeederKind[];
const BOUNDS = ["within", "at-least", "at-most"] as const;
const MOST_BASINS = 1000;
const MOST_GRAMS = 1e6;
/** mg/L of chlorine a day. */
const MOST_SETTING = 100;
/**
 * The verb `learn`: what a firm's logs teach of its basins, what the next calls will find, and what in the
 * book is suspect.
 * @example learn({ now: "2026-06-01T12:00:00Z", basins: [] }).suspicions // []
 */
export function learn(input: Fields): object {
  const now = timeOf("now", input.now);
  const list = listOf("basins", input.basins);
  if (list.length > MOST_BASINS) throw new InputFault("too-high", "basins", list.length, MOST_BASINS);
  const basins = list.map((one, index) => basinOf(`basins.${index}`, one, now));
  const twice = basins.find(({ id }, index) => basins.findIndex((one) => one.id === id) < index);
  if (twice) throw new InputFault("inconsistent", "basins", twice.id, "an id of its own");
  const weather = isGiven(input, "weather")
    ? listOf("weather", input.weather).map((one, index) => weatherOf(`weather.${index}`, one))
    : [];
  const location = isGiven(input, "location")
    ? locationOf(input.location)
    : locationByClock(basins.flatMap(({ visits }) => visits.map(({ at }) => at)));
  const learned = learnFirm({ basins, weather, location });
  if (!learned) throw new Error("learning was stopped, and nobody stops it here");
  return {
    basins: learned.basins.map(({ id, habits, posterior, forecast }) => ({
      id,
      habits: habits.about
        ? { ...habits, about: { ...habits.about, from: new Date(habits.about.from).toISOString() } }
        : habits,
      belief: beliefAnswer(posterior),
      forecast: forecast.map(({ at, ...figures }) => ({ at: new Date(at).toISOString(), ...figures })),
    })),
    suspicions: learned.suspicions.map(({ evidence: _, expected: __, at, ...told }) => ({
      ...told,
      ...(at === undefined ? {} : { at: new Date(at).toISOString() }),
    })),
  };
}

function basinOf(at: string, value: unknown, now: number): BasinLog {
  const fields = fieldsOf(at, value);
  const { id } = fields;
  if (typeof id !== "string" && typeof id !== "number")
    throw new InputFault(id === undefined || id === null ? "missing" : "malformed", `${at}.id`, id, "text");
  if (isGiven(fields, "surface")) oneOf(`${at}.surface`, fields.surface, SURFACES);
  const kind = oneOf(`${at}.kind`, givenOr(fields, "kind", "pool"), BASIN_KINDS);
  const visits = listOf(`${at}.visits`, givenOr(fields, "visits", []))
    .map((one, index) => visitOf(`${at}.visits.${index}`, one, now))
    .sort((a, b) => a.at - b.at);
  return {
    id: String(id),
    litres: basinLitres(`${at}.litres`, fields.litres),
    kind: mixesLike(kind),
    outdoors: flagOf(`${at}.outdoors`, fields.outdoors, true),
    feeder: oneOf(`${at}.feeder`, givenOr(fields, "feeder", "none"), FEEDERS),
    fill: isGiven(fields, "fill") ? fillOf(`${at}.fill`, fields.fill) : {},
    visits,
    ...(isGiven(fields, "settings") ? { settings: settingsOf(`${at}.settings`, fields.settings, now) } : {}),
    ahead: listOf(`${at}.ahead`, givenOr(fields, "ahead", [])).map((one, index) =>
      timeOf(`${at}.ahead.${index}`, one),
    ),
  };
}

/** What its feeder's setting was meant to give, and from when on. */
function settingsOf(at: string, value: unknown, now: number): FeederSetting[] {
  return listOf(at, value)
    .map((one, index): FeederSetting => {
      const fields = fieldsOf(`${at}.${index}`, one);
      onlyKeys(`${at}.${index}.`, fields, ["at", "value"]);
      const time = timeOf(`${at}.${index}.at`, fields.at);
      if (time > now + millisecondsInDay)
        throw new InputFault("too-high", `${at}.${index}.at`, fields.at, new Date(now).toISOString());
      return { at: time, value: numberWithin(`${at}.${index}.value`, fields.value, 0, MOST_SETTING) };
    })
    .sort((a, b) => a.at - b.at);
}

function fillOf(at: string, value: unknown): Partial<Sample> {
  const fields = fieldsOf(at, value);
  const fill: Record<string, number> = {};
  for (const [name, { low, high }] of Object.entries(SAMPLE_LIMITS))
    if (isGiven(fields, name)) fill[name] = numberWithin(`${at}.${name}`, fields[name], low, high);
  return fill;
}

function visitOf(at: string, value: unknown, now: number): LoggedVisit {
  const fields = fieldsOf(at, value);
  const time = timeOf(`${at}.at`, fields.at);
  if (time > now + millisecondsInDay)
    throw new InputFault("too-high", `${at}.at`, fields.at, new Date(now).toISOString());
  return {
    at: time,
    readings: listOf(`${at}.readings`, givenOr(fields, "readings", [])).map((one, index) =>
      readingOf(`${at}.readings.${index}`, one),
    ),
    doses: listOf(`${at}.doses`, givenOr(fields, "doses", [])).map((one, index) =>
      doseOf(`${at}.doses.${index}`, one, time),
    ),
    ...(isGiven(fields, "replaced")
      ? { replaced: numberWithin(`${at}.replaced`, fields.replaced, 0, 1) }
      : {}),
  };
}

const lotOf = (at: string, { lot }: Fields): { lot?: string } => {
  if (lot === undefined || lot === null || lot === "") return {};
  if (typeof lot !== "string" && typeof lot !== "number")
    throw new InputFault("malformed", `${at}.lot`, lot, "text");
  return { lot: String(lot) };
};

function readingOf(at: string, value: unknown): LoggedReading {
  const fields = fieldsOf(at, value);
  const quantity = oneOf(`${at}.quantity`, fields.quantity, QUANTITY_NAMES);
  const read = numberWithin(`${at}.value`, fields.value, -50, 100_000);
  const bound = oneOf(`${at}.bound`, givenOr(fields, "bound", "within"), BOUNDS);
  const end = (name: "low" | "high"): number =>
    isGiven(fields, name) ? numberWithin(`${at}.${name}`, fields[name], -50, 100_000) : read;
  const low = end("low");
  const high = end("high");
  if (low > high) throw new InputFault("inconsistent", `${at}.low`, low, high);
  return {
    quantity,
    value: read,
    low: bound === "at-most" ? Number.NEGATIVE_INFINITY : low,
    high: bound === "at-least" ? Number.POSITIVE_INFINITY : high,
    ...lotOf(at, fields),
  };
}

function doseOf(at: string, value: unknown, visit: number): LoggedDose {
  const fields = fieldsOf(at, value);
  known(`${at}.product`, fields.product, PRODUCTS);
  const product = fields.product as ProductId;
  const strength = numberWithin(
    `${at}.strength`,
    givenOr(fields, "strength", PRODUCTS[product].strength),
    0.001,
    1.2,
  );
  try {
    molesPerGram({ product, strength });
  } catch (fault) {
    if (!(fault instanceof InputFault)) throw fault;
    throw new InputFault(fault.code, `${at}.${fault.field}`, fault.value, fault.limit);
  }
  return {
    at: Math.max(visit, isGiven(fields, "at") ? timeOf(`${at}.at`, fields.at) : visit),
    product,
    strength,
    grams: numberWithin(`${at}.grams`, fields.grams, 0, MOST_GRAMS),
    ...lotOf(at, fields),
  };
}

const figure = {
  type: "object",
  properties: { value: { type: "number" }, low: { type: "number" }, high: { type: "number" } },
  required: ["value", "low", "high"],
  description: "with its central 90 %",
} as const;
const time = { type: "string", format: "date-time" } as const;
const lot = { type: "string", description: "bottle of the titrant, or delivery of the product" } as const;

export const learnSchema = {
  input: {
    type: "object",
    properties: {
      now: time,
      basins: {
        type: "array",
        maxItems: MOST_BASINS,
        items: {
          type: "object",
          properties: {
            id: { type: "string" },
            litres: {
              type: "number",
              minimum: BASIN_LITRES.low,
              maximum: BASIN_LITRES.high,
              description: "by the book",
            },
            kind: { enum: BASIN_KINDS, default: "pool" },
            surface: { enum: SURFACES },
            outdoors: { type: "boolean", default: true },
            feeder: { enum: FEEDERS, default: "none" },
            fill: {
              type: "object",
              properties: Object.fromEntries(
                Object.entries(SAMPLE_LIMITS).map(([name, { low, high }]) => [
                  name,
                  { type: "number", minimum: low, maximum: high },
                ]),
              ),
            },
            visits: {
              type: "array",
              items: {
                type: "object",
                properties: {
                  at: time,
                  readings: {
                    type: "array",
                    items: {
                      type: "object",
                      properties: {
                        quantity: { enum: QUANTITY_NAMES },
                        value: { type: "number" },
                        low: { type: ["number", "null"] },
                        high: { type: ["number", "null"] },
                        bound: { enum: BOUNDS, default: "within" },
                        lot,
                      },
                      required: ["quantity", "value"],
                    },
                  },
                  doses: {
                    type: "array",
                    items: {
                      type: "object",
                      properties: {
                        at: time,
                        product: { enum: PRODUCT_IDS },
                        strength: { type: "number", exclusiveMinimum: 0, maximum: 1.2 },
                        grams: { type: "number", minimum: 0, maximum: MOST_GRAMS },
                        lot,
                      },
                      required: ["product", "grams"],
                    },
                  },
                  replaced: { type: "number", minimum: 0, maximum: 1 },
                },
                required: ["at"],
              },
            },
            settings: {
              type: "array",
              description:
                "what its feeder was set to, mg/L of chlorine a day that the setting is meant to give",
              items: {
                type: "object",
                properties: { at: time, value: { type: "number", minimum: 0, maximum: MOST_SETTING } },
                required: ["at", "value"],
              },
            },
            ahead: { type: "array", items: time },
          },
          required: ["id", "litres"],
        },
      },
      weather: {
        type: "array",
        items: {
          type: "object",
          properties: {
            day: { type: "string", format: "date" },
            air: { type: "number", minimum: -60, maximum: 60, description: "mean of the day, °C" },
            sun: { type: "number", minimum: 0, maximum: 1, description: "share of a clear day's" },
          },
          required: ["day", "air", "sun"],
        },
      },
      location: {
        type: "object",
        properties: {
          latitude: { type: "number", minimum: -90, maximum: 90 },
          longitude: { type: "number", minimum: -180, maximum: 180 },
        },
        required: ["latitude", "longitude"],
        description: "left out, 40° north, and east or west by the hours of the calls",
      },
    },
    required: ["now", "basins"],
  },
  output: {
    type: "object",
    properties: {
      basins: {
        type: "array",
        items: {
          type: "object",
          properties: {
            id: { type: "string" },
            habits: {
              type: "object",
              properties: {
                about: { type: "object", description: "the water and the week that they are told for" },
              },
              additionalProperties: figure,
            },
            belief: {
              type: ["object", "null"],
              description:
                "all that is believed of it at the end of its log, for `plan`; null before its first reading",
            },
            forecast: { type: "array", items: { type: "object" } },
          },
          required: ["id", "habits", "forecast"],
        },
      },
      suspicions: {
        type: "array",
        items: {
          type: "object",
          properties: {
            code: { enum: ["volume", "bottle", "product", "unwritten"] },
            basin: { type: "string" },
            lot: { type: "string" },
            quantity: {
              enum: LEARNED,
              description: "of what nobody wrote down: the reading that tells of it",
            },
            at: { ...time, description: "and when it was made" },
            ratio: figure,
            chance: { type: "number", description: "that the ratio is off by more than a tenth" },
          },
          required: ["code", "ratio", "chance"],
        },
      },
    },
    required: ["basins", "suspicions"],
  },
} as const;
