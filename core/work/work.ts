import type { Basin, BasinKind } from "../basin/basin";
import type { Season } from "../schedule/calls";
import { type DueBecause, dueByDays, dueBySeason } from "../schedule/tasks";
import { refillDays, solidsOver } from "./refill";

/** What is done at a call besides the water: a list by kind of basin, each with when it comes round. */

export const WORK_KEYS = [
  "skim",
  "baskets",
  "water-level",
  "brush",
  "vacuum",
  "filter",
  "cartridge",
  "tile-line",
  "feeder",
  "cell",
  "heater",
  "cover",
  "jets",
  "refill",
] as const;
export type WorkKey = (typeof WORK_KEYS)[number];

/** @example isWorkKey("brush") // true */
export const isWorkKey = (key: string): key is WorkKey => WORK_KEYS.some((one) => one === key);

/**
 * At every call, so many days after it was last done, or so many times in a season; a filter also by its pressure,
 * other water by who bathes in it and what gathers there.
 */
export type WorkRule =
  | { by: "call" }
  | { by: "bathers" }
  | { by: "days"; every: number }
  | { by: "season"; times: number };

export interface WorkItem {
  /** One of `WORK_KEYS`, or the firm's own. */
  key: string;
  /** As the firm calls it; left out of what ships. */
  name?: string | undefined;
  rule: WorkRule;
}

/** A version of what a firm does at one kind of basin. */
export interface WorkList {
  items: WorkItem[];
}

const call: WorkRule = { by: "call" };
const days = (every: number): WorkRule => ({ by: "days", every });

/** Usual practice for weekly service; a firm changes it as it likes. */
const POOL_WORK: WorkItem[] = [
  { key: "skim", rule: call },
  { key: "baskets", rule: call },
  { key: "water-level", rule: call },
  { key: "brush", rule: days(7) },
  { key: "vacuum", rule: days(7) },
  { key: "tile-line", rule: days(14) },
  { key: "filter", rule: days(28) },
  { key: "feeder", rule: call },
  { key: "cell", rule: days(90) },
  { key: "heater", rule: { by: "season", times: 2 } },
];

/** A spa's filter is small and clogs with oils: it is rinsed every other week. */
const SPA_WORK: WorkItem[] = [
  { key: "water-level", rule: call },
  { key: "tile-line", rule: days(7) },
  { key: "cartridge", rule: days(14) },
  { key: "cover", rule: days(28) },
  { key: "jets", rule: days(28) },
  { key: "feeder", rule: call },
  { key: "cell", rule: days(90) },
  { key: "heater", rule: { by: "season", times: 2 } },
  { key: "refill", rule: { by: "bathers" } },
];

/** What is done at a kind of basin where the firm has no list of its own. @example usualWork("spa").items[0].key // "water-level" */
export const usualWork = (kind: BasinKind): WorkList => ({ items: kind === "spa" ? SPA_WORK : POOL_WORK });

/** What a piece of work is done to: nobody inspects a cell where there is none. */
const NEEDS: Partial<Record<WorkKey, (basin: Pick<Basin, "equipment" | "indoors">) => boolean>> = {
  cell: ({ equipment }) => equipment.feeder === "salt-cell",
  feeder: ({ equipment }) => equipment.feeder === "tablets" || equipment.feeder === "liquid",
  cover: ({ equipment }) => equipment.cover !== "none" && equipment.cover !== null,
};

export interface WorkInput {
  list: WorkList;
  basin: Pick<Basin, "equipment" | "indoors" | "litres" | "sanitiser">;
  /** Dissolved solids as they were last read, mg/L, and when; null where nobody did. */
  solids: { value: number; day: string } | null;
  day: string;
  /** The day on which its pressure said that the filter wants cleaning; null where it did not. */
  filterFullOn: string | null;
  /** The day each was last done; absent when never. Work that was skipped was not done. */
  lastDone: Readonly<Record<string, string>>;
  season: Season | null;
  seasonStart: string;
}

export interface WorkAtCall extends WorkItem {
  /** Why it is due; null where it is not. */
  because: DueBecause | "call" | "pressure" | "bathers" | "solids" | null;
  /** The day it was last done; null when never. */
  last: string | null;
}

/**
 * The list of a basin on a day, in its order, each with whether it is due.
 * @example workAt({ list: usualWork("pool"), basin, solids: null, day: "2026-05-05", lastDone: {}, season: null, seasonStart: "04-01" })[0].because // "call"
 */
export const workAt = (input: WorkInput): WorkAtCall[] =>
  input.list.items
    .filter(({ key }) => !isWorkKey(key) || NEEDS[key]?.(input.basin) !== false)
    .map((item) => ({ ...item, because: dueBy(input, item), last: input.lastDone[item.key] ?? null }));

/** What is done to a filter, whatever its days say. */
const FILTER_WORK: readonly string[] = ["filter", "cartridge"] satisfies WorkKey[];

function dueBy(input: WorkInput, { key, rule }: WorkItem): WorkAtCall["because"] {
  const last = input.lastDone[key];
  const full = FILTER_WORK.includes(key) ? input.filterFullOn : null;
  if (full !== null && (last === undefined || last < full)) return "pressure";
  switch (rule.by) {
    case "call":
      return last === input.day ? null : "call";
    case "bathers":
      return dueByBathers(input, last);
    case "days":
      return dueByDays(input.day, last, rule.every);
    case "season":
      return dueBySeason(input, last, rule.times);
  }
}

/** What has gathered is gone with the water: a reading of before it was replaced says nothing of it. */
function dueByBathers(
  { basin, solids, day }: WorkInput,
  last: string | undefined,
): "bathers" | "solids" | "never-done" | null {
  const isOfThisWater = solids !== null && (last === undefined || solids.day > last);
  if (isOfThisWater && solidsOver(basin, solids.value)) return "solids";
  const because = dueByDays(day, last, refillDays(basin.litres, basin.equipment.bathers));
  return because === "interval" ? "bathers" : because;
}
