/** What each screen is for, in ten lines at most, with the drawing that belongs to it; in English. */
export type HelpDrawing = "calls" | "sample" | "drop" | "comparator" | "staff" | "pours" | "trend" | "bottle";

export interface ScreenHelp {
  /** The addresses that it is of. */
  at: RegExp;
  title: string;
  drawing: HelpDrawing;
  lines: string[];
}

export const SCREEN_HELP: readonly ScreenHelp[] = [
  {
    at: /^\/$/,
    title: "Round: the day's calls",
    drawing: "calls",
    lines: [
      "Calls stand in their order; drag one, or “Order by need”, to change it.",
      "Under each: what was out last time, what will not last, what is due, what goes in by its label.",
      "“Start” begins a visit; what was begun elsewhere can be gone on with.",
      "“To load” is what the last plans thought of for these calls, and the drops their tests take.",
      "“Who, skip, event”: give a call away, leave it out with a reason, or write a party down.",
      "A call that nobody made is asked after until somebody says why.",
    ],
  },
  {
    at: /^\/practice$/,
    title: "The practice bench",
    drawing: "drop",
    lines: [
      "A hidden water, and hands that do what hands do: nothing of it goes into the book.",
      "Rehearsal: the steps by heart. Guided: what is next stands out, each slip is told at once.",
      "Alone: one test, or a whole sheet from the sample to the dose, told against the water afterwards.",
      "Pour by holding; the bottom of the curve belongs on the line.",
      "Hold the bottle upright (the slider, [ and ]), tap for a drop, hold W or “Swirl” to mix.",
      "“Name the colour” says what is seen and how far along it is.",
      "What was missed comes back soon; after five runs of a test its bias and scatter are told.",
    ],
  },
  {
    at: /^\/basins\/new$/,
    title: "A new basin",
    drawing: "staff",
    lines: [
      "Where it is, what it is, how much it holds: a volume as known now; by shape, meter or log later.",
      "Kit and ranges come as they fit its kind; change them here or under Judging.",
      "Next are its facts: the days of its calls, its feeder, its fill water.",
    ],
  },
  {
    at: /^\/basins(\/|$)/,
    title: "A basin",
    drawing: "trend",
    lines: [
      "Each rod is a reading: its band is marked, the float is the last reading, whiskers are how sure it is.",
      "Habits are learned from its own log: what it loses, rises and climbs by itself, with how sure.",
      "Over time: readings against their band, doses marked under them.",
      "What if: move a reading or an amount and see everything else move.",
      "Volume: by shape, by meter, or by a dose and its retest.",
      "Judging: ranges, minutes, and what must never go in here.",
      "Season: ways of chlorinating side by side, in money and in work.",
    ],
  },
  {
    at: /^\/visits\/[^/]+\/(look|sample)$/,
    title: "Before the tests",
    drawing: "sample",
    lines: [
      "Look first: what you see, hear, smell and feel, one tap each. What hides the floor or can hurt closes the basin.",
      "Something happened: stool, glass, gas, a chemical on somebody. What to do first, and it stands in the log.",
      "Rinse three times; go in upside down, elbow deep, away from returns and the surface; turn over, up.",
      "Fill to the line at eye level, the bottom of the curve on the line.",
      "What speaks against a sample is named; you can go on all the same, and it is written down.",
      "S goes on.",
    ],
  },
  {
    at: /^\/visits\/[^/]+\/(ph|totalChlorine)$/,
    title: "A comparator",
    drawing: "comparator",
    lines: [
      "Hold it against a white card, in the shade, without tinted glasses.",
      "On a standard, or between two: the reading is that stretch.",
      "At the last standard it is “at least” or “at most”, never a number: dilute, or count the demand.",
      "Much chlorine turns phenol red purple: that pH is not to be acted on.",
    ],
  },
  {
    at: /^\/visits\/[^/]+\/(judge|retest)$/,
    title: "Judge: each reading against its band",
    drawing: "staff",
    lines: [
      "Plain is right. ▼ is below, ▲ above, ◆ and a red edge unsafe: closed until it reads right.",
      "A hollow float is what the last plan promised; a reading outside it is asked about once.",
      "The beam is the whole balance: it dips to etching or to scaling, the notch is as far as it may.",
      "“Near an edge”: inside as written, and the bracket reaches over.",
      "What the readings say together, with the log beside them, stands below.",
    ],
  },
  {
    at: /^\/visits\/[^/]+\/(dose|recipes.*)$/,
    title: "Dose: what to pour now",
    drawing: "pours",
    lines: [
      "The first card is the first pour: measure it, pour it, tick it.",
      "Acid and chlorine keep half an hour apart, and so do two portions; the clock says when the next is.",
      "“Minutes here”: what does not fit is left for the next call, and said.",
      "The fan is what the water will do until the next call: with it, and without.",
      "Due by its label: algaecide and the like; what it must wait for is said.",
      "Projects take days and are never part of today's pour.",
      "Goggles, gloves, nobody in the water, pump on; the label and local code outrank what stands here.",
    ],
  },
  {
    at: /^\/visits\/[^/]+\/close$/,
    title: "Close",
    drawing: "calls",
    lines: [
      "One look: read, given, left open, next call, what it will find.",
      "Why something stays open is asked once, by a tap.",
      "“Write it for the customer” drafts what they read; change it as you like.",
      "After it nothing is changed but by a correction that says why.",
    ],
  },
  {
    at: /^\/(visits\/|bench|practice)/,
    title: "A count of drops",
    drawing: "drop",
    lines: [
      "The whole sheet, Space, Enter or a foot switch counts a drop; ⌫ takes one back.",
      "Far from the end go fast; near it one drop, swirl, look.",
      "The beat (P) calls the numbers while both hands are busy; any key stops it.",
      "When in doubt one more drop; X says that it changed nothing and does not count.",
      "n drops mean: over n − 1 and up to n. The bracket stands under the number.",
      "The bottle upright, or the drops are small and the count is high.",
      "A count is kept on this device with every drop, whatever happens to the battery.",
    ],
  },
  {
    at: /^\/book/,
    title: "Book: every visit",
    drawing: "trend",
    lines: [
      "Search by basin, day, who, or a word in a note.",
      "Out: CSV and JSON for everything, a sheet for the customer as PDF.",
      "In: a spreadsheet, column by column; what does not fit is named, line by line, before anything is written.",
    ],
  },
  {
    at: /^\/shelf/,
    title: "Shelf: what the vans carry",
    drawing: "bottle",
    lines: [
      "Reagents are drawn down by the tests that took from them.",
      "Products: plans take them in this order; strength and price make the amounts.",
      "A bottle or delivery that the logs speak against is told with what speaks for it.",
      "By label: the dose and its days, typed in once.",
      "Kits are data: copy one and change what a drop is worth; old counts keep their kit.",
    ],
  },
  {
    at: /^\/settings/,
    title: "Settings",
    drawing: "calls",
    lines: [
      "Units, minutes of a call, how often what is tested, the start of the season.",
      "Ranges are versions: a visit keeps those it was begun with.",
      "Team: invite, change a role, end a session; owners see who did what.",
    ],
  },
];

/** What the `?` of a page says. */
export const helpFor = (path: string): ScreenHelp | null =>
  SCREEN_HELP.find(({ at }) => at.test(path)) ?? null;
