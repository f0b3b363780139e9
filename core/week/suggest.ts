import type { Arrangement } from "./arrangement";
import { changesOf, shareOf, type WeekChange } from "./changes";
import { type Conflict, conflictsOf } from "./conflicts";
import { asAllowed, asItStands, fromNothing, improve } from "./improve";
import { BROKEN, type Prepared, prepared } from "./prepared";
import type { WeekCall, WeekProblem } from "./problem";
import { arrangedBy, programmeOf } from "./programme";
import { brokenRules, minutesOf } from "./rules";

/** Draws up a firm's weeks: a first answer at once, then better ones for as long as it is asked. */

/** What is used of the HiGHS solver for a week: handed in by whoever loaded it. */
export interface WeekSolver {
  solve(
    programme: string,
    options?: Record<string, unknown>,
  ): { Status: string; ObjectiveValue: number; Columns: Record<string, { Primal?: number }> };
}

export interface Suggestion {
  /** Each day's and person's calls in their order. */
  calls: WeekCall[];
  changes: WeekChange[];
  /** Rules that could not hold together; and whether that is proven, or only nothing better was found. */
  conflicts: Conflict[];
  impossible: boolean;
  /** Of what stands and of what is suggested. */
  before: WeekFigures;
  after: WeekFigures;
  /** Right days less what work and changes cost; and what no arrangement can be better than, once that is known. */
  worth: number;
  bound: number | null;
}

export interface WeekFigures {
  /** Share of the days, all basins together, 0…1. */
  right: number;
  calls: number;
  /** At the water and on the way. */
  minutes: number;
  /** On the way. */
  way: number;
}

/** Up to so many steps and calls a week is solved whole; beyond that only its bound is. */
const WHOLE_UP_TO = 1500;
/** Seconds that this may take. */
const WHOLE_FOR = 10;

/**
 * Suggests a week, better each time it is asked for the next.
 * @param solver for the bound, and for small weeks themselves; without it nothing is proven
 * @example suggestWeek(week, null).next().value.calls.length // 5
 * @yields at once, then after the programme, then after each hundred turns of the search
 */
export function* suggestWeek(problem: WeekProblem, solver: WeekSolver | null): Generator<Suggestion, never> {
  const week = prepared(problem);
  const starts = [asItStands(week), fromNothing(week)];
  let best = betterOf(starts);
  best.order(best.routes.keys());
  let bound: number | null = null;
  let impossible = false;
  yield suggestionOf(week, best, bound, impossible);
  if (solver) {
    const solved = boundOf(week, solver);
    bound = solved.bound;
    if (solved.start) best = betterOf([best, solved.start]);
    impossible = isBroken(best) && !canHold(week, solver);
  }
  let told = suggestionOf(week, best, bound, impossible);
  yield told;
  for (const next of improve(week, best)) {
    if (next.worth() > told.worth + LEAST_GAIN) {
      impossible &&= isBroken(next);
      told = suggestionOf(week, next, bound, impossible);
    }
    yield told;
  }
  throw new Error("a search has no end");
}

const betterOf = (all: readonly Arrangement[]): Arrangement =>
  all.reduce((best, one) => (one.worth() > best.worth() ? one : best));

/** Whether rules are broken: no water is worth as much as half of one. */
const isBroken = (made: Arrangement): boolean => made.worth() < -BROKEN / 2 || conflictsIn(made).length > 0;

const conflictsIn = (made: Arrangement): Conflict[] => conflictsOf(made.week.problem, callsOf(made));

/** What no arrangement can be better than, and a start from a whole solution where the week is small. */
function boundOf(week: Prepared, solver: WeekSolver): { bound: number | null; start: Arrangement | null } {
  const relaxed = programmeOf(week, { whole: false });
  const loose = solver.solve(relaxed.text, { output_flag: false });
  const bound = loose.Status === "Optimal" ? loose.ObjectiveValue + relaxed.constant : null;
  if (week.values.length * week.days.length * week.people > WHOLE_UP_TO) return { bound, start: null };
  const { text, constant } = programmeOf(week, { whole: true });
  const answer = solver.solve(text, { output_flag: false, time_limit: WHOLE_FOR, mip_rel_gap: 1e-4 });
  if (Object.keys(answer.Columns).length === 0) return { bound, start: null };
  const start = asAllowed(arrangedBy(week, (column) => answer.Columns[column]?.Primal ?? 0));
  return { bound: answer.Status === "Optimal" ? answer.ObjectiveValue + constant : bound, start };
}

/** Whether the rules could hold together, ways at their least. */
function canHold(week: Prepared, solver: WeekSolver): boolean {
  const answer = solver.solve(programmeOf(week, { whole: false, rulesAlone: true }).text, {
    output_flag: false,
  });
  return answer.Status !== "Optimal" || answer.ObjectiveValue > -ALMOST_NONE * BROKEN;
}
const ALMOST_NONE = 1e-3;
const LEAST_GAIN = 1e-9;

/** The calls of an arrangement, each person's day in its order. */
export const callsOf = ({ routes, week }: Arrangement): WeekCall[] =>
  routes.flatMap((stops, at) =>
    stops.map((stop) => ({
      day: week.days[Math.floor(at / week.people)] as string,
      person: week.problem.people[at % week.people]?.id as string,
      basin: week.problem.basins[stop]?.id as string,
    })),
  );

function suggestionOf(
  week: Prepared,
  made: Arrangement,
  bound: number | null,
  impossible: boolean,
): Suggestion {
  const { problem } = week;
  const calls = callsOf(made);
  const mended = new Set(
    brokenRules(problem, problem.stands).flatMap((broken) => ("basin" in broken ? [broken.basin] : [])),
  );
  return {
    calls,
    changes: changesOf(week, problem.stands, calls, mended),
    conflicts: conflictsOf(problem, calls),
    impossible,
    before: figuresOf(week, problem.stands),
    after: figuresOf(week, calls),
    worth: made.worth(),
    bound,
  };
}

/** @example figuresOf(prepared(week), week.stands).calls // 2 */
export function figuresOf(week: Prepared, calls: readonly WeekCall[]): WeekFigures {
  const { problem } = week;
  const shares = problem.basins.map(({ id }, index) =>
    shareOf(
      week,
      index,
      calls.filter(({ basin }) => basin === id),
    ),
  );
  const minutes = week.days
    .flatMap((day) =>
      problem.people.map((person) =>
        minutesOf(
          problem,
          person,
          calls.filter((call) => call.day === day && call.person === person.id),
        ),
      ),
    )
    .reduce((sum, one) => sum + one, 0);
  const atWater = calls.reduce(
    (sum, { basin }) => sum + (problem.basins.find(({ id }) => id === basin)?.minutes ?? 0),
    0,
  );
  return {
    right: shares.reduce((sum, one) => sum + one, 0) / Math.max(1, shares.length),
    calls: calls.length,
    minutes,
    way: minutes - atWater,
  };
}
