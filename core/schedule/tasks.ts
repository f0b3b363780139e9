import type { Task, TaskCadence } from "./cadence";
import type { Season } from "./calls";
import { addDays, daysBetween } from "./days";

/** Water from which chlorine is eaten fast and algae grow: a warm pool in summer, °C. */
const HEAT_FROM = 28;

export interface TaskInput {
  day: string;
  cadence: TaskCadence;
  /** The day each was last done; absent when never. */
  lastDone: Partial<Record<Task, string>>;
  /** Water temperature at the last call, °C. */
  temperature: number | null;
  /** The basin's season, or the firm's year from the start of its season. */
  season: Season | null;
  seasonStart: string;
}

export type DueBecause = "interval" | "heat" | "season" | "never-done";

export interface DueTask {
  task: Task;
  because: DueBecause;
  /** Days that it should be apart, where there are such. */
  every: number | null;
}

/**
 * What comes round on a day besides tests, each with its reason.
 * @example dueTasks({ day: "2026-05-05", cadence: cadenceWith().tasks, lastDone: {}, temperature: 26, season: null, seasonStart: "04-01" })[0].because // "never-done"
 */
export function dueTasks(input: TaskInput): DueTask[] {
  const { cadence, temperature, day, lastDone } = input;
  const hot = temperature !== null && temperature >= HEAT_FROM;
  const every = hot ? cadence.shockInHeat : cadence.shock;
  const shock = every === 0 ? null : dueByDays(day, lastDone.shock, every);
  const seasonal = (task: Task, times: number): DueTask[] => {
    const because = dueBySeason(input, lastDone[task], times);
    return because ? [{ task, because, every: null }] : [];
  };
  return [
    ...(shock ? [shockDue(shock, hot, every)] : []),
    ...seasonal("lab-check", cadence.labChecks),
    ...seasonal("fresh-reagents", cadence.freshReagents > 0 ? 1 : 0),
  ];
}

const shockDue = (because: "interval" | "never-done", hot: boolean, every: number): DueTask => ({
  task: "shock",
  because: because === "interval" && hot ? "heat" : because,
  every,
});

/**
 * Whether something is due so many days after it was last done.
 * @param last the day it was last done; undefined when never
 * @example dueByDays("2026-05-15", "2026-05-01", 14) // "interval"
 */
export function dueByDays(
  day: string,
  last: string | undefined,
  every: number,
): "interval" | "never-done" | null {
  if (last === undefined) return "never-done";
  return daysBetween(last, day) >= every ? "interval" : null;
}

/** Whether something is due from each of its days in the season on, until it is done. */
export function dueBySeason(
  input: Pick<TaskInput, "day" | "season" | "seasonStart">,
  last: string | undefined,
  times: number,
): "season" | null {
  if (times === 0) return null;
  const latest = milestones(input, times)
    .filter((day) => day <= input.day)
    .at(-1);
  if (!latest) return null;
  return last !== undefined && last >= latest ? null : "season";
}

/** Days before the end of a season on which the last full check falls. */
const BEFORE_CLOSING = 14;

/** The days of this season and the one before on which something falls: opening, spread between, before closing. */
function milestones(
  { day, season, seasonStart }: Pick<TaskInput, "day" | "season" | "seasonStart">,
  times: number,
): string[] {
  const from = season?.from ?? seasonStart;
  const year = Number(day.slice(0, 4));
  return [year - 1, year].flatMap((opening) => {
    const start = `${opening}-${from}`;
    const end = season
      ? `${season.from <= season.to ? opening : opening + 1}-${season.to}`
      : `${opening + 1}-${from}`;
    const length = Math.max(0, daysBetween(start, end) - BEFORE_CLOSING);
    return Array.from({ length: times }, (_, index) => {
      const ahead = times === 1 ? 0 : Math.round((index * length) / (times - 1));
      return addDays(start, ahead);
    });
  });
}
