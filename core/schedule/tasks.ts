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

export interface DueTask {
  task: Task;
  because: "interval" | "heat" | "season" | "never-done";
  /** Days that it should be apart, where there are such. */
  every: number | null;
}

/**
 * What comes round on a day besides tests, each with its reason.
 * @example dueTasks({ day: "2026-05-05", cadence: cadenceWith().tasks, lastDone: {}, temperature: 26, season: null, seasonStart: "04-01" })[0].because // "never-done"
 */
export function dueTasks(input: TaskInput): DueTask[] {
  const { cadence, temperature } = input;
  const hot = temperature !== null && temperature >= HEAT_FROM;
  return [
    ...byInterval(input, "shock", hot ? cadence.shockInHeat : cadence.shock, hot),
    ...bySeason(input, "lab-check", cadence.labChecks),
    ...bySeason(input, "fresh-reagents", cadence.freshReagents > 0 ? 1 : 0),
  ];
}

function byInterval({ day, lastDone }: TaskInput, task: Task, every: number, hot: boolean): DueTask[] {
  if (every === 0) return [];
  const last = lastDone[task];
  if (last === undefined) return [{ task, because: "never-done", every }];
  return daysBetween(last, day) >= every ? [{ task, because: hot ? "heat" : "interval", every }] : [];
}

/** Due from each of its days in the season on, until it is done. */
function bySeason(input: TaskInput, task: Task, times: number): DueTask[] {
  if (times === 0) return [];
  const begun = milestones(input, times).filter((day) => day <= input.day);
  const latest = begun.at(-1);
  if (!latest) return [];
  const last = input.lastDone[task];
  return last !== undefined && last >= latest ? [] : [{ task, because: "season", every: null }];
}

/** Days before the end of a season on which the last full check falls. */
const BEFORE_CLOSING = 14;

/** The days of this season and the one before on which something falls: opening, spread between, before closing. */
function milestones({ day, season, seasonStart }: TaskInput, times: number): string[] {
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
