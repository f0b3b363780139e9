import {
  type Advice,
  type EverydayUnit,
  type Finding,
  type InputFault,
  type Kit,
  type Measurement,
  type NoDoseReason,
  type Quantity,
  type Stop,
  type Surface,
  temperatureIn,
  type UnitSystem,
} from "#core";
import { lock, store } from "./en-away";
import { basinWords } from "./en-basin";
import { benchWords } from "./en-bench";
import { importWords } from "./en-import";
import { judgeWords } from "./en-judge";
import { planWords } from "./en-plan";
import { recipeWords } from "./en-recipe";
import { roundWords } from "./en-round";
import { shelfWords } from "./en-shelf";
import { teamWords } from "./en-team";

export { doubtName, doubtText, dueText, stepSentence, trapNames } from "./en-bench";
export { noticeText, rangeText, type Writers } from "./en-judge";
export { taskText } from "./en-round";
export { measureName, productName } from "./en-shelf";
export { auditText } from "./en-team";

/** Every word a user reads, in English. The core speaks in codes; here they become sentences. */

export const words = {
  ...basinWords,
  ...benchWords,
  ...importWords,
  ...judgeWords,
  ...planWords,
  ...recipeWords,
  ...roundWords,
  ...shelfWords,
  ...teamWords,
  product: "Pelagon",
  opening: "Opening …",
  store,
  lock,
  signIn: {
    title: "Sign in",
    email: "Email",
    password: "Password",
    go: "Sign in",
    wrong: "That email and password do not belong together. Check both and try again.",
    slow: (seconds: number) =>
      `Too many tries. Wait ${seconds < 90 ? `${seconds} seconds` : `${Math.ceil(seconds / 60)} minutes`}, then try again.`,
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
    calls: "Called at",
    ranges: "Ranges",
    kit: "Kit",
    contact: "Contact",
    where: "Where",
    last: "Last readings",
    lastNone: "No readings yet. Start a visit and the first ones will stand here.",
    book: "Book of visits",
    bookNone: "No finished visit yet.",
    older: "Older visits",
    indoors: "indoors",
    outdoors: "outdoors",
    start: "Start a visit",
    resume: "Go on with the visit",
    date: "Date",
    by: "By",
    found: "Found",
    given: "Given",
    inRange: "all in range",
    nothing: "nothing",
  },
  visit: {
    sheet: "Run sheet",
    judge: "Judge",
    dose: "Dose",
    retest: "Retest",
    close: "Close",
    open: "to do",
    notDue: "not due",
    noted: (count: number) => `${count} noted`,
    skipped: "No kit of the firm has a test for this.",
    skip: "Skip this test",
    otherWays: "Another way to test this",
    agree: "The readings agree: their intervals overlap.",
    disagree: "The readings do not agree: their intervals are apart. One of the tests is off.",
    used: "used",
    beside: "also read",
    beforeDosing: "before dosing",
    setAside: (name: string) => `${name} was read, but nothing is dosed by it.`,
    already: "Saved in this visit",
    saveReplaces: "Saving again replaces it; the first one stays in the trail.",
    judgeTitle: "How the water stands",
    judgeNone: "No reading yet. Make at least one test; chlorine first.",
    allRight: "Every reading is in range.",
    closed: "Keep the basin closed until this reads right.",
    bySet: (name: string) => `Judged by: ${name}`,
    notTested: "Not tested today",
    carried: (value: string, age: string) => `${value}, from ${age}`,
    toDose: "See what to add",
    doseTitle: "What to add",
    doseNone: "Nothing to add.",
    doseEach:
      "Each amount is worked out for its own reading. Add one, let it mix, and test again before the next. Goggles and gloves, nobody in the water, pump running; the label outranks what stands here.",
    given: "Given",
    amountGiven: (unit: string) => `Amount given, ${unit}`,
    saveDose: "Added",
    correctDose: "Correct",
    notGiven: "Take back",
    exact: (amount: string) => `exactly ${amount}`,
    cups: (cups: number) => `roughly ${cups} ${cups === 1 ? "cup" : "cups"}; weigh it if you can`,
    portions: (count: number, amount: string) =>
      `In ${count} portions of ${amount}, with the pump running and 30 minutes between.`,
    aim: (what: string, value: string) => `brings ${what} to about ${value}`,
    limitedByPh:
      "More would take the pH under its range. Give this, aerate until the pH is back, test again, then the rest.",
    toClose: "To close",
    closeTitle: "Close the visit",
    note: "Note for the book",
    notePlaceholder: "What the next person should know",
    finish: "Save the visit",
    /** A test that another device made before it could know of the close. */
    late: "came in after the close",
    rinse: "Rinse and pack the kit. Used samples go into the waste bottle, never back into the water.",
    closedBefore:
      "Somebody else had closed this visit already. It stands as they closed it; your note was added to theirs.",
    offline: "The server does not answer. What you entered is still here; try again in a moment.",
    readings: "Readings",
    findings: "Findings",
    doses: "Added",
    by: "by",
    planned: "planned",
    value: "Reading",
    test: "Test",
    bracket: "Lies within",
    how: "How",
    weather: (low: string, high: string, sun: string, rain: string, evaporation: string) =>
      `Weather: ${low} to ${high}, ${sun} h of sun${rain === "0" ? "" : `, ${rain} mm of rain`}, ${evaporation} mm evaporated.`,
    cost: (money: string) => `Cost of what was added: ${money}`,
    sheetOfFirm: "The firm's own sheet",
  },
  balance: {
    title: "Saturation",
    balanced: "balanced",
    etches: "▼ low: the water takes calcite from plaster and metal from heaters",
    scales: "▲ high: the water drops scale and clouds",
    interval: (low: string, high: string) =>
      `between ${low} and ${high} in 95 of 100 cases, by how sure the readings are`,
    window: (low: string, high: string) => `Balanced from ${low} to ${high}.`,
    titrated: (index: string) =>
      `With the alkalinity as titrated it would be ${index}; so much of it is stabiliser that the corrected one counts.`,
    assumed: (names: string) => `Not measured, taken as usual: ${names}.`,
  },
  settings: {
    title: "Settings",
    units: "Units for the whole firm",
    us: "US: gallons, ounces, °F",
    metric: "Metric: litres, grams, °C",
    unitsSaved: "Units saved.",
    dropKey: "Foot switch or button ring",
    dropKeyHint:
      "Space, Enter, arrows and page keys count a drop already. If yours types another key, teach it here.",
    dropKeyTeach: "Press it now …",
    dropKeyStart: "Teach a key",
    dropKeyIs: (key: string) => `Counts a drop: ${key}`,
    dropKeyForget: "Forget it",
    ownersOnly: "Only an owner can change this.",
    rates: "What plans and recipes go by",
    currency: "Prices are in",
    fillRate: "A tap fills, litres an hour",
    persulfateDose: "Persulfate by its label, g a cubic metre",
    seasonStart: "The season begins, month-day (04-01)",
    ratesSave: "Save",
    devices: "Devices out of reach",
    devicesHint:
      "A device that hears nothing from here for so long forgets the round that it took along. What was not sent stays on it.",
    forget: (days: number | null): string => (days === null ? "Keep it" : `${days} days`),
    devicesSaved: "Saved. Each device hears of it with its next round.",
    ratesSaved: "Saved.",
    theme: "Paper",
    themes: { system: "As the device", light: "Light", dark: "Dark" },
    you: "You",
    everywhere: "Sign out on every device",
    team: "Team",
    roles: { owner: "owner", technician: "technician", reader: "reader" },
    calendarOpen: "Secret addresses",
    teamOpen: "Invite, change, shut out",
    sessions: "Signed in on",
    thisDevice: "this one",
    used: (when: string) => `used ${when}`,
    endSession: "Sign it out",
  },
  keys: {
    title: "Keys",
    open: "Keys",
    close: "Close",
    list: [
      ["Space, Enter, arrows, page keys", "one drop more"],
      ["P", "pace the count; any key stops it"],
      ["X", "the last drop changed nothing"],
      ["Backspace", "take one back"],
      ["S", "save and go to the next test"],
      ["N", "skip to the next test"],
      ["J", "judge"],
      ["Control K", "go to a page or basin"],
      ["?", "this list"],
    ] as const,
  },
  trouble: {
    again: "Try again",
    notFound: {
      title: "Nothing here",
      text: "This page does not exist, or it belongs to another firm.",
    },
    broken: {
      title: "The server did not answer",
      text: "Nothing is lost: counts are kept on this device and sent when it answers again.",
    },
    outOfReach: {
      title: "Out of reach",
      text: "This page is not on this device, and the server does not answer. What you entered stays here and is sent when it does.",
    },
    away: {
      title: "The book cannot be reached just now",
      text: "It mostly takes a moment. Counts are kept on this device and sent when it answers again.",
    },
    /** What a save met, by the status it was answered with. */
    unsaved: (status: number): string =>
      status === 403
        ? "Not saved: this is not yours to change."
        : status === 400 || status === 413
          ? "Not saved: something in it cannot be kept. What you entered is still here."
          : "Not saved: the server could not do it just now. What you entered is still here; try again in a moment.",
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
  fibreglass: "fibreglass",
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
    "The reading is off the end of its scale, so the amount cannot be worked out. Dilute the sample or use another test.",
  "needs-reading": "Test pH and total alkalinity first; the amount depends on them.",
  "no-product": "No product on the shelf does this.",
  "after-ph": "Bring the pH down first: the same acid lowers alkalinity. Then test alkalinity again.",
  "acid-conflict": "Alkalinity is high but the pH is low: aerate to raise the pH before any acid goes in.",
  "aerate-first":
    "Acid would take the pH too low. Aerate until it has risen to 7.6 or so, then add acid for alkalinity.",
  covered: "The dose for combined chlorine covers this.",
  "fill-no-better":
    "The fill water is no softer, so replacing water will not help. Keep pH and alkalinity on the low side.",
  "inconsistent-readings":
    "pH, alkalinity and stabiliser do not fit together. Test them again before anything goes in.",
};
export const noDoseReason = (reason: NoDoseReason): string => NO_DOSE[reason];

/** What to watch while a product goes in; labels outrank it. */
export function cautions(advice: Extract<Advice, { kind: "dose" }>): string[] {
  const shocks = advice.finding.quantity === "combinedChlorine";
  const closed = shocks
    ? ["Nobody in until free chlorine is back in its range. Cover off, in the evening, outdoors."]
    : [];
  switch (advice.product) {
    case "hydrochloric-acid":
      return [
        "Pour along the returns, a cup at a time. Never near chlorine: together they make poison gas. 30 minutes between the two.",
      ];
    case "sodium-bisulfate":
      return ["Dissolve in a bucket of water first: chemical into water. Never near chlorine."];
    case "calcium-hypochlorite":
    case "dichlor":
    case "trichlor":
      return [
        ...closed,
        "Own dry scoop. Never let two kinds of chlorine meet: they can burn. Dissolve first: chemical into water.",
      ];
    case "sodium-hypochlorite":
      return [...closed, "Pour in front of a return. Never near acid: together they make poison gas."];
    case "calcium-chloride":
      return ["Dissolve in a bucket first, chemical into water. It gets hot."];
    case "cyanuric-acid":
      return ["Hang it in a sock at a return. It reads only after several days; do not add more before."];
    default:
      return closed;
  }
}

export const replaceWaterText = (percent: string, volume: string): string =>
  `Replace about ${percent} of the water (${volume}) with fill water. Before draining: ground water can lift an empty shell, liners shrink, and drained water must be free of chlorine and go where local rules allow.`;

export const waitText = (quantity: Quantity): string =>
  quantity === "freeChlorine"
    ? "Add nothing. Keep the basin closed while it is over its limit, cover off, and let sun and use bring it down."
    : "The chlorine in the water is already enough to burn this off. Wait a day and test again.";

export const purpose = (finding: Finding): string =>
  `${finding.code.endsWith(".low") ? "Raise" : finding.quantity === "combinedChlorine" ? "Burn off" : "Lower"} ${quantityName(finding.quantity).replace(/^[A-Z]/, (first) => first.toLowerCase())}`;

/** A fault as a sentence that names the field, what stood there and the limit. */
export function faultSentence(
  fault: { code: InputFault["code"]; field: string; value: string; limit: unknown },
  units: UnitSystem = "metric",
): string {
  const last = fault.field.split(".").pop() ?? "";
  const name = FIELD[last] ?? fault.field;
  // The core speaks °C; a limit is told in what was typed.
  const degrees = (celsius: unknown) =>
    units === "us" ? `${Math.round(temperatureIn(Number(celsius), "F"))} °F` : `${celsius} °C`;
  const isDegrees = last === "temperature" && typeof fault.limit === "number";
  const given = fault.value === "" ? "nothing" : isDegrees ? degrees(fault.value) : fault.value;
  const list = Array.isArray(fault.limit)
    ? fault.limit.join(", ")
    : isDegrees
      ? degrees(fault.limit)
      : String(fault.limit ?? "");
  switch (fault.code) {
    case "missing":
      return fault.field === "freeChlorine"
        ? "Free chlorine is missing: test it first, combined chlorine is the total less the free."
        : `${name} is missing.`;
    case "too-low":
      return `${name} is ${given}; the least it can be is ${list}.`;
    case "too-high":
      return `${name} is ${given}; the most it can be is ${list}.`;
    case "not-a-number":
      return `${name} is "${given}"; it must be a number.`;
    case "not-a-whole-number":
      return `${name} is ${given}; it must be a whole number.`;
    case "too-long":
      return `${name} is too long; at most ${list} characters.`;
    case "inconsistent":
      return fault.field === "totalChlorine"
        ? `Total chlorine ${given} is less than free chlorine ${list}, which cannot be. Test both again.`
        : fault.field === "visit"
          ? "This visit is already finished; nothing was changed."
          : `${name} (${given}) does not fit${list ? ` with ${list}` : ""}.`;
    case "unconfirmed":
      return fault.field === "sampling"
        ? "Something speaks against this sample; look at the page again and say that you take it anyway."
        : `${name} ${given}: something speaks against it. Save again and answer the question.`;
    case "changed":
      return "Somebody else saved another version in the meantime. What you typed is still here: copy it, open the page again and put it in.";
    case "key-taken":
      return "Something else was saved under this key already. Nothing was changed, and what you typed is still here: open the page again and put it in.";
    case "unknown":
      return list ? `${name} is ${given}; known are ${list}.` : `${name} is not known here.`;
    default:
      return `${name} cannot be read.`;
  }
}

const FIELD: Record<string, string> = {
  count: "The count",
  drops: "The count",
  sample: "The sample size",
  value: "The reading",
  givenGrams: "The amount given",
  note: "The note",
  readings: "A reading",
  id: "The key",
  methodId: "The test",
  productId: "The product",
  freeChlorine: "Free chlorine",
  combinedChlorine: "Combined chlorine",
  totalChlorine: "Total chlorine",
  ph: "pH",
  totalAlkalinity: "Total alkalinity",
  calciumHardness: "Calcium hardness",
  cyanuricAcid: "Cyanuric acid",
  temperature: "Temperature",
  totalHardness: "Total hardness",
  acidDemand: "Acid demand",
  baseDemand: "Base demand",
  bromine: "Bromine",
  salt: "Salt",
  totalDissolvedSolids: "Dissolved solids",
  ageDays: "The result's age in days",
  kit: "The kit",
  basinId: "The basin",
  photo: "The photo",
  photoBytes: "The photo's size in bytes",
  reagent: "The reagent",
  full: "What the bottle holds",
  lot: "The lot",
  openedOn: "The day it was opened",
  expiresOn: "The day it expires",
  name: "The name",
  file: "The file",
  fileBytes: "The file's size in bytes",
  rows: "The number of rows",
  columns: "The number of columns",
  date: "The date",
  time: "The time",
  basin: "The basin",
  format: "The format",
  version: "The version",
  passwordLength: "The password's length",
  current: "The present password",
  tries: "The number of tries",
  reset: "The link",
  imports: "The number of imports under way",
  nesting: "The depth of what was sent",
  run: "The job",
  siteIds: "The sites that a reader sees",
  siteId: "The site",
  kitId: "The kit",
  rangeSetId: "The range set",
  role: "The role",
  round: "The round of",
  day: "The day",
  memberId: "The person",
  basinIds: "The order of calls",
  weeksFrom: "A day in a week with a call",
  everyWeeks: "Every so many weeks",
  from: "The first day of the season",
  to: "The last day of the season",
  pumpHours: "The pump's hours",
  cellGrams: "The cell's output",
  fillAlkalinity: "The fill water's alkalinity",
  fillHardness: "The fill water's hardness",
  invite: "The invitation",
  marks: "The marks",
  millilitres: "The sample size",
  factor: "What a drop is worth",
  units: "The unit system",
  email: "The email",
  why: "The reason",
  stock: "What is on the shelf",
  strength: "The strength",
  density: "The density",
  pricePerKg: "The price",
  mostReplaced: "The share of water",
  grams: "An amount",
  fill: "The fill water",
  plan: "The plan",
  recipe: "The recipe",
  low: "The lower limit",
  high: "The upper limit",
  aim: "The aim",
  closeBelow: "The limit that closes below",
  closeAbove: "The limit that closes above",
  purpose: "What it stands for",
  ranges: "The ranges",
  saturation: "The saturation window",
  length: "The length",
  width: "The width",
  diameter: "The diameter",
  depth: "The depth",
  shallow: "The shallow depth",
  deep: "The deep depth",
  waterLine: "From rim to water",
  volume: "The volume",
  litres: "The volume",
  currency: "The currency",
  fillRate: "The fill rate",
  seasonStart: "The season's start",
  persulfateDose: "The persulfate dose",
};

/** How the bracket of a measurement is told. */
export function bracketText(measured: Pick<Measurement, "bound">, low: string, high: string): string {
  if (measured.bound === "at-least") return `at least ${low}`;
  if (measured.bound === "at-most") return `at most ${high}`;
  return low === high ? high : `${low} to ${high}`;
}

export const methodName = (kits: readonly Kit[], id: string): string =>
  kits.flatMap((kit) => kit.methods).find((method) => method.id === id)?.name ?? id;
