import { millisecondsInDay } from "date-fns/constants";
import { driftOver, stepsBetween } from "../../drift/drift";
import { HABIT_NAMES, type Habits, usualHabits } from "../../drift/habits";
import { surroundingsOf } from "../../drift/surroundings";
import { InputFault } from "../../fault";
import { findings } from "../../judging/findings";
import type { Readings } from "../../measure/quantity";
import { addTo, driveOut, replaceWater } from "../../products/effects";
import { PRODUCTS, type ProductId } from "../../products/products";
import { normal, type Random, seeded } from "../../random";
import type { RangeSet, Surface } from "../../ranges/range-set";
import { OUTDOOR_FIXED_BAND, SALT_CELL_SET, SPA_WARM_WATER } from "../../ranges/sets";
import { usualSpreads } from "../../uncertainty/spread";
import { readingsOf } from "../../water/equilibrium";
import { type Sample, type Totals, totalsOf } from "../../water/sample";
import { adviseEach } from "../advice";
import { goalsOf, STEERED, type Steered } from "../plan/goals";
import { type PlanInput, type PlanProduct, WEIGHTS } from "../plan/input";
import { safely } from "../plan/plan";
import { onShelf, WHOLE_SHELF } from "../plan/plan.fixtures";
import type { Solver } from "../plan/programme";
import type { StepSetting } from "../plan/steps";
import { chlorineGoal } from "../plan/weighing";
import { type HorizonPlan, horizonPlan } from "./plan";
import type { HorizonProblem } from "./problem";
import { believedBy, type Rates, usualRates } from "./rates";

/**
 * Basins whose water is known and is not what the planner was told: other rates, another volume, days that
 * differ, bottles that are not as their labels say. Whoever plans is called again and again and sees brackets.
 */
export interface LoopBasin {
  litres: number;
  /** What it truly holds over the book's. */
  factor: number;
  kind: "pool" | "spa";
  outdoors: boolean;
  feeder: "none" | "tablets" | "saltCell" | "pump";
  set: RangeSet;
  surface: Surface;
  start: Sample;
  fill: Sample;
  hidden: Habits;
  told: HorizonProblem["rates"];
  unsure: Rates["unsure"];
  shelf: PlanProduct[];
  strengths: Map<string, number>;
  /** Days between calls. */
  every: number;
  minutes: number;
  seed: number;
}

const FROM = Date.UTC(2026, 5, 1, 15);
const LOCATION = { latitude: 40, longitude: -105 };
/** Money for a cubic metre of water. */
const WATER_PRICE = 3;

export function loopBasin(seed: number): LoopBasin {
  const random = seeded(seed * 6271 + 31);
  const between = (low: number, high: number) => low + (high - low) * random();
  const pick = <T>(list: readonly T[]): T => list[Math.floor(random() * list.length)] as T;
  const spa = random() < 0.25;
  const kind = spa ? "spa" : "pool";
  const outdoors = random() < 0.85;
  const feeder = spa ? "none" : pick(["none", "none", "none", "saltCell", "tablets", "pump"] as const);
  const set = spa ? SPA_WARM_WATER : feeder === "saltCell" ? SALT_CELL_SET : OUTDOOR_FIXED_BAND;
  const place = { kind, outdoors, feeder } as const;
  const usual = usualHabits(place);
  const hidden = {} as Habits;
  for (const name of HABIT_NAMES)
    hidden[name] = usual[name].median * Math.exp(Math.min(0.5, usual[name].deviation) * normal(random));
  const { unsure } = usualRates(place);
  // Learned to about a quarter; a feeder somebody set so that it about covers the loss.
  const told = { ...hidden };
  for (const name of HABIT_NAMES) told[name] = hidden[name] * Math.exp(0.25 * normal(random));
  const sure = Object.fromEntries(
    HABIT_NAMES.map((name) => [name, Math.min(0.3, unsure[name])]),
  ) as Rates["unsure"];
  const start: Sample = {
    ph: between(7, 8.3),
    totalAlkalinity: between(55, 170),
    calciumHardness: spa ? between(80, 260) : between(140, 420),
    cyanuricAcid: spa || !outdoors ? 0 : between(10, 75),
    freeChlorine: between(0.4, 5),
    borate: 0,
    temperature: spa ? 38 : between(18, 30),
    totalDissolvedSolids: feeder === "saltCell" ? 3500 : 1100,
  };
  const shelf = WHOLE_SHELF.filter(
    ({ product }) => product === "sodium-hypochlorite" || product === "hydrochloric-acid" || random() < 0.8,
  ).map(({ product }) => onShelf(product, null));
  const strengths = new Map(
    shelf.map(({ key, product }) => [
      key,
      PRODUCTS[product].form === "liquid" ? between(0.8, 1) : 1 + 0.03 * normal(random),
    ]),
  );
  return {
    litres: spa ? between(900, 4000) : between(20_000, 120_000),
    factor: Math.exp(0.06 * normal(random)),
    kind,
    outdoors,
    feeder,
    set,
    surface: pick(["plaster", "vinyl", "fibreglass"] as const),
    start,
    fill: {
      ph: 7.6,
      totalAlkalinity: between(40, 150),
      calciumHardness: between(30, 250),
      cyanuricAcid: 0,
      freeChlorine: 0,
      borate: 0,
      temperature: 15,
      totalDissolvedSolids: 300,
    },
    hidden,
    told,
    unsure: sure,
    shelf,
    strengths,
    every: pick([2, 3.5, 3.5, 7]),
    minutes: pick([25, 40, 40, 60]),
    seed,
  };
}

/** What one way of planning does at one call. */
export interface Done {
  grams: ReadonlyMap<string, number>;
  replaced: number;
  /** mmol/L of carbon dioxide. */
  aerated: number;
  minutes: number;
  /** Share of the water that is replaced on a day of its own. */
  project?: number;
  /** mg/L a day from now on; what is not set stays. */
  fed?: number;
  plan?: HorizonPlan;
  problem?: HorizonProblem;
}

export type Planner = (basin: LoopBasin, read: Sample, at: number, fed: number, solver: Solver) => Done;

export interface LoopResult {
  /** Share of the time with chlorine under its floor. */
  under: number;
  /** Share of readings inside their ranges when calls find them, the first left out. */
  inside: number;
  /** Money for a cubic metre, feeder and water too. */
  money: number;
  bottles: number;
  minutes: number;
  done: Done[];
  /** How often each reading was found off, and which way. */
  off: Record<string, number>;
}

/** Calls at one basin, one after another. */
export function closedLoop(basin: LoopBasin, planner: Planner, solver: Solver, calls = 8): LoopResult {
  const random = seeded(basin.seed * 31 + 7);
  const days = seeded(basin.seed * 131 + 5);
  let water: Totals = totalsOf(basin.start);
  let fed = basin.feeder === "none" ? 0 : basin.told.feeder;
  const feederFactor = basin.hidden.feeder / Math.max(1e-9, basin.told.feeder);
  let at = FROM;
  let under = 0;
  let hours = 0;
  let inside = 0;
  const off: Record<string, number> = {};
  let read = 0;
  let money = 0;
  const all: Done[] = [];
  for (let call = 0; call < calls; call++) {
    const found = readingsOf(water);
    if (call > 0)
      for (const quantity of STEERED) {
        const { low, high } = limitsOf(basin, found, quantity);
        if (low === null && high === null) continue;
        read++;
        const value = found[quantity];
        if ((low === null || value >= low) && (high === null || value <= high)) inside++;
        else {
          const side = `${quantity} ${low !== null && value < low ? "low" : "high"}`;
          off[side] = (off[side] ?? 0) + 1;
        }
      }
    const seen = readBy(found, random);
    const done = planner(basin, seen, at, fed, solver);
    all.push(done);
    if (done.fed !== undefined) fed = done.fed;
    money += doneMoney(basin, done);
    water = applied(basin, water, done);
    // Six hours at a time, each day of its own.
    const steps = Math.round(basin.every * 4);
    let day = -1;
    let own = basin.hidden;
    for (let step = 0; step < steps; step++) {
      const today = Math.floor(step / 4);
      if (today !== day) {
        day = today;
        own = dayOf(basin.hidden, days);
        money += (fed * feederPrice(basin)) / 1000;
      }
      const around = surroundingsOf(
        { kind: basin.kind, outdoors: basin.outdoors, feeder: basin.feeder },
        LOCATION,
        [],
        [{ at: FROM, value: basin.start.temperature }],
      );
      const to = at + millisecondsInDay / 4;
      driftOver(
        water,
        { ...own, feeder: fed * feederFactor },
        basin.feeder,
        stepsBetween(water, at, to, around),
        totalsOf(basin.fill),
      );
      at = to;
      if (step === 3 && done.project) water = replaceWater(water, totalsOf(basin.fill), done.project);
      hours++;
      const now = readingsOf(water);
      const { low } = limitsOf(basin, now, "freeChlorine");
      if (low !== null && now.freeChlorine < low) under++;
    }
  }
  return {
    under: under / hours,
    inside: inside / Math.max(1, read),
    money,
    bottles: all.reduce((sum, { grams }) => sum + grams.size, 0) / calls,
    minutes: all.reduce((sum, one) => sum + one.minutes, 0) / calls,
    done: all,
    off,
  };
}

const feederPrice = ({ feeder }: LoopBasin): number =>
  feeder === "saltCell" ? 9 : feeder === "tablets" ? 9.7 : 13;

const dayOf = (hidden: Habits, random: Random): Habits => ({
  ...hidden,
  darkDemand: hidden.darkDemand * Math.exp(0.35 * normal(random) - 0.06),
  gasExchange: hidden.gasExchange * Math.exp(0.3 * normal(random)),
  sunUnbound: hidden.sunUnbound * Math.min(1.2, Math.exp(0.2 * normal(random))),
});

function doneMoney({ shelf, litres }: LoopBasin, { grams, replaced, project = 0 }: Done): number {
  const products = shelf.reduce(
    (sum, { key, pricePerKg }) => sum + ((grams.get(key) ?? 0) / 1000) * pricePerKg,
    0,
  );
  return (products * 1000) / litres + (replaced + project) * WATER_PRICE;
}

function applied(basin: LoopBasin, water: Totals, { grams, replaced, aerated }: Done): Totals {
  let next = replaced > 0 ? replaceWater(water, totalsOf(basin.fill), replaced) : water;
  next = addTo(
    next,
    basin.shelf.flatMap((product) => {
      const some = (grams.get(product.key) ?? 0) * (basin.strengths.get(product.key) ?? 1);
      return some > 0 ? [{ product: product.product, strength: product.strength, grams: some }] : [];
    }),
    basin.litres * basin.factor,
  ).totals;
  return aerated > 0 ? driveOut(next, aerated / 1000) : { ...next };
}

function limitsOf(basin: LoopBasin, holding: Sample, quantity: Steered) {
  const goals = goalsOf(basin.set, basin.surface, holding, null, basin);
  return quantity === "freeChlorine"
    ? chlorineGoal({ goals, water: { ...holding, freeChlorine: 0 } }, holding)
    : goals[quantity];
}

/** As drops, a comparator and a tube read it. */
function readBy(found: Sample, random: Random): Sample {
  const drops = (value: number, drop: number) =>
    Math.max(0, Math.round((value * (1 + 0.03 * normal(random))) / drop)) * drop;
  return {
    ...found,
    ph: Math.min(8.4, Math.max(6.8, Math.round((found.ph + 0.05 * normal(random)) * 10) / 10)),
    totalAlkalinity: Math.max(20, drops(found.totalAlkalinity, 10)),
    calciumHardness: drops(found.calciumHardness, 10),
    cyanuricAcid: Math.round(Math.max(0, found.cyanuricAcid * (1 + 0.04 * normal(random))) / 5) * 5,
    freeChlorine: drops(found.freeChlorine, 0.2),
  };
}

const settingOf = (basin: LoopBasin, input: PlanInput): StepSetting => {
  const { low } = chlorineGoal(
    { goals: input.goals, water: { ...input.water, freeChlorine: 0 } },
    input.water,
  );
  return {
    kind: basin.kind,
    freshFill: false,
    surface: basin.surface === "vinyl" ? "vinyl" : "other",
    sanitiserFirst: low !== null && input.water.freeChlorine < low,
  };
};

export const inputOf = (basin: LoopBasin, read: Sample): PlanInput => ({
  water: read,
  litres: basin.litres,
  goals: goalsOf(basin.set, basin.surface, read, null, basin),
  products: basin.shelf,
  fill: basin.fill,
  mostReplaced: 0.5,
  aeration: true,
  tablets: basin.feeder === "tablets",
  cell: basin.feeder === "saltCell",
  weights: WEIGHTS,
});

export const problemOf = (basin: LoopBasin, read: Sample, at: number, fed: number): HorizonProblem => {
  const input = inputOf(basin, read);
  const rates = { ...basin.told, feeder: basin.feeder === "none" ? basin.told.feeder : fed };
  return {
    still: {
      input,
      setting: settingOf(basin, input),
      set: basin.set,
      surface: basin.surface,
      spreads: usualSpreads(read),
      leftAlone: [],
    },
    from: at,
    calls: [1, 2, 3].map((call) => at + call * basin.every * millisecondsInDay),
    minutes: basin.minutes,
    rates,
    believed: believedBy(read, { rates, unsure: basin.unsure }),
    feeder:
      basin.feeder === "none"
        ? null
        : { kind: basin.feeder, most: 3 * basin.told.feeder, pricePerKg: feederPrice(basin) },
    outdoors: basin.outdoors,
    location: LOCATION,
    weather: [],
  };
};

/** The plan over several calls. */
export const ahead: Planner = (basin, read, at, fed, solver) => {
  const problem = problemOf(basin, read, at, fed);
  const plan = horizonPlan(problem, solver);
  const grams = new Map<string, number>();
  for (const pour of plan.pours) grams.set(pour.product, (grams.get(pour.product) ?? 0) + pour.grams);
  const set = plan.leave.find((one) => one.code === "feeder");
  const air = plan.leave.find((one) => one.code === "air");
  const project = plan.projects.find(({ kind }) => kind === "replace-water");
  return {
    grams,
    replaced: 0,
    aerated: air?.code === "air" ? air.millimoles : 0,
    // The customer agrees, and it is done on a day of its own before the next call.
    project: project?.fraction ? Math.min(0.5, project.fraction) : 0,
    minutes: plan.minutes,
    ...(set?.code === "feeder" ? { fed: set.to } : {}),
    plan,
    problem,
  };
};

/** The plan for a still water, all of it on one morning. */
export const still: Planner = (basin, read, _at, _fed, solver) => {
  const input = inputOf(basin, read);
  const { solved, way } = safely(input, settingOf(basin, input), solver);
  const minutes = way.steps.reduce(
    (sum, step) => sum + step.waitMinutes + (step.kind === "aerate" ? (step.minutes ?? 0) : 0),
    0,
  );
  return { ...solved.amounts, minutes };
};

/** A dose for every reading that is out, each by its own. */
export const byTable: Planner = (basin, read) => {
  const input = inputOf(basin, read);
  const readings = Object.fromEntries(
    [...STEERED, "temperature" as const].map((name) => [
      name,
      { value: read[name], unit: "", low: read[name], high: read[name], bound: "within" },
    ]),
  ) as unknown as Readings;
  const grams = new Map<string, number>();
  let replaced = 0;
  try {
    const known = { water: read, standing: ALL_READ, possible: true } as never;
    for (const one of adviseEach({
      findings: findings(readings, basin.set, basin.surface, read),
      readings,
      known,
      litres: basin.litres,
      products: input.products,
      fill: { calciumHardness: basin.fill.calciumHardness },
    })) {
      if (one.kind === "dose") grams.set(keyOf(basin, one.product), one.grams);
      if (one.kind === "replace-water") replaced = Math.max(replaced, Math.min(0.5, one.fraction));
    }
  } catch (fault) {
    if (!(fault instanceof InputFault)) throw fault;
  }
  return { grams, replaced, aerated: 0, minutes: 0 };
};

const ALL_READ = Object.fromEntries(
  ["temperature", "totalDissolvedSolids", "borate", ...STEERED].map((name) => [name, "read"]),
);

const keyOf = ({ shelf }: LoopBasin, product: ProductId): string =>
  shelf.find((one) => one.product === product)?.key ?? product;
