import { millisecondsInDay } from "date-fns/constants";
import { fedPrice, feederMost } from "../dosing/horizon/feeders";
import { knownToday } from "../dosing/horizon/known";
import { horizonPlan } from "../dosing/horizon/plan";
import {
  type Between,
  type Feeder,
  type HorizonProblem,
  MINUTES_LIMITS,
  MOST_CALLS,
  USUAL_MINUTES,
} from "../dosing/horizon/problem";
import type { ToldHabits } from "../dosing/horizon/rates";
import { STEERED } from "../dosing/plan/goals";
import type { Solver } from "../dosing/plan/programme";
import type { DriftPlace } from "../drift/habits";
import { InputFault, known, numberWithin } from "../fault";
import type { LoggedReading } from "../learning/log";
import { USUAL_FILL } from "../learning/start-water";
import { addTo } from "../products/effects";
import { PRODUCT_IDS, PRODUCTS, type ProductId } from "../products/products";
import type { Figure } from "../uncertainty/figure";
import { usualSpreads } from "../uncertainty/spread";
import { readingsOf } from "../water/equilibrium";
import { SAMPLE_LIMITS, type Sample, totalsOf } from "../water/sample";
import { saturation } from "../water/saturation";
import { beliefOf } from "./belief";
import { fieldsOf, givenOr, listOf, oneOf, onlyKeys } from "./fields";
import type { PlanLine } from "./plan-line";
import { type Fields, isGiven } from "./verb";
import { locationByClock, locationOf, timeOf, weatherOf } from "./when";

/** The verb `plan` over several calls. */

export const AHEAD_KEYS = [
  "minutes",
  "calls",
  "now",
  "habits",
  "belief",
  "feeder",
  "between",
  "weather",
  "location",
] as const;

const FEEDERS = ["none", "tablets", "saltCell", "pump"] as const;
const HABITS = [
  "litres",
  "chlorineLoss",
  "phRise",
  "alkalinityChange",
  "calciumClimb",
  "stabiliserClimb",
  "feeder",
] as const;
/** A number this small among the calls is days from now. */
const DAYS_AT_MOST = 100;
/** Where nobody says when now is, the first call is as far off as the second from the first, or this. */
const USUAL_DAYS = 7;
/** A day of early summer, for a line that names no day. */
const USUAL_NOW = Date.UTC(2026, 5, 1, 12);
const FARTHEST_DAYS = 60;

/** What a line asks of the calls ahead, as a problem. */
export function horizonOfLine(
  line: Fields,
  { input, setting, set, surface, place }: PlanLine,
): HorizonProblem {
  const minutes = numberWithin(
    "minutes",
    givenOr(line, "minutes", USUAL_MINUTES),
    MINUTES_LIMITS.low,
    MINUTES_LIMITS.high,
  );
  const { from, calls } = timesOf(line);
  const told = habitsOf(line.habits);
  const asked = feederOf(line.feeder);
  const driftPlace: DriftPlace = {
    kind: place.kind,
    outdoors: place.outdoors,
    feeder: asked?.kind ?? "none",
  };
  const location = isGiven(line, "location") ? locationOf(line.location) : locationByClock([from]);
  const weather = isGiven(line, "weather")
    ? listOf("weather", line.weather).map((one, index) => weatherOf(`weather.${index}`, one))
    : [];
  const fill = totalsOf(input.fill ?? USUAL_FILL);
  const asSet = asked?.now === undefined ? told : { ...told, feeder: sure(asked.now) };
  const { rates, believed, gives } = knownToday(
    { posterior: beliefOf(line, driftPlace, input.litres, from, asked?.now), habits: asSet },
    {
      place: driftPlace,
      water: input.water,
      visits: [{ at: from, readings: readingsOfLine(input.water, line), doses: [] }],
      fill,
      from,
      location,
      weather,
    },
  );
  const feeder: Feeder | null = asked && {
    kind: asked.kind,
    most: asked.most ?? feederMost(rates.feeder),
    pricePerKg: asked.pricePerKg ?? fedPrice(asked.kind, input.products),
    gives,
  };
  const posed = {
    ...input,
    tablets: asked?.kind === "tablets",
    cell: asked?.kind === "saltCell",
  };
  return {
    still: { input: posed, setting, set, surface, spreads: usualSpreads(input.water), leftAlone: [] },
    from,
    calls,
    minutes,
    rates,
    believed,
    feeder,
    between: betweenOf(line.between),
    outdoors: place.outdoors,
    location,
    weather,
  };
}

export function planAhead(line: Fields, asked: PlanLine, solver: Solver): object {
  const problem = horizonOfLine(line, asked);
  const { location } = problem;
  const { input } = asked;
  const plan = horizonPlan(problem, solver);
  const times = (at: number | null) => (at === null ? null : new Date(at).toISOString());
  let water = totalsOf(input.water);
  return {
    now: plan.pours.map((pour, index) => {
      const step = plan.now.steps[index];
      const reason = plan.reasons.find(({ product }) => product === pour.product);
      const strength = input.products.find(({ key }) => key === pour.product)?.strength ?? 1;
      water = addTo(water, [{ product: pour.compound, strength, grams: pour.grams }], input.litres).totals;
      const after = readingsOf(water);
      return {
        ...pour,
        ...(step?.kind === "dose" ? { waitMinutes: step.waitMinutes, cautions: step.cautions } : {}),
        ...(reason ? { for: reason.quantity, without: reason.without, limit: reason.limit } : {}),
        after: { ...after, saturation: saturation(after).full.corrected },
      };
    }),
    leave: plan.leave.map((one) => (one.code === "sign" ? { ...one, until: times(one.until) } : one)),
    calls: plan.calls.map(({ at, doses }) => ({
      at: times(at),
      doses,
      expected: plan.promised.find((promised) => promised.at === at)?.readings,
    })),
    projects: plan.projects,
    promised: plan.promised.map(({ at, readings }) => ({ at: times(at), ...readings })),
    minutes: plan.minutes,
    opens: times(plan.opens),
    cost: plan.cost.now,
    costAhead: plan.cost.ahead,
    leftOut: plan.leftOut,
    fetch: plan.fetch,
    open: plan.open.map((one) => ({ ...one, at: times(one.at) })),
    indexMoved: plan.indexMoved,
    settled: plan.now.settled,
    location,
  };
}

/** Now and the calls after it, the nearest first; at most as many as a plan looks ahead. */
function timesOf(line: Fields): { from: number; calls: number[] } {
  const given = listOf("calls", givenOr(line, "calls", []));
  const areDays = given.every((one) => typeof one === "number" && one > 0 && one <= DAYS_AT_MOST);
  const stated = isGiven(line, "now") ? timeOf("now", line.now) : null;
  const read = given.map((one, index) =>
    areDays ? (stated ?? USUAL_NOW) + (one as number) * millisecondsInDay : timeOf(`calls.${index}`, one),
  );
  const calls = [...new Set(read)].sort((a, b) => a - b).slice(0, MOST_CALLS);
  const [first, second] = calls;
  const between =
    first !== undefined && second !== undefined ? second - first : USUAL_DAYS * millisecondsInDay;
  const from = stated ?? (areDays || first === undefined ? USUAL_NOW : first - between);
  calls.forEach((at, index) => {
    if (at <= from)
      throw new InputFault("too-low", `calls.${index}`, given[index], new Date(from).toISOString());
    if (at > from + FARTHEST_DAYS * millisecondsInDay)
      throw new InputFault("too-high", `calls.${index}`, given[index], `${FARTHEST_DAYS} days ahead`);
  });
  return { from, calls };
}

/** A reading of the line, as sure as a usual test has it; what the line leaves out was not read. */
function readingsOfLine(water: Sample, line: Fields): LoggedReading[] {
  const given = fieldsOf("water", line.water);
  const spreads = usualSpreads(water);
  const read = STEERED.filter((quantity) => isGiven(given, quantity)).map((quantity) => ({
    quantity,
    value: water[quantity],
    low: spreads[quantity].low,
    high: spreads[quantity].high,
  }));
  const { temperature } = water;
  return isGiven(given, "temperature")
    ? [
        ...read,
        { quantity: "temperature", value: temperature, low: temperature - 0.5, high: temperature + 0.5 },
      ]
    : read;
}

const sure = (value: number): Figure => ({ value, low: value * 0.9, high: value * 1.1 });

/** Habits as `learn` answers them; a number alone is taken for sure. */
function habitsOf(value: unknown): ToldHabits {
  if (value === undefined || value === null) return {};
  const fields = fieldsOf("habits", value);
  onlyKeys("habits.", fields, [...HABITS, "about"]);
  const told: Record<string, Figure> = {};
  for (const name of HABITS) {
    if (!isGiven(fields, name)) continue;
    const at = `habits.${name}`;
    const one = fields[name];
    const parts: Fields = typeof one === "number" ? { value: one } : fieldsOf(at, one);
    onlyKeys(`${at}.`, parts, ["value", "low", "high"]);
    const middle = numberWithin(`${at}.value`, parts.value, -1e7, 1e8);
    const low = numberWithin(`${at}.low`, givenOr(parts, "low", middle), -1e7, 1e8);
    const high = numberWithin(`${at}.high`, givenOr(parts, "high", middle), -1e7, 1e8);
    if (low > middle || high < middle)
      throw new InputFault("inconsistent", `${at}.value`, middle, [low, high]);
    told[name] = { value: middle, low, high };
  }
  return isGiven(fields, "about") ? { ...told, about: aboutOf(fields.about) } : told;
}

/** The water and the week that habits were told for. */
function aboutOf(value: unknown): NonNullable<ToldHabits["about"]> {
  const fields = fieldsOf("habits.about", value);
  onlyKeys("habits.about.", fields, ["from", "water", "sun"]);
  const given = fieldsOf("habits.about.water", fields.water);
  const water: Record<string, number> = {};
  for (const [name, { low, high }] of Object.entries(SAMPLE_LIMITS))
    water[name] = numberWithin(`habits.about.water.${name}`, given[name], low, high);
  return {
    from: timeOf("habits.about.from", fields.from),
    water: water as unknown as Sample,
    sun: numberWithin("habits.about.sun", fields.sun, 0, 1),
  };
}

interface AskedFeeder {
  kind: Feeder["kind"];
  now?: number;
  most?: number;
  pricePerKg?: number;
}

/** A feeder by its kind, or with what it gives and can give, mg/L of chlorine a day. */
function feederOf(value: unknown): AskedFeeder | null {
  if (value === undefined || value === null) return null;
  const fields: Fields = typeof value === "string" ? { kind: value } : fieldsOf("feeder", value);
  onlyKeys("feeder.", fields, ["kind", "now", "most", "pricePerKg"]);
  const kind = oneOf(typeof value === "string" ? "feeder" : "feeder.kind", fields.kind, FEEDERS);
  if (kind === "none") return null;
  const number = (name: "now" | "most" | "pricePerKg", most: number) =>
    isGiven(fields, name) ? { [name]: numberWithin(`feeder.${name}`, fields[name], 0, most) } : {};
  return { kind, ...number("now", 50), ...number("most", 100), ...number("pricePerKg", 10_000) };
}

/** What the people there give between the calls. */
function betweenOf(value: unknown): Between | null {
  if (value === undefined || value === null) return null;
  const fields = fieldsOf("between", value);
  onlyKeys("between.", fields, ["product", "strength", "grams", "everyDays"]);
  known("between.product", fields.product, PRODUCTS);
  const product = fields.product as ProductId;
  return {
    product,
    strength: numberWithin(
      "between.strength",
      givenOr(fields, "strength", PRODUCTS[product].strength),
      0.01,
      1.2,
    ),
    grams: numberWithin("between.grams", fields.grams, 0, 100_000),
    everyDays: numberWithin("between.everyDays", fields.everyDays, 0.5, 60),
  };
}

const number = (description: string, more: object = {}) => ({ type: "number", description, ...more });
const time = { type: "string", format: "date-time" } as const;

export const aheadProperties = {
  minutes: number("for pouring, with every separation", {
    minimum: MINUTES_LIMITS.low,
    maximum: MINUTES_LIMITS.high,
    default: USUAL_MINUTES,
  }),
  now: { ...time, description: "left out: as long before the first call as that is before the second" },
  calls: {
    type: "array",
    description: "when the next calls are made, at most four; or numbers, days from now",
    items: { type: ["string", "number"] },
  },
  habits: {
    type: "object",
    description: "as `learn` answers them; a number alone is taken for sure",
    properties: {
      ...Object.fromEntries(HABITS.map((name) => [name, { type: ["number", "object"] }])),
      about: { type: "object", description: "the water and the week that they were told for" },
    },
    additionalProperties: false,
  },
  belief: {
    type: "object",
    description: "as `learn` answers it for this basin on this day or an earlier one; it outranks `habits`",
  },
  feeder: {
    description:
      "its kind, or an object: what it gives now and can give, mg/L of chlorine a day, and money a kg of it",
    anyOf: [{ enum: FEEDERS }, { type: "object" }],
  },
  between: {
    type: "object",
    description: "what the people there give after so many days without a call, again and again, g as sold",
    properties: {
      product: { enum: PRODUCT_IDS },
      strength: number("the usual one when left out"),
      grams: number("a dose", { minimum: 0 }),
      everyDays: number("days", { minimum: 0.5 }),
    },
    required: ["product", "grams", "everyDays"],
    additionalProperties: false,
  },
  weather: { type: "array", description: "as `learn` takes it" },
  location: {
    type: "object",
    description:
      "latitude and longitude, degrees; left out, 40° north, and east or west by the hour of `now`",
  },
} as const;

export const aheadOutput = {
  now: {
    type: "array",
    description:
      "what is poured, one entry a pour: product, grams, when it begins and ends in minutes, what for, the water after it",
  },
  leave: { type: "array", description: "what is set before leaving: feeder, air, pump, cover, sign" },
  calls: { type: "array", description: "what the next calls are expected to give, and to find" },
  projects: { type: "array", description: "what takes days: litres, hours, turns, cost, cautions" },
  promised: {
    type: "array",
    description: "each reading as the calls will find it, before anything is added, with its central 90 %",
  },
  minutes: number("from the first pour to the end of the last"),
  opens: { type: ["string", "null"], description: "when bathing may start; null until a test says so" },
  cost: number("money for what is poured now"),
  costAhead: number("money until the last call, feeder included"),
  leftOut: { type: "array", description: "what did not fit, and why" },
  fetch: { type: "array", description: "what the shelf lacks for today: product, strength, g as sold" },
  open: { type: "array", description: "readings that stay outside after today, and what becomes of them" },
  indexMoved: {
    type: ["object", "null"],
    description: "the saturation index where today's pours take it farther outside: from, to, and the limit",
  },
  settled: { type: "boolean", description: "false: the best that a search found that did not rest" },
  location: { type: "object", description: "as given, or 40° north and east or west by the hour of `now`" },
} as const;
