import { millisecondsInDay } from "date-fns/constants";
import {
  adviseEach,
  daylightHours,
  type Finding,
  findings,
  type Kit,
  type Measurement,
  type Method,
  measure,
  methodFor,
  normal,
  type Observation,
  type ProductId,
  placeOf,
  type Quantity,
  type Random,
  type RangeSet,
  type Readings,
  rangeFor,
  seeded,
  setForBasin,
  waterFromValues,
} from "#core";
import { weatherOn } from "../standins/weather";
import { BASINS, type DemoBasin, SITES, sanitiserOf } from "./cast";
import { drive } from "./roads";
import { PRODUCTS } from "./shelf";
import { STORIES, type Story } from "./stories";
import {
  addProduct,
  burnCombined,
  type HiddenWater,
  LOCATION,
  newWater,
  passDay,
  replaceWater,
  trueReadings,
} from "./water";

/** A visit of the demo year as the simulation leaves it, before it has keys. */
export interface DemoVisit {
  basin: DemoBasin;
  startedAt: Date;
  finishedAt: Date;
  litres: number;
  memberIndex: number;
  readings: { quantity: Quantity; method: Method; seen: Observation; measured: Measurement; at: Date }[];
  findings: Finding[];
  /** Share of the water that was replaced. */
  replaced: number | null;
  doses: { product: ProductId; code: string; planned: number; given: number; at: Date }[];
  note: string;
}

const MINUTE = 60_000;
/** Calls begin at half past eight in the firm's mountain time. */
const FIRST_CALL_UTC_MINUTES = 15 * 60 + 30;
const CALL_MINUTES = 55;
/** Work besides the water takes so long at least. */
export const LEAST_WORK_MINUTES = 14;
const WORK_MINUTES_MORE = 8;

/** Counts drops against the true value: the drop that changes the colour, with a dropper's scatter. */
function countDrops(
  method: Extract<Method, { kind: "titration" }>,
  truth: number,
  random: Random,
): Observation {
  const [fine, coarse] = method.samples;
  const size = fine && coarse && truth / fine.factor > 25 ? coarse : fine;
  if (!size) throw new Error(`${method.id} offers no sample`);
  const seen = Math.max(0, truth * (1 + 0.02 * normal(random)));
  return {
    kind: "drops",
    count: Math.min(500, Math.ceil(seen / size.factor - 0.15)),
    sample: size.millilitres,
  };
}

/** Puts the true value on a scale as an eye would: a mark when close, else between two. */
function placeOn(
  method: Extract<Method, { marks: number[] }>,
  truth: number,
  noise: number,
  random: Random,
): Observation {
  const { marks } = method;
  const seen = truth + noise * normal(random);
  const first = marks[0] ?? 0;
  const last = marks[marks.length - 1] ?? 0;
  const place = (from: number | null, to: number | null): Observation => ({
    kind: "place",
    place: { from, to },
  });
  if (seen <= first) return place(null, first);
  if (seen >= last) return place(last, null);
  const index = marks.findIndex((mark) => mark > seen);
  const below = marks[index - 1] ?? first;
  const above = marks[index] ?? last;
  const share = (seen - below) / (above - below);
  if (share < 0.3)
    return below === first && method.kind === "comparator" ? place(null, first) : place(below, below);
  if (share > 0.7)
    return above === last && method.kind === "comparator" ? place(last, null) : place(above, above);
  return place(below, above);
}

function observe(method: Method, truth: number, random: Random): Observation {
  switch (method.kind) {
    case "titration":
      return countDrops(method, truth, random);
    case "meter":
      return { kind: "number", value: Math.round(truth * 2 + normal(random) * 0.4) / 2 };
    default:
      return placeOn(method, truth, method.quantity === "ph" ? 0.03 : 2.5, random);
  }
}

/** Which tests are due: chlorine and pH every time, alkalinity weekly, hardness and stabiliser monthly. */
function dueTests(visitNumber: number, perWeek: number): Quantity[] {
  const due: Quantity[] = ["freeChlorine", "combinedChlorine", "ph"];
  if (visitNumber % perWeek === 0) due.push("totalAlkalinity");
  if (visitNumber % (perWeek * 4) === 0) due.push("calciumHardness", "cyanuricAcid");
  due.push("temperature");
  return due;
}

interface Setting {
  kit: Kit;
  rangeSets: Record<DemoBasin["rangeSet"], RangeSet>;
  /** Midnight UTC of the firm's today, which is still to come. */
  today: Date;
  days: number;
  seed: number;
}

/** A year of visits at every basin, oldest first. The same setting gives the same year. */
export function demoHistory(setting: Setting): DemoVisit[] {
  const visits = BASINS.flatMap((basin, index) =>
    yearAt(basin, setting, seeded(setting.seed + index * 7919)),
  );
  const inOrder = visits.sort((a, b) => a.startedAt.getTime() - b.startedAt.getTime());
  return driven(inOrder, seeded(setting.seed));
}

/** Each day's calls one after the other: what is done besides the water, then the way to the next. */
function driven(visits: readonly DemoVisit[], random: Random): DemoVisit[] {
  const last = new Map<string, DemoVisit>();
  return visits.map((visit) => {
    const trip = `${visit.startedAt.toISOString().slice(0, 10)} ${visit.memberIndex}`;
    const before = last.get(trip);
    const starts = before
      ? before.finishedAt.getTime() + MINUTE * drive(before.basin.site, visit.basin.site, random)
      : visit.startedAt.getTime();
    const later = starts - visit.startedAt.getTime();
    const moved = (at: Date) => new Date(at.getTime() + later);
    const work = MINUTE * (LEAST_WORK_MINUTES + WORK_MINUTES_MORE * random());
    const made: DemoVisit = {
      ...visit,
      startedAt: moved(visit.startedAt),
      finishedAt: new Date(moved(visit.finishedAt).getTime() + work),
      readings: visit.readings.map((reading) => ({ ...reading, at: moved(reading.at) })),
      doses: visit.doses.map((dose) => ({ ...dose, at: moved(dose.at) })),
    };
    last.set(trip, made);
    return made;
  });
}

function yearAt(basin: DemoBasin, setting: Setting, random: Random): DemoVisit[] {
  const site = SITES.find((known) => known.key === basin.site);
  if (!site) throw new Error(`no site ${basin.site}`);
  const water = newWater(basin);
  const stories = STORIES.filter((story) => story.basins.includes(basin.key));
  const visits: DemoVisit[] = [];
  for (let ago = setting.days; ago >= 1; ago--) {
    const midnight = new Date(setting.today.getTime() - ago * millisecondsInDay);
    const season = Math.cos(((dayOfYear(midnight) - 200) / 365) * 2 * Math.PI);
    const told = (pick: (story: Story) => ((ago: number) => number | undefined) | undefined, plain: number) =>
      stories.reduce((value, story) => pick(story)?.(ago) ?? value, plain);
    const aim = rangeFor(setting.rangeSets[basin.rangeSet], "freeChlorine", basin.surface)?.aim ?? 3;
    passDay(
      water,
      basin,
      site,
      {
        at: midnight.getTime(),
        season,
        clear: clearOn(site.fill.district, midnight),
        feed: aim * told((story) => story.feed, 1),
        open: told((story) => story.open, 1),
      },
      random,
    );
    if (!basin.callDays.includes(midnight.getUTCDay() || 7)) continue;
    visits.push(visitAt(basin, water, setting, midnight, ago, visits.length, stories, random));
  }
  return visits;
}

/** Share of a clear day's sun, of a district that the weather knows. */
function clearOn(district: string, midnight: Date): number {
  const day = midnight.toISOString().slice(0, 10);
  const noon = midnight.getTime() + millisecondsInDay / 2;
  return (weatherOn(district, day)?.sun ?? 0) / daylightHours(noon, LOCATION);
}

const dayOfYear = (date: Date): number =>
  (date.getTime() - Date.UTC(date.getUTCFullYear(), 0, 1)) / millisecondsInDay;

function visitAt(
  basin: DemoBasin,
  water: HiddenWater,
  setting: Setting,
  midnight: Date,
  ago: number,
  number: number,
  stories: readonly Story[],
  random: Random,
): DemoVisit {
  const weekday = midnight.getUTCDay() || 7;
  const place = BASINS.filter((other) => other.callDays.includes(weekday)).indexOf(basin);
  const startedAt = new Date(
    midnight.getTime() + (FIRST_CALL_UTC_MINUTES + place * CALL_MINUTES + Math.floor(random() * 12)) * MINUTE,
  );
  let clock = startedAt.getTime() + 3 * MINUTE;
  const tick = (minutes: number): Date => {
    clock += minutes * MINUTE;
    return new Date(clock);
  };

  const truth = trueReadings(water);
  const litres = stories.reduce((known, story) => story.recordedLitres?.(ago) ?? known, basin.litres);
  const trueValue: Partial<Record<Quantity, number>> = {
    ...truth,
    combinedChlorine: water.combined,
  };
  const readings = dueTests(number, basin.callDays.length).flatMap((quantity) => {
    const method = methodFor(setting.kit, quantity);
    const value = trueValue[quantity];
    if (!method || value === undefined) return [];
    const drift = stories.reduce((factor, story) => story.readsHigh?.(quantity, ago) ?? factor, 1);
    const seen = observe(method, value * drift, random);
    return [
      { quantity, method, seen, measured: measure(method, seen), at: tick(2 + Math.floor(random() * 2)) },
    ];
  });

  const known: Readings = Object.fromEntries(readings.map(({ quantity, measured }) => [quantity, measured]));
  const site = SITES.find((candidate) => candidate.key === basin.site);
  const carried: Readings = {
    totalAlkalinity: {
      value: Math.round(truth.totalAlkalinity / 10) * 10,
      unit: "mg/L",
      low: null,
      high: null,
      bound: "within",
    },
    cyanuricAcid: {
      value: Math.round(truth.cyanuricAcid / 5) * 5,
      unit: "mg/L",
      low: null,
      high: null,
      bound: "within",
    },
  };
  const all = Object.entries({ ...carried, ...known });
  const knownHere = waterFromValues(
    all.map(([name, one]) => ({ ...one, quantity: name as Quantity })),
    placeOf(basin),
  );
  const found = findings(
    known,
    setForBasin(setting.rangeSets[basin.rangeSet], { ...basin, sanitiser: sanitiserOf(basin) }, null),
    basin.surface,
    knownHere.water,
  );
  const advice = adviseEach({
    // A technician who meets a bound adds a usual amount and looks again; so does the one of the demo.
    findings: found.map((finding) => ({ ...finding, bound: "within" as const })),
    readings: { ...carried, ...known },
    known: knownHere,
    litres,
    products: PRODUCTS,
    ...(site ? { fill: { calciumHardness: site.fill.fillHardness } } : {}),
  });
  const doses: DemoVisit["doses"] = [];
  let replaced: number | null = null;
  const notes = stories.flatMap((story) => story.note?.(ago, weekday, basin.callDays) ?? []);
  for (const item of advice) {
    if (item.kind === "replace-water" && basin.litres < 20_000) {
      // Small basins are drained in part when something has climbed too far.
      const share = Math.min(0.6, item.fraction + 0.05);
      replaceWater(water, site ?? SITES[0] ?? raise(), share);
      replaced = 1 - (1 - (replaced ?? 0)) * (1 - share);
      notes.push(`Replaced about ${Math.round(share * 100)} % of the water.`);
    }
    if (item.kind !== "dose") continue;
    const product = PRODUCTS.find((candidate) => candidate.product === item.product);
    if (!product) continue;
    const given = item.grams * (1 + 0.03 * normal(random));
    const strength = stories.reduce((share, story) => story.strength?.(item.product, ago) ?? share, 1);
    addProduct(water, product, given * strength);
    doses.push({
      product: item.product,
      code: item.finding.code,
      planned: item.grams,
      given: Math.max(0, given),
      at: tick(6),
    });
  }
  burnCombined(water);
  return {
    basin,
    startedAt,
    finishedAt: tick(5),
    litres,
    memberIndex: weekday % 2 === 0 ? 1 : 2,
    readings,
    findings: found,
    doses,
    replaced,
    note: notes.join(" "),
  };
}

function raise(): never {
  throw new Error("a demo basin has no site");
}
