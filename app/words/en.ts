import type { EverydayUnit, Finding, Kit, Measurement, NoDoseReason, Quantity, Stop, Surface } from "#core";
import { aheadWords } from "./en-ahead";
import { lock, store, work } from "./en-away";
import { basinWords } from "./en-basin";
import { benchWords } from "./en-bench";
import { holdWords } from "./en-hold";
import { importWords } from "./en-import";
import { judgeWords } from "./en-judge";
import { labelledWords } from "./en-labelled";
import { planWords } from "./en-plan";
import { practiceWords } from "./en-practice";
import { recipeWords } from "./en-recipe";
import { roundWords } from "./en-round";
import { safetyWords } from "./en-safety";
import { settingsWords } from "./en-settings";
import { setupWords } from "./en-setup";
import { shelfWords } from "./en-shelf";
import { teamWords } from "./en-team";
import { toldWords } from "./en-told";
import { visitWords } from "./en-visit";

export { doubtName, doubtText, dueText, stepSentence, trapNames } from "./en-bench";

import { tooManyTries } from "./en-fault";

export type { Chance } from "./en-basin";
export { faultSentence } from "./en-fault";
export { everyText, meansText, spoonText, togetherText } from "./en-hold";
export { noticeText, rangeText, type Writers } from "./en-judge";
export { taskText } from "./en-round";
export { bathingReason, INCIDENT_TEXT } from "./en-safety";
export { measureName, productName, soldAs } from "./en-shelf";
export { auditText } from "./en-team";

/** Every word a user reads, in English. The core speaks in codes; here they become sentences. */

export const words = {
  ...aheadWords,
  ...basinWords,
  ...benchWords,
  ...holdWords,
  ...importWords,
  ...judgeWords,
  ...labelledWords,
  ...planWords,
  ...practiceWords,
  ...recipeWords,
  ...roundWords,
  ...safetyWords,
  ...setupWords,
  ...toldWords,
  ...shelfWords,
  ...teamWords,
  ...visitWords,
  ...settingsWords,
  product: "Pelagon",
  opening: "Opening …",
  store,
  work,
  lock,
  signIn: {
    title: "Sign in",
    email: "Email",
    password: "Password",
    go: "Sign in",
    wrong: "That email and password do not match. Check both and try again.",
    slow: tooManyTries,
    demo: "Demo data is loaded. Sign in as",
    demoWith: "with the password",
    demoFill: "Fill it in",
    bench: "Quick bench: one test, without signing in",
  },
  nav: {
    label: "Pages",
    round: "Round",
    basins: "Basins",
    book: "Book",
    shelf: "Shelf",
    settings: "Settings",
    signOut: "Sign out",
    skip: "Skip to the page",
  },
  basins: { title: "Basins" },
  basin: {
    facts: "Facts",
    volume: "Volume",
    surface: "Surface",
    fill: "Fill water",
    fillText: (alkalinity: number | null, hardness: number | null) =>
      alkalinity === null && hardness === null
        ? "not known"
        : `alkalinity ${alkalinity ?? "?"}, hardness ${hardness ?? "?"} ppm`,
    calls: "Visit days",
    ranges: "Ranges",
    kit: "Kit",
    contact: "Contact",
    where: "Location",
    last: "Last readings",
    lastNone: "No readings yet. Start a visit to add the first ones.",
    book: "Past visits",
    bookNone: "No finished visit yet.",
    older: "Older visits",
    indoors: "indoors",
    outdoors: "outdoors",
    start: "Start visit",
    resume: "Continue visit",
    date: "Date",
    by: "By",
    found: "Readings",
    given: "Added",
    inRange: "all in range",
    nothing: "nothing",
  },
  trouble: {
    again: "Try again",
    notFound: {
      title: "Page not found",
      text: "This page does not exist, or it belongs to another firm.",
    },
    broken: {
      title: "The server did not answer",
      text: "Nothing is lost. Counts stay on this device and are sent later.",
    },
    outOfReach: {
      title: "Offline",
      text: "This page is not on this device, and the server does not answer. Your entries stay on this device and are sent later.",
    },
    away: {
      title: "The book is not available right now",
      text: "This usually takes a moment. Counts stay on this device and are sent later.",
    },
    /** What a save met, by the status it was answered with. */
    unsaved: (status: number): string =>
      status === 403
        ? "Not saved: you are not allowed to change this."
        : status === 400 || status === 413
          ? "Not saved: the server does not accept these entries. What you entered is still here."
          : "Not saved: the server could not do it right now. What you entered is still here. Try again in a moment.",
  },
};

const QUANTITY: Record<Quantity, { name: string; short: string }> = {
  freeChlorine: { name: "Free chlorine", short: "FC" },
  combinedChlorine: { name: "Combined chlorine", short: "CC" },
  totalChlorine: { name: "Total chlorine", short: "TC" },
  bromine: { name: "Bromine", short: "Br" },
  ph: { name: "pH", short: "pH" },
  totalAlkalinity: { name: "Total alkalinity", short: "TA" },
  calciumHardness: { name: "Calcium hardness", short: "CH" },
  cyanuricAcid: { name: "Cyanuric acid", short: "CYA" },
  totalHardness: { name: "Total hardness", short: "Hardness" },
  salt: { name: "Salt", short: "Salt" },
  totalDissolvedSolids: { name: "Dissolved solids", short: "TDS" },
  temperature: { name: "Temperature", short: "Temp" },
  acidDemand: { name: "Acid demand", short: "Acid" },
  baseDemand: { name: "Base demand", short: "Base" },
};

export const quantityName = (quantity: Quantity): string => QUANTITY[quantity].name;
export const quantityShort = (quantity: Quantity): string => QUANTITY[quantity].short;

/** A stop of a visit, as the run sheet names it. */
export const stopName = (stop: Stop): string => {
  switch (stop) {
    case "look":
      return "Look";
    case "sample":
      return "Sample";
    case "judge":
      return words.visit.judge;
    case "dose":
      return words.visit.dose;
    case "retest":
      return words.visit.retest;
    case "close":
      return words.visit.close;
    default:
      return quantityName(stop);
  }
};

const SURFACE: Record<Surface, string> = {
  plaster: "plaster",
  vinyl: "vinyl liner",
  fibreglass: "fiberglass",
  acrylic: "acrylic shell",
  tile: "tile",
  concrete: "painted concrete",
};
export const surfaceName = (surface: Surface): string => SURFACE[surface];

export const KIND_NAMES = {
  pool: "pool",
  spa: "spa",
  plunge: "plunge pool",
  teaching: "teaching pool",
  exercise: "exercise pool",
  "splash-pad": "splash pad",
} as const;
export const KINDS = Object.keys(KIND_NAMES) as (keyof typeof KIND_NAMES)[];

export const WEEKDAYS = ["", "Mon", "Tue", "Wed", "Thu", "Fri", "Sat", "Sun"] as const;

const EVERYDAY: Record<EverydayUnit, string> = {
  mL: "mL",
  L: "L",
  g: "g",
  kg: "kg",
  tsp: "tsp",
  "fl-oz": "fl oz",
  qt: "qt",
  gal: "gal",
  oz: "oz",
  lb: "lb",
};
export const everydayUnit = (unit: EverydayUnit): string => EVERYDAY[unit];

/** "below 80" in a word and a shape's name; the shape itself is drawn beside it. */
export const placeWord = (place: "low" | "high"): string => (place === "low" ? "low" : "high");

/** A finding as one short sentence. `value` and `limit` are already written with their units. */
export function findingSentence(finding: Finding, value: string, limit: string): string {
  const name = quantityName(finding.quantity);
  const low = finding.code.endsWith(".low");
  const said =
    finding.bound === "at-least"
      ? `at least ${value}`
      : finding.bound === "at-most"
        ? `at most ${value}`
        : value;
  return `${name} is ${low ? "low" : "high"}: ${said}, ${low ? "should be at least" : "should be at most"} ${limit}.`;
}

const NO_DOSE: Record<NoDoseReason, string> = {
  bounded:
    "The reading is off its scale, so the amount cannot be worked out. Dilute the sample or use another test.",
  "needs-reading": "Test pH and total alkalinity first. The amount depends on them.",
  "no-product": "No product on the shelf does this.",
  "after-ph": "Lower the pH first. The same acid lowers alkalinity. Then test alkalinity again.",
  "acid-conflict": "Alkalinity is high but the pH is low. Aerate to raise the pH before you add acid.",
  "aerate-first":
    "Acid would make the pH too low. Aerate until the pH is about 7.6, then add acid for alkalinity.",
  covered: "Nothing to add for this reading.",
  "needs-free": "Test free chlorine first. Without that reading a shock could be twice too strong.",
  "combined-unsure": "Persulfate reads as combined chlorine for a day or two. Test again before shocking.",
  "ph-first": "Bring the pH into range first. Above its range chlorine is weak and the air stings.",
  "combined-too-much":
    "This takes more chlorine than anyone may swim in, and less chlorine makes the air worse. Replace part of the water, then test.",
  "fill-no-better":
    "The fill water is no softer, so replacing water will not help. Keep pH and alkalinity on the low side.",
  "inconsistent-readings":
    "pH, alkalinity and stabilizer do not fit together. Test them again before you add anything.",
};
export const noDoseReason = (reason: NoDoseReason): string => NO_DOSE[reason];

export const replaceWaterText = (percent: string, volume: string): string =>
  `Replace about ${percent} of the water (${volume}) with fill water. Nobody in; pump, heater, feeders, and cell off at the breaker. Ground water can lift an empty shell and liners shrink: at most half at a time, a third with a liner or fiberglass. Drained water must be free of chlorine and go where local rules allow. Closed until it is tested again.`;

export const waitText = (quantity: Quantity): string =>
  quantity === "freeChlorine"
    ? "Add nothing. Keep the basin closed and locked until a test reads in range. Sun brings chlorine down; open the cover only while an adult watches the water."
    : "The chlorine in the water is already enough to burn this off. Wait a day and test again.";

export const purpose = (finding: Finding): string =>
  `${finding.code.endsWith(".low") ? "Raise" : finding.quantity === "combinedChlorine" ? "Burn off" : "Lower"} ${quantityName(finding.quantity).replace(/^[A-Z]/, (first) => first.toLowerCase())}`;

/** How the bracket of a measurement is told. */
export function bracketText(measured: Pick<Measurement, "bound">, low: string, high: string): string {
  if (measured.bound === "at-least") return `at least ${low}`;
  if (measured.bound === "at-most") return `at most ${high}`;
  return low === high ? high : `${low} to ${high}`;
}

export const methodName = (kits: readonly Kit[], id: string): string =>
  kits.flatMap((kit) => kit.methods).find((method) => method.id === id)?.name ?? id;
