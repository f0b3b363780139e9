import { millisecondsInDay } from "date-fns/constants";
import type { Solver } from "../dosing/plan/programme";
import { learnFirm } from "../learning/learn";
import { type FirmLog, LEARNED, type Learned } from "../learning/log";
import type { ForecastPoint } from "../learning/outlook";
import { type Call, type Hand, runLoop } from "./firm.fixtures";
import { goodHand } from "./hands.fixtures";
import { truthOf } from "./hidden-basin.fixtures";
import type { World } from "./physics.fixtures";
import { shelfOf, weeksIn } from "./shelf.fixtures";

/** What is learned of a firm under a good hand, held against its hidden waters, bottles and deliveries. */

export interface LearnedPlan {
  seed: number;
  world: World;
  basins: number;
  weeks: number;
  /** A titrant of alkalinity loses so much a day from half the time on. */
  weakening?: number;
}

/** Sums of errors against the truth at the next call: what was told, the last reading, the usual reading. */
export interface ErrorTally {
  count: number;
  told: number;
  last: number;
  usual: number;
  bias: number;
  inside: number;
}

/** How many there were to tell of, and what was told. */
export interface ToldTally {
  wrong: number;
  told: number;
  right: number;
  accused: number;
}

export interface LearnedResult {
  errors: Record<Learned, ErrorTally>;
  volumes: ToldTally;
  bottles: ToldTally;
  deliveries: ToldTally;
  /** The weakening titrant's worth when it was first told of; null where it never was. */
  weakeningToldAt: number | null;
}

/** Off by so much, a lot or a volume is wrong. */
const WRONG = 0.12;
/** Off by less, it is right. */
const RIGHT = 0.07;
/** What is told is looked at once there is a log. Weeks */
const FROM_WEEK = 7;

export function learnedIn(
  { seed, world, basins, weeks, weakening }: LearnedPlan,
  solver: Solver,
): LearnedResult {
  const errors = Object.fromEntries(
    LEARNED.map((quantity) => [quantity, { count: 0, told: 0, last: 0, usual: 0, bias: 0, inside: 0 }]),
  ) as Record<Learned, ErrorTally>;
  const shelf = shelfOf(seed, weakening ? { aDay: weakening, from: weeksIn(weeks / 2) } : null);
  const bad = () => [...shelf.worths].filter(([lot]) => lot.startsWith("totalAlkalinity")).at(-1);
  const told = new Map<string, ForecastPoint>();
  const next = new Map<string, number>();
  const accused = { bottle: new Set<string>(), product: new Set<string>(), volume: new Set<string>() };
  let weakeningToldAt: number | null = null;
  const hand = goodHand();
  const watched: Hand = {
    call(call) {
      const forecast = told.get(call.basin.id);
      told.delete(call.basin.id);
      if (forecast) tally(call, forecast);
      next.set(call.basin.id, call.next[0] as number);
      return hand.call(call);
    },
    night(log, day) {
      if (day < FROM_WEEK * 7 || day % 7 !== 6) return;
      const now = weeksIn(0) + (day + 1) * millisecondsInDay;
      const ahead: FirmLog = {
        ...log,
        basins: log.basins.map((basin) => ({ ...basin, ahead: [Math.max(now, next.get(basin.id) ?? now)] })),
      };
      const learned = learnFirm(ahead);
      if (!learned) return;
      for (const { id, forecast } of learned.basins) if (forecast[0]) told.set(id, forecast[0]);
      accused.volume.clear();
      for (const { code, lot, basin } of learned.suspicions) {
        if (code === "volume" && basin) accused.volume.add(basin);
        if ((code === "bottle" || code === "product") && lot) accused[code].add(lot);
      }
      const weak = weakening ? bad() : undefined;
      if (weak && weakeningToldAt === null && accused.bottle.has(weak[0])) weakeningToldAt = weak[1].worth;
    },
  };
  const results = runLoop({ seed, world, basins, weeks, shelf }, watched, solver);
  const ofLots = (isOne: (lot: string) => boolean, told: Set<string>): ToldTally =>
    toldOf(
      [...shelf.worths].flatMap(([lot, { worth }]) => (isOne(lot) ? [{ id: lot, worth }] : [])),
      told,
    );
  const isBottle = (lot: string) => /^[a-z]+[A-Z]/.test(lot);
  return {
    errors,
    volumes: toldOf(
      results.map(({ basin }) => ({ id: basin.id, worth: basin.factor })),
      accused.volume,
    ),
    bottles: ofLots(isBottle, accused.bottle),
    deliveries: ofLots((lot) => lot.startsWith("sodium-hypochlorite"), accused.product),
    weakeningToldAt,
  };

  function tally({ basin, log }: Call, forecast: ForecastPoint): void {
    const truth = truthOf(basin);
    const { visits } = log.basins.find(({ id }) => id === basin.id) as FirmLog["basins"][number];
    const before = visits.slice(0, -1).flatMap(({ readings }) => readings);
    for (const quantity of LEARNED) {
      const figure = forecast[quantity];
      const read = before.flatMap((one) => (one.quantity === quantity ? [one.value] : []));
      if (!figure || read.length === 0) continue;
      const error = errors[quantity];
      error.count++;
      error.told += Math.abs(figure.value - truth[quantity]);
      error.bias += figure.value - truth[quantity];
      error.last += Math.abs((read.at(-1) as number) - truth[quantity]);
      error.usual += Math.abs(read.reduce((a, b) => a + b, 0) / read.length - truth[quantity]);
      if (truth[quantity] >= figure.low && truth[quantity] <= figure.high) error.inside++;
    }
  }
}

function toldOf(all: readonly { id: string; worth: number }[], accused: ReadonlySet<string>): ToldTally {
  const tally: ToldTally = { wrong: 0, told: 0, right: 0, accused: 0 };
  for (const { id, worth } of all) {
    if (Math.abs(Math.log(worth)) > WRONG) {
      tally.wrong++;
      if (accused.has(id)) tally.told++;
    } else if (Math.abs(Math.log(worth)) < RIGHT) {
      tally.right++;
      if (accused.has(id)) tally.accused++;
    }
  }
  return tally;
}
