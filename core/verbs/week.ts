import { InputFault, numberWithin } from "../fault";
import { addDays, isDay } from "../schedule/days";
import { learnPace, pairOf } from "../schedule/pace";
import { PLACE_LIMITS, type SitePlace, waysOf } from "../week/place";
import { MOST_DAYS, type WeekBasin, type WeekCall, type WeekPerson, type WeekProblem } from "../week/problem";
import { suggestWeek, type WeekSolver } from "../week/suggest";
import { fewestWithout, mostWithout, WISH_LIMITS } from "../week/wishes";
import { callWorth } from "../week/worth";
import { fieldsOf, flagOf, givenOr, listOf, onlyKeys } from "./fields";
import { AHEAD_KEYS, aheadProperties, horizonOfLine } from "./plan-ahead";
import { LINE_KEYS, lineOf, lineProperties } from "./plan-line";
import { type Fields, isGiven } from "./verb";

/** The verb `week`. */

const KEYS = [
  "from",
  "days",
  "basins",
  "people",
  "ways",
  "closed",
  "stands",
  "minuteWorth",
  "changeWorth",
  "turns",
] as const;
const OWN_KEYS = [
  "id",
  "site",
  "place",
  "since",
  "least",
  "most",
  "allowed",
  "fixed",
  "must",
  "daily",
  "use",
  "mayGo",
  "load",
] as const;
const PERSON_KEYS = ["id", "hours", "off", "start", "carries"] as const;

const LIMITS = {
  basins: 500,
  people: 50,
  minutes: { low: 1, high: 480 },
  since: { low: 1, high: 400 },
  way: { low: 0, high: 600 },
  load: { low: 0, high: 5000 },
  worth: { low: 0, high: 1 },
  change: { low: 0, high: 100 },
  turns: { low: 0, high: 500 },
} as const;
const USUAL = { days: 7, minutes: 40, way: 12, minuteWorth: 0.01, changeWorth: 0.1, turns: 20 } as const;

/** Draws up the next weeks: who calls at which basin on which day, with the reason of every change. */
export function weekLine(line: Fields, solver: WeekSolver): object {
  onlyKeys("", line, KEYS);
  const suggestions = suggestWeek(problemOfLine(line), solver);
  const turns = numberWithin(
    "turns",
    givenOr(line, "turns", USUAL.turns),
    LIMITS.turns.low,
    LIMITS.turns.high,
  );
  let best = suggestions.next().value;
  for (let turn = 0; turn <= turns; turn++) best = suggestions.next().value;
  return best;
}

function problemOfLine(line: Fields): WeekProblem {
  const from = dayOf("from", line.from);
  const days = numberWithin("days", givenOr(line, "days", USUAL.days), 1, MOST_DAYS);
  const listed = listOf("basins", line.basins);
  if (listed.length > LIMITS.basins) throw new InputFault("too-long", "basins", listed.length, LIMITS.basins);
  const basins = listed.map((one, index) =>
    inside(`basins.${index}`, () => basinOf(fieldsOf("", one), from)),
  );
  const people = listOf("people", line.people);
  if (people.length > LIMITS.people) throw new InputFault("too-long", "people", people.length, LIMITS.people);
  const stands = listOf("stands", givenOr(line, "stands", [])).map((one, index): WeekCall => {
    const fields = fieldsOf(`stands.${index}`, one);
    onlyKeys(`stands.${index}.`, fields, ["day", "person", "basin"]);
    return {
      day: dayOf(`stands.${index}.day`, fields.day),
      person: textOf(`stands.${index}.person`, givenOr(fields, "person", "")),
      basin: textOf(`stands.${index}.basin`, fields.basin),
    };
  });
  const end = addDays(from, days);
  const isOf = (id: string, { basin, day }: WeekCall) => basin === id && day >= from && day < end;
  return {
    from,
    days,
    basins: basins.map(({ basin, contractMost }) => ({
      ...basin,
      fewest: fewestWithout(contractMost, stands.filter((call) => isOf(basin.id, call)).length),
    })),
    people: people.map((one, index) => inside(`people.${index}`, () => personOf(fieldsOf("", one)))),
    ways: waysOfLine(line, basins),
    closed: daysOf("closed", line.closed),
    stands,
    minuteWorth: numberWithin(
      "minuteWorth",
      givenOr(line, "minuteWorth", USUAL.minuteWorth),
      LIMITS.worth.low,
      LIMITS.worth.high,
    ),
    changeWorth: numberWithin(
      "changeWorth",
      givenOr(line, "changeWorth", USUAL.changeWorth),
      LIMITS.change.low,
      LIMITS.change.high,
    ),
  };
}

interface Told {
  basin: Omit<WeekBasin, "fewest">;
  /** Days between two calls at most, as the line says it. */
  contractMost: number | null;
  place: SitePlace | null;
}

function basinOf(fields: Fields, from: string): Told {
  onlyKeys("", fields, [...LINE_KEYS, ...AHEAD_KEYS, ...OWN_KEYS]);
  const id = textOf("id", fields.id);
  const whole = (field: string, otherwise: number | null) =>
    isGiven(fields, field)
      ? numberWithin(field, fields[field], WISH_LIMITS.gap.low, WISH_LIMITS.gap.high)
      : otherwise;
  // The line of a plan, at noon of the first day; when the calls are is what is asked.
  const { calls: _, minutes, ...rest } = fields;
  const asked = lineOf(rest);
  const problem = horizonOfLine({ ...rest, now: givenOr(rest, "now", `${from}T12:00:00Z`) }, asked);
  const every = isGiven(fields, "since") ? null : 7;
  const most = whole("most", every === null ? null : mostWithout(every));
  const least = whole("least", 1) ?? 1;
  if (most !== null && most < least) throw new InputFault("too-low", "most", most, least);
  return {
    basin: {
      id,
      site: textOf("site", givenOr(fields, "site", id)),
      minutes: numberWithin("minutes", minutes ?? USUAL.minutes, LIMITS.minutes.low, LIMITS.minutes.high),
      worth: callWorth(problem),
      since: isGiven(fields, "since")
        ? numberWithin("since", fields.since, LIMITS.since.low, LIMITS.since.high)
        : null,
      use: listOf("use", givenOr(fields, "use", [])).map((one, index) =>
        numberWithin(`use.${index}`, one, WISH_LIMITS.use.low, WISH_LIMITS.use.high),
      ),
      must: daysOf("must", fields.must),
      allowed: isGiven(fields, "allowed") ? weekdaysOf("allowed", fields.allowed) : null,
      fixed: weekdaysOf("fixed", givenOr(fields, "fixed", [])),
      daily: flagOf("daily", fields.daily, false),
      least,
      most,
      season: null,
      mayGo: isGiven(fields, "mayGo")
        ? listOf("mayGo", fields.mayGo).map((one, index) => textOf(`mayGo.${index}`, one))
        : null,
      load: numberWithin("load", givenOr(fields, "load", 0), LIMITS.load.low, LIMITS.load.high),
    },
    contractMost: isGiven(fields, "most") ? most : null,
    place: isGiven(fields, "place") ? placeOfLine("place", fields.place) : null,
  };
}

function personOf(fields: Fields): WeekPerson {
  onlyKeys("", fields, PERSON_KEYS);
  const hours = listOf("hours", givenOr(fields, "hours", []));
  if (hours.length !== 0 && hours.length !== 7) throw new InputFault("malformed", "hours", hours.length, 7);
  return {
    id: textOf("id", fields.id),
    hours: hours.map((one, index) =>
      numberWithin(`hours.${index}`, one, WISH_LIMITS.hours.low, WISH_LIMITS.hours.high),
    ),
    off: daysOf("off", fields.off),
    start: isGiven(fields, "start") ? textOf("start", fields.start) : null,
    carries: isGiven(fields, "carries")
      ? numberWithin("carries", fields.carries, WISH_LIMITS.carries.low, WISH_LIMITS.carries.high)
      : null,
  };
}

/** Ways as they are told, else by how far sites lie apart, else as is usual. */
function waysOfLine(line: Fields, basins: readonly Told[]): WeekProblem["ways"] {
  const told = fieldsOf("ways", givenOr(line, "ways", {}));
  onlyKeys("ways.", told, ["known", "usual"]);
  const minutes = (field: string, value: unknown) =>
    numberWithin(field, value, LIMITS.way.low, LIMITS.way.high);
  const known: Record<string, number> = {};
  listOf("ways.known", givenOr(told, "known", [])).forEach((one, index) => {
    const at = `ways.known.${index}`;
    const fields = fieldsOf(at, one);
    onlyKeys(`${at}.`, fields, ["from", "to", "minutes"]);
    const pair = pairOf(textOf(`${at}.from`, fields.from), textOf(`${at}.to`, fields.to));
    known[pair] = minutes(`${at}.minutes`, fields.minutes);
  });
  const places = new Map(basins.flatMap(({ basin, place }) => (place ? [[basin.site, place] as const] : [])));
  const sites = [...new Set(basins.map(({ basin }) => basin.site))];
  const byPlace = waysOf(
    learnPace([], () => ""),
    places,
    sites,
  );
  return {
    known: { ...byPlace.known, ...known },
    usual: minutes("ways.usual", givenOr(told, "usual", USUAL.way)),
  };
}

const placeOfLine = (field: string, value: unknown): SitePlace => {
  const fields = fieldsOf(field, value);
  onlyKeys(`${field}.`, fields, ["latitude", "longitude"]);
  const { latitude, longitude } = PLACE_LIMITS;
  return {
    latitude: numberWithin(`${field}.latitude`, fields.latitude, latitude.low, latitude.high),
    longitude: numberWithin(`${field}.longitude`, fields.longitude, longitude.low, longitude.high),
  };
};

/** A fault within one of a list names the list and the place in it. */
function inside<T>(at: string, work: () => T): T {
  try {
    return work();
  } catch (fault) {
    if (!(fault instanceof InputFault)) throw fault;
    throw new InputFault(fault.code, fault.field ? `${at}.${fault.field}` : at, fault.value, fault.limit);
  }
}

const LONGEST = 80;

function textOf(field: string, value: unknown): string {
  if (value === undefined || value === null) throw new InputFault("missing", field, value);
  if (typeof value !== "string") throw new InputFault("malformed", field, value, "text");
  if (value.length > LONGEST) throw new InputFault("too-long", field, value, LONGEST);
  return value;
}

function dayOf(field: string, value: unknown): string {
  if (value === undefined || value === null) throw new InputFault("missing", field, value);
  if (typeof value !== "string" || !isDay(value))
    throw new InputFault("malformed", field, value, "a day as 2026-05-01");
  return value;
}

const daysOf = (field: string, value: unknown): string[] =>
  listOf(field, value ?? []).map((one, index) => dayOf(`${field}.${index}`, one));

const weekdaysOf = (field: string, value: unknown): number[] =>
  listOf(field, value).map((one, index) => {
    const day = numberWithin(`${field}.${index}`, one, 1, 7);
    if (!Number.isInteger(day)) throw new InputFault("not-a-whole-number", `${field}.${index}`, day);
    return day;
  });

const number = (description: string, more: object = {}) => ({ type: "number", description, ...more });
const list = (items: object, description: string) => ({ type: "array", items, description });
const day = { type: "string", format: "date" } as const;
const weekday = { type: "integer", minimum: 1, maximum: 7 } as const;
const call = {
  type: "object",
  properties: { day, person: { type: "string" }, basin: { type: "string" } },
} as const;

export const weekSchema = {
  input: {
    type: "object",
    properties: {
      from: { ...day, description: "the first day that is drawn up" },
      days: number("how many", { minimum: 1, maximum: MOST_DAYS, default: USUAL.days }),
      basins: list(
        {
          type: "object",
          properties: {
            id: { type: "string" },
            site: { type: "string", description: "basins of one site have no way between them" },
            place: {
              type: "object",
              properties: { latitude: { type: "number" }, longitude: { type: "number" } },
            },
            ...lineProperties,
            ...aheadProperties,
            since: number("days from the last call to the first day"),
            least: number("days between two calls by the contract, at least"),
            most: number("at most; when left out, a basin keeps as many calls as stand"),
            allowed: list(weekday, "weekdays that the customer allows; 1 is Monday"),
            fixed: list(weekday, "weekdays with a call each week"),
            must: list(day, "days with a call: before an event, of a job"),
            daily: { type: "boolean", description: "the law asks for a test every day" },
            use: list({ type: "number" }, "how much each day counts, from the first on"),
            mayGo: list({ type: "string" }, "who has keys and license; everybody when left out"),
            load: number("kg that a call takes from the truck"),
          },
          required: ["id", "water", "basin", "products"],
          additionalProperties: false,
        },
        "a line as for plan each, with what its calls have to keep to",
      ),
      people: list(
        {
          type: "object",
          properties: {
            id: { type: "string" },
            hours: list({ type: "number" }, "minutes of each weekday from Monday on; none when left out"),
            off: list(day, "days off"),
            start: { type: "string", description: "the site where the day begins and ends" },
            carries: number("kg that the truck carries"),
          },
          required: ["id"],
          additionalProperties: false,
        },
        "who calls",
      ),
      ways: {
        type: "object",
        properties: {
          known: list({ type: "object" }, "minutes between sites: from, to, minutes"),
          usual: number("minutes where nothing else is known"),
        },
        additionalProperties: false,
      },
      closed: list(day, "days on which nobody works"),
      stands: list(call, "calls as they stand, each day's in their order"),
      minuteWorth: number("days that a basin must be right longer for a minute of work"),
      changeWorth: number("days that basins must be right longer for a call that moves"),
      turns: number("how long it is looked for, in hundreds of tries"),
    },
    required: ["from", "basins", "people"],
    additionalProperties: false,
  },
  output: {
    type: "object",
    properties: {
      calls: list(call, "who calls where, each day's in their order"),
      changes: list(
        { type: "object" },
        "of each basin: the calls that go and come, because of a rule, the water or minutes, the share of the time that it is right before and after, and minutes more",
      ),
      conflicts: list(
        { type: "object" },
        "rules that do not hold together: which is broken, what stands against it, what would have to give",
      ),
      impossible: { type: "boolean", description: "whether that is proven" },
      before: { type: "object", description: "right, calls, minutes, way as it stands" },
      after: { type: "object" },
      worth: { type: "number" },
      bound: { type: ["number", "null"], description: "no arrangement is worth more" },
    },
  },
} as const;
