import type { Messages } from "../messages/compiled/messages";
import { words } from "./language";

export type HelpDrawing = "calls" | "sample" | "drop" | "comparator" | "staff" | "pours" | "trend" | "bottle";

/** What a screen is for, in ten lines at most, with the drawing that belongs to it. */
export interface ScreenHelp {
  title: string;
  drawing: HelpDrawing;
  lines: readonly string[];
}

/** Which addresses each is of; the first that fits is taken. */
export const SCREENS: readonly [at: RegExp, help: keyof Messages["help"], drawing: HelpDrawing][] = [
  [/^\/$/, "round", "calls"],
  [/^\/week$/, "week", "calls"],
  [/^\/week\/regular$/, "regular", "calls"],
  [/^\/week\/quote$/, "newQuote", "calls"],
  [/^\/practice$/, "practice", "drop"],
  [/^\/basins\/new$/, "newBasin", "staff"],
  [/^\/basins\/held$/, "held", "trend"],
  [/^\/basins$/, "basins", "staff"],
  [/^\/basins\/[^/]+\/repairs$/, "repairs", "calls"],
  [/^\/basins\/[^/]+\/customer$/, "siteCustomer", "calls"],
  [/^\/basins\/[^/]+\/access$/, "access", "calls"],
  [/^\/basins\/[^/]+\/week$/, "weekWishes", "calls"],
  [/^\/basins\/[^/]+\/facts$/, "facts", "staff"],
  [/^\/basins\/[^/]+\/volume$/, "volume", "staff"],
  [/^\/basins\/[^/]+\/judgement$/, "judgement", "staff"],
  [/^\/basins\/[^/]+\/what-if$/, "whatIf", "staff"],
  [/^\/basins\/[^/]+\/season$/, "season", "trend"],
  [/^\/basins\/[^/]+\/compare$/, "compare", "staff"],
  [/^\/basins\/[^/]+/, "basin", "trend"],
  [/^\/visits\/[^/]+\/(look|sample)$/, "before", "sample"],
  [/^\/visits\/[^/]+\/(ph|totalChlorine)$/, "comparator", "comparator"],
  [/^\/visits\/[^/]+\/cyanuricAcid$/, "tube", "comparator"],
  [/^\/visits\/[^/]+\/(judge|retest)$/, "judge", "staff"],
  [/^\/visits\/[^/]+\/(dose|recipes.*)$/, "dose", "pours"],
  [/^\/visits\/[^/]+\/work$/, "chores", "calls"],
  [/^\/visits\/[^/]+\/job$/, "job", "calls"],
  [/^\/visits\/[^/]+\/incident$/, "incident", "sample"],
  [/^\/visits\/[^/]+\/close$/, "close", "calls"],
  [/^\/visits\/[^/]+\/customer$/, "customer", "bottle"],
  [/^\/visits\/[^/]+$/, "visit", "calls"],
  [/^\/(visits\/|bench)/, "count", "drop"],
  [/^\/book\/import/, "import", "trend"],
  [/^\/book\/(month|prices)/, "accounts", "trend"],
  [/^\/book/, "book", "trend"],
  [/^\/shelf\/products/, "products", "bottle"],
  [/^\/shelf\/trucks/, "trucks", "bottle"],
  [/^\/shelf\/kits/, "kits", "drop"],
  [/^\/shelf/, "reagents", "bottle"],
  [/^\/settings\/team/, "team", "calls"],
  [/^\/settings\/ranges/, "ranges", "staff"],
  [/^\/settings\/mail/, "mail", "calls"],
  [/^\/settings\/audit/, "audit", "calls"],
  [/^\/settings\/health/, "jobs", "calls"],
  [/^\/settings\/calendar/, "calendar", "calls"],
  [/^\/settings\/api/, "apiTokens", "calls"],
  [/^\/settings\/webhooks/, "webhooks", "calls"],
  [/^\/settings\/practice/, "practiceShared", "drop"],
  [/^\/settings\/work-list/, "chores", "calls"],
  [/^\/settings\/week/, "weekHours", "calls"],
  [/^\/settings\/work/, "work", "calls"],
  [/^\/settings/, "settings", "calls"],
];

/** What the `?` of a page says. */
export function helpFor(path: string): ScreenHelp | null {
  const found = SCREENS.find(([pattern]) => pattern.test(path));
  return found ? { ...words.help[found[1]], drawing: found[2] } : null;
}
