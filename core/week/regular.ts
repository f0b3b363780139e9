import type { Ways, WeekBasin, WeekPerson } from "./problem";
import { minutesBetween } from "./rules";
import { rightOn } from "./worth";

/**
 * Regular days: on which weekdays a basin is best called at, week after week, and how often at all. What a call is worth
 * does not know a weekday; its way does, by who else is called at then.
 */

/** How a basin is called at. */
export interface Rhythm {
  /** ISO weekdays. */
  days: readonly number[];
  /** 1 every week, 2 every other one. */
  everyWeeks: number;
}

export interface RegularBasin
  extends Pick<
    WeekBasin,
    "id" | "site" | "minutes" | "worth" | "allowed" | "fixed" | "daily" | "least" | "most"
  > {
  now: Rhythm;
  /** Who calls there; null for whoever is free. */
  person: string | null;
}

export interface RegularProblem {
  basins: readonly RegularBasin[];
  people: readonly Pick<WeekPerson, "id" | "hours">[];
  ways: Ways;
  /** Days that a basin must be right longer for a minute of work. */
  minuteWorth: number;
  /** Days a week that it must be right longer for a rhythm to change. */
  changeWorth: number;
}

/** What a rhythm comes to. */
export interface RhythmFigures extends Rhythm {
  /** Share of the time that chlorine and pH are right, 0…1. */
  right: number;
  /** Of a week, at the water and on the way. */
  minutes: number;
  /** Calls in a week. */
  calls: number;
}

export interface Proposal {
  basin: string;
  now: RhythmFigures;
  proposed: RhythmFigures;
}

const WEEK = [1, 2, 3, 4, 5, 6, 7] as const;
/** Each basin is looked at so often, beside all others as they are by then. */
const SWEEPS = 4;

/**
 * Better regular days, the most to gain first; basins that are fine as they are, are left out.
 * @example regularDays({ basins: [], people: [], ways: { known: {}, usual: 12 }, minuteWorth: 0.01, changeWorth: 0.1 }) // []
 */
export function regularDays(problem: RegularProblem): Proposal[] {
  const { basins } = problem;
  const rhythms = basins.map(({ now }) => now);
  for (let sweep = 0; sweep < SWEEPS; sweep++)
    basins.forEach((basin, index) => {
      const worth = (rhythm: Rhythm) => {
        const { right, minutes } = figuresOf(problem, rhythms, index, rhythm);
        const change = isSame(rhythm, basin.now) ? 0 : problem.changeWorth;
        return 7 * right - problem.minuteWorth * minutes - change;
      };
      let best = {
        rhythm: basin.now,
        worth: isOpen(basin, basin.now) ? worth(basin.now) : Number.NEGATIVE_INFINITY,
      };
      for (const rhythm of rhythmsOf(basin)) {
        if (!fits(problem, rhythms, index, rhythm)) continue;
        const found = worth(rhythm);
        if (found > best.worth + LEAST_GAIN) best = { rhythm, worth: found };
      }
      rhythms[index] = best.rhythm;
    });
  const proposals = basins.flatMap((basin, index): Proposal[] => {
    const proposed = rhythms[index] as Rhythm;
    if (isSame(proposed, basin.now) || basin.now.days.length === 0) return [];
    return [
      {
        basin: basin.id,
        now: figuresOf(problem, rhythms, index, basin.now),
        proposed: figuresOf(problem, rhythms, index, proposed),
      },
    ];
  });
  return proposals.sort((a, b) => b.proposed.right - b.now.right - (a.proposed.right - a.now.right));
}

/**
 * The best rhythm for a basin that is not called at yet, beside all that are; null where nobody has the time.
 * @param calls so many a week; null for what is worth most
 */
export function bestRhythm(
  week: RegularProblem,
  basin: RegularBasin,
  calls: number | null,
): (RhythmFigures & { worth: number }) | null {
  const problem = { ...week, basins: [...week.basins, basin] };
  const rhythms = problem.basins.map(({ now }) => now);
  const index = rhythms.length - 1;
  let best: (RhythmFigures & { worth: number }) | null = null;
  for (const rhythm of rhythmsOf(basin)) {
    if (calls !== null && rhythm.days.length / rhythm.everyWeeks !== calls) continue;
    if (!fits(problem, rhythms, index, rhythm)) continue;
    const figures = figuresOf(problem, rhythms, index, rhythm);
    const worth = 7 * figures.right - problem.minuteWorth * figures.minutes;
    if (best === null || worth > best.worth + LEAST_GAIN) best = { ...figures, worth };
  }
  return best;
}

const LEAST_GAIN = 1e-9;
const isSame = (a: Rhythm, b: Rhythm): boolean =>
  a.everyWeeks === b.everyWeeks && [...a.days].sort().join() === [...b.days].sort().join();

/** Every set of weekdays that the contract and the customer allow; one day every other week too. */
function rhythmsOf(basin: RegularBasin): Rhythm[] {
  const found: Rhythm[] = [];
  for (let set = 1; set < 1 << WEEK.length; set++)
    for (const everyWeeks of [1, 2]) {
      const rhythm = { days: WEEK.filter((_, index) => set & (1 << index)), everyWeeks };
      if ((everyWeeks === 1 || rhythm.days.length === 1) && isOpen(basin, rhythm)) found.push(rhythm);
    }
  return found;
}

function isOpen({ allowed, fixed, daily, least, most }: RegularBasin, rhythm: Rhythm): boolean {
  const { days, everyWeeks } = rhythm;
  if (daily) return days.length === 7;
  if (fixed.length > 0 && (everyWeeks > 1 || !fixed.every((day) => days.includes(day)))) return false;
  if (allowed !== null && !days.every((day) => allowed.includes(day))) return false;
  return gapsOf(rhythm).every((gap) => gap >= least && (most === null || gap <= most));
}

/** Days from each call to the next. */
function gapsOf({ days, everyWeeks }: Rhythm): number[] {
  const sorted = [...days].sort((a, b) => a - b);
  return sorted.map((day, index) => {
    const next = sorted[index + 1];
    return next === undefined ? (sorted[0] as number) + 7 * everyWeeks - day : next - day;
  });
}

/** Whether whoever calls there has the time on each of these days. */
function fits(problem: RegularProblem, rhythms: readonly Rhythm[], index: number, rhythm: Rhythm): boolean {
  const { basins, people } = problem;
  const { person } = basins[index] as RegularBasin;
  const hours = people.find(({ id }) => id === person)?.hours;
  if (!hours) return true;
  return rhythm.days.every((day) => {
    const others = basins.reduce(
      (sum, one, other) =>
        other !== index && one.person === person && rhythms[other]?.days.includes(day)
          ? sum + one.minutes / (rhythms[other]?.everyWeeks ?? 1)
          : sum,
      0,
    );
    const own = (basins[index] as RegularBasin).minutes + wayOn(problem, rhythms, index, day);
    return others + own <= (hours[day - 1] ?? 0);
  });
}

function figuresOf(
  problem: RegularProblem,
  rhythms: readonly Rhythm[],
  index: number,
  rhythm: Rhythm,
): RhythmFigures {
  const basin = problem.basins[index] as RegularBasin;
  const { days, everyWeeks } = rhythm;
  const right = gapsOf(rhythm).reduce((sum, gap) => {
    let whole = 0;
    for (let day = 0; day < gap; day++) whole += rightOn(basin.worth.after, day, gap);
    return sum + whole;
  }, 0);
  const minutes = days.reduce((sum, day) => sum + basin.minutes + wayOn(problem, rhythms, index, day), 0);
  return {
    ...rhythm,
    right: right / (7 * everyWeeks),
    minutes: minutes / everyWeeks,
    calls: days.length / everyWeeks,
  };
}

/** About what a call more takes on the road: half the ways to the two nearest that are called at then. */
function wayOn(
  { basins, ways }: RegularProblem,
  rhythms: readonly Rhythm[],
  index: number,
  day: number,
): number {
  const { site, person } = basins[index] as RegularBasin;
  const near = basins
    .flatMap((one, other) =>
      other !== index && one.person === person && rhythms[other]?.days.includes(day)
        ? [minutesBetween(ways, site, one.site)]
        : [],
    )
    .sort((a, b) => a - b);
  const [first = ways.usual, second = first] = near;
  return (first + second) / 2;
}
