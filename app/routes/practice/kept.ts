import {
  answered,
  type Card,
  type HandEvent,
  isStory,
  type Judged,
  type Observation,
  type Place,
  type SampleTaken,
  type SlipCode,
  type Story,
} from "#core";
import { practiceCountKey } from "../../device/drafts";
import { readStored } from "../../ui/use-stored";

/** What this device keeps of practice: nothing of it goes anywhere else. */

export const WAYS = ["rehearsal", "guided", "alone"] as const;
export type Way = (typeof WAYS)[number];

/** A test that was worked to its end. */
export interface Run {
  at: string;
  way: Way;
  methodId: string;
  story: Story;
  error: number;
  step: number;
  truth: number;
  slips: SlipCode[];
  /** Whether the story's trap was seen; null where it set none. */
  trap: boolean | null;
  seconds: number;
}

/** What came up in a session, and whether it was right. */
export interface Answer {
  name: string;
  isRight: boolean;
}

/** A test under way: left in the middle it goes on where it was. */
export interface UnderWay {
  /** Names this working of the test, for its count. */
  id: string;
  way: Way;
  methodId: string;
  story: Story;
  seed: number;
  line: number;
  events: HandEvent[];
  /** The screen that works it. */
  holder: string;
  /** The sheet that it belongs to. */
  sheet?: string | undefined;
}

/** A test of a sheet that was worked to its end: enough to score it when the sheet is over. */
export interface SheetTest {
  methodId: string;
  line: number;
  events: HandEvent[];
  counted: number | null;
  until: number;
  seen: Observation;
  setAside: boolean;
}

/** A whole sheet under way. */
export interface SheetUnderWay {
  id: string;
  story: Story;
  seed: number;
  taken: SampleTaken | null;
  tests: SheetTest[];
  said: Partial<Record<Judged, Place>>;
  /** As typed, by the shelf's keys, and under "replaced" percent of the water. */
  dose: Record<string, string>;
  /** How far it is: nothing before it is told until then. */
  at: "tests" | "judge" | "dose" | "over";
}

export interface Kept {
  session: number;
  runs: Run[];
  cards: Card[];
}

const KEY = "pelagon.practice";
export const NOW_KEY = "pelagon.practice.now";
export const SHEET_KEY = "pelagon.practice.sheet";
/** Of runs, the newest so many. */
const MOST_RUNS = 600;
export const NOTHING_KEPT: Kept = { session: 0, runs: [], cards: [] };

export function readKept(): Kept {
  const stored = readStored(KEY) as Partial<Kept> | null;
  return Array.isArray(stored?.runs) && Array.isArray(stored.cards)
    ? { session: Number(stored.session) || 0, runs: stored.runs, cards: stored.cards }
    : NOTHING_KEPT;
}

/** Whether this device kept it. */
export function writeKept(kept: Kept): boolean {
  return write(KEY, { ...kept, runs: kept.runs.slice(-MOST_RUNS) });
}

export function readUnderWay(): UnderWay | null {
  const stored = readStored(NOW_KEY) as Partial<UnderWay> | null;
  const isWhole =
    typeof stored?.id === "string" &&
    typeof stored.methodId === "string" &&
    typeof stored.seed === "number" &&
    typeof stored.line === "number" &&
    typeof stored.story === "string" &&
    isStory(stored.story) &&
    WAYS.some((way) => way === stored.way) &&
    Array.isArray(stored.events);
  return isWhole ? (stored as UnderWay) : null;
}

export const writeUnderWay = (one: UnderWay | null): boolean => write(NOW_KEY, one);

export function readSheet(): SheetUnderWay | null {
  const stored = readStored(SHEET_KEY) as Partial<SheetUnderWay> | null;
  const isWhole =
    typeof stored?.id === "string" &&
    typeof stored.seed === "number" &&
    typeof stored.story === "string" &&
    isStory(stored.story) &&
    Array.isArray(stored.tests) &&
    typeof stored.said === "object" &&
    typeof stored.dose === "object";
  return isWhole ? (stored as SheetUnderWay) : null;
}

export const writeSheet = (one: SheetUnderWay | null): boolean => write(SHEET_KEY, one);

/** A session more, with the runs that it was made of and what was right in it. */
export function afterSession(kept: Kept, runs: readonly Run[], answers: readonly Answer[]): Kept {
  const session = kept.session + 1;
  const cards = answers.reduce((all, { name, isRight }) => {
    const card = all.find((one) => one.name === name) ?? { name, gap: 0, due: session };
    return [...all.filter((one) => one.name !== name), answered(card, session, isRight)];
  }, kept.cards);
  return { session, runs: [...kept.runs, ...runs], cards };
}

function write(key: string, value: unknown): boolean {
  try {
    if (value === null) localStorage.removeItem(key);
    else localStorage.setItem(key, JSON.stringify(value));
    return true;
  } catch {
    return false;
  }
}

/** Where the count of a working is kept on this device; it goes when the test is over. */
export const countKeyOf = ({ id }: Pick<UnderWay, "id">): string => practiceCountKey(id);
export const forgetCount = (one: Pick<UnderWay, "id">): boolean => write(countKeyOf(one), null);

/** Forgets all of it. */
export function forgetPractice(): void {
  write(KEY, null);
  write(NOW_KEY, null);
  write(SHEET_KEY, null);
}
