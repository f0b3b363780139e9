import { millisecondsInDay, millisecondsInHour } from "date-fns/constants";
import { type Goals, goalsOf } from "../dosing/plan/goals";
import { WEIGHTS } from "../dosing/plan/input";
import { onShelf, PRICES } from "../dosing/plan/plan.fixtures";
import type { Solver } from "../dosing/plan/programme";
import { effectPerGram } from "../products/products";
import { normal, type Random, seeded } from "../random";
import { OUTDOOR_FIXED_BAND } from "../ranges/sets";
import { type NoRecipe, type Recipe, type RecipeInput, recipeFor } from "../recipes";
import { readingsOf, solvePh } from "../water/equilibrium";
import { molar } from "../water/molar";
import { conditionsOf, type Sample, type Totals, totalsOf } from "../water/sample";
import { chlorineCost } from "./chlorine-cost";
import { type GreenCall, type GreenInput, type GreenOutlook, greenOutlook, HOLDS } from "./green-outlook";

/**
 * Green pools whose algae, walls, filter and sun are hidden from whoever treats them, an hour at a time. No law of
 * the outlook's is used: algae grow and are killed by HOCl (Chick and Watson), what they were is oxidised mole by
 * mole and then slowly, walls shed when they are brushed, a filter clogs and is washed.
 */
interface Pond {
  litres: number;
  water: Totals;
  /** Dry algae that swim, that grow on the walls, and what was killed of them, mg/L. */
  alive: number;
  wall: number;
  dead: number;
  /** What is oxidised slowly, and at once, mg/L of chlorine. */
  slow: number;
  fast: number;
  /** What the filter holds, mg/L of the basin. */
  filtered: number;
  /** Metres of water to the deepest floor. */
  depth: number;
  own: {
    grows: number;
    /** A day for each mg/L of HOCl. */
    killed: number;
    sheds: number;
    /** Share of the water an hour, with a clean filter. */
    turns: number;
    catches: number;
    settles: number;
    sun: number;
    sky: number;
  };
}

const START = Date.UTC(2026, 5, 8, 8);

/** Chlorophyll is about a hundredth of dry algae; how deep one sees by it is Carlson's, what is dead counts less. */
const sightOf = ({ alive, dead, depth }: Pond): number =>
  Math.min(depth, Math.exp(2.04 - 0.68 * Math.log(10 * Math.max(1e-4, alive + 0.45 * dead))));

function pondOf(random: Random): Pond {
  const between = (low: number, high: number) => low + (high - low) * random();
  const near = (usual: number, apart: number) => usual * Math.exp(apart * normal(random));
  const depth = between(1.3, 2.1);
  // From a tinge to what hides the first step.
  const alive = Math.exp(between(Math.log(0.8), Math.log(45)));
  return {
    litres: between(25_000, 90_000),
    water: totalsOf({
      ph: between(7.5, 8.4),
      totalAlkalinity: between(70, 130),
      calciumHardness: between(150, 350),
      cyanuricAcid: between(10, 60),
      freeChlorine: 0,
      borate: 0,
      temperature: between(20, 30),
      totalDissolvedSolids: 1000,
    }),
    alive,
    wall: near(0.5, 0.5) * alive,
    dead: near(0.3, 0.4) * alive,
    slow: near(0.5, 0.4) * alive + between(0.5, 3),
    fast: between(0.3, 2),
    filtered: between(0, 2),
    depth,
    own: {
      grows: between(0.2, 0.9),
      killed: near(12, 0.4),
      sheds: between(0.35, 0.8),
      turns: near(1 / 7, 0.3),
      catches: between(0.2, 0.45),
      settles: between(0.1, 0.5),
      sun: near(4, 0.3),
      sky: 1,
    },
  };
}

function hour(pond: Pond, at: number): void {
  const { water, own } = pond;
  const conditions = conditionsOf(water);
  const hypochlorous = molarToMg(solvePh(conditions, water, water.alkalinity).hypochlorous);
  const clock = (at % millisecondsInDay) / millisecondsInHour;
  const sun = clock > 6 && clock < 20 ? Math.sin(((clock - 6) / 14) * Math.PI) * own.sky : 0;
  const dt = 1 / 24;
  const grown = pond.alive * own.grows * sun * dt;
  const kill = 1 - Math.exp(-own.killed * hypochlorous * dt);
  // On a wall less of it gets through.
  const wallKill = 1 - Math.exp(-0.15 * own.killed * hypochlorous * dt);
  const killed = (pond.alive + grown) * kill + pond.wall * wallKill;
  pond.alive = (pond.alive + grown) * (1 - kill);
  pond.wall *= 1 - wallKill;
  pond.dead += killed;
  // Half a milligram of nitrogen's share at once, the cells' carbon over days.
  pond.fast += 0.55 * killed;
  pond.slow += 0.7 * killed;
  const stands = molarToMg(water.chlorine);
  const wanted =
    pond.fast * (1 - Math.exp(-40 * dt)) + pond.slow * (1 - Math.exp(-0.12 * Math.sqrt(stands) * 4 * dt));
  const taken = Math.min(stands, wanted);
  const share = wanted > 0 ? taken / wanted : 0;
  pond.fast -= pond.fast * (1 - Math.exp(-40 * dt)) * share;
  pond.slow -= pond.slow * (1 - Math.exp(-0.12 * Math.sqrt(stands) * 4 * dt)) * share;
  const shone = Math.min(stands - taken, (own.sun * hypochlorous + 0.12 * stands) * sun * dt);
  const spent = molar.chlorine(taken + shone);
  water.chlorine = Math.max(0, water.chlorine - spent);
  water.alkalinity -= spent;
  // The more it holds the less goes through.
  const flow = own.turns / (1 + pond.filtered / 12);
  const caught = pond.dead * (1 - Math.exp(-flow * own.catches));
  pond.filtered += caught;
  pond.dead = (pond.dead - caught) * Math.exp(-own.settles * dt);
}

const molarToMg = (mole: number): number => mole / molar.chlorine(1);

/** What a call does by hand: brushes, vacuums what has settled, and washes a filter that holds much. */
function byHand(pond: Pond): void {
  const shed = pond.wall * pond.own.sheds;
  pond.wall -= shed;
  pond.alive += shed;
  if (pond.filtered > 6) pond.filtered = 0.5;
}

/** What a test says of it: drops of half a part over ten, and a fifth under; an eye. */
function seen(pond: Pond, random: Random): { water: Sample; found: number; sight: GreenCall["sight"] } {
  const truth = readingsOf(pond.water);
  const drop = truth.freeChlorine > 5 ? 0.5 : 0.2;
  const found = Math.max(0, Math.round((truth.freeChlorine * (1 + 0.05 * normal(random))) / drop) * drop);
  const sight = sightOf(pond);
  return {
    water: { ...truth, ph: Math.round((truth.ph + 0.07 * normal(random)) * 10) / 10, freeChlorine: found },
    found,
    sight: sight >= pond.depth ? "floor" : Math.round(100 * sight * Math.exp(0.2 * normal(random))),
  };
}

const SHELF = [onShelf("sodium-hypochlorite"), onShelf("hydrochloric-acid"), onShelf("sodium-bicarbonate")];
const PER_CALL = 45;

export interface Treated {
  /** As it was told before the first dose. */
  told: GreenOutlook;
  /** As it was told at each call after the first. */
  later: GreenOutlook[];
  /** What it came to; null where it was not won in forty days. */
  days: number | null;
  money: number;
  /** Days that were still ahead at each of `later`. */
  ahead: number[];
  /** Free chlorine, pH and sight in the morning on which it was won; the last ones where it never was. */
  end: Sample & { sight: number; depth: number };
  /** The least and the most pH on the way. */
  ph: { low: number; high: number };
}

/** A pool from the first call to won, by the recipe and the outlook alone. */
export function treated(seed: number, solver: Solver): Treated {
  const random = seeded(seed * 7919 + 5);
  const pond = pondOf(random);
  const calls: GreenCall[] = [];
  let told: GreenOutlook | null = null;
  const later: GreenOutlook[] = [];
  const times: number[] = [];
  let money = 0;
  let level = 0;
  let left: number | null = null;
  const ph = { low: 14, high: 0 };
  for (let at = START; ; ) {
    const { water, found, sight } = seen(pond, random);
    const isMorning = at % millisecondsInDay < 14 * millisecondsInHour;
    const held = left !== null && isMorning && left - found <= HOLDS && found >= level / 2;
    if (held && sight === "floor") {
      const days = (at - START) / millisecondsInDay;
      const sights = { sight: sightOf(pond), depth: pond.depth };
      return {
        told: told as unknown as GreenOutlook,
        later,
        days,
        money: money + PER_CALL,
        ahead: times.map((then) => (at - then) / millisecondsInDay),
        end: { ...readingsOf(pond.water), ...sights },
        ph,
      };
    }
    const given = recipeInput(pond, water);
    const recipe: Recipe | NoRecipe = recipeFor("green-pool", given, solver);
    if (typeof recipe === "string") throw new Error(`${seed}: ${recipe}`);
    level = recipe.facts.freeChlorine ?? 0;
    calls.push({ at, sight, found, left: null });
    const input: GreenInput = {
      calls,
      hour: 8,
      level,
      outdoors: true,
      litres: pond.litres,
      perMilligram: chlorineCost(SHELF, pond.litres),
      perCall: PER_CALL,
    };
    const outlook = greenOutlook(input);
    if (told) {
      later.push(outlook);
      times.push(at);
    } else told = outlook;
    let raised = 0;
    for (const step of recipe.steps) {
      if (step.kind !== "dose") continue;
      const effect = effectPerGram({ product: step.compound, strength: strengthOf(step.compound) });
      const share = step.grams / pond.litres;
      for (const name of ["alkalinity", "inorganicCarbon", "chlorine"] as const)
        pond.water[name] += effect[name] * share;
      raised += molarToMg(effect.chlorine * share);
      money += (step.grams / 1000) * (PRICES[step.compound] ?? 0);
    }
    money += PER_CALL;
    byHand(pond);
    left = found + raised;
    calls[calls.length - 1] = { at, sight, found, left };
    const hours = isMorning ? 10 : 14;
    if (isMorning) pond.own.sky = Math.min(1, Math.max(0.15, 0.75 + 0.3 * normal(random)));
    for (let gone = 0; gone < hours; gone++, at += millisecondsInHour) {
      hour(pond, at);
      const { ph: now } = readingsOf(pond.water);
      ph.low = Math.min(ph.low, now);
      ph.high = Math.max(ph.high, now);
    }
    if ((at - START) / millisecondsInDay > 40)
      return {
        told: told as GreenOutlook,
        later,
        days: null,
        money,
        ahead: [],
        end: { ...readingsOf(pond.water), sight: sightOf(pond), depth: pond.depth },
        ph,
      };
  }
}

const strengthOf = (compound: string): number =>
  SHELF.find(({ product }) => product === compound)?.strength ?? 1;

function recipeInput(pond: Pond, water: Sample): RecipeInput {
  const goals: Goals = goalsOf(OUTDOOR_FIXED_BAND, "plaster", water);
  // Over ten parts no drop reads the pH.
  const isRead = water.freeChlorine <= 10;
  return {
    input: {
      water: isRead ? water : { ...water, ph: 7.5 },
      litres: pond.litres,
      goals: isRead ? goals : { ...goals, ph: { ...goals.ph, known: false } },
      products: SHELF,
      fill: null,
      mostReplaced: 0,
      aeration: true,
      weights: WEIGHTS,
    },
    setting: { kind: "pool", freshFill: false, surface: "other", sanitiserFirst: false },
    set: OUTDOOR_FIXED_BAND,
    surface: "plaster",
    combinedChlorine: 0,
    indoors: false,
    fillRate: 1500,
    persulfateDose: 24,
  };
}
