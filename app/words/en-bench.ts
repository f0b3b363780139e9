import type {
  Doubt,
  DoubtCode,
  Due,
  Measure,
  Quantity,
  SampleAdvice,
  Sense,
  Step,
  TrapCode,
  Trouble,
  UnitSystem,
} from "#core";

/** The bench in English: preparing, counting, reading, and what speaks against it. */

const plural = (count: number, one: string, many = `${one}s`): string => (count === 1 ? one : many);

export const benchWords = {
  bench: {
    preparation: "Preparation",
    fill: (millilitres: number) => `Fill to ${millilitres} mL, eye level, bottom of the curve on the line.`,
    sameSample: "Continue in the same sample. Do not refill.",
    titrant: (reagent: string) => `Then add ${reagent} one drop at a time, swirling.`,
    factor: (worth: string, sample: number) => `1 drop in ${sample} mL is ${worth}`,
    countHint: "Tap anywhere here for each drop",
    paceHint: "Tap, or press any key, when the color has changed",
    drops: (count: number) => plural(count, "drop"),
    aheadOf: (count: number) => `${count} of them before the indicator`,
    takeBack: "Remove drop",
    changedNothing: "No color change",
    save: "Save",
    savePads: (count: number) => (count === 0 ? "Save" : `Save ${count} ${plural(count, "pad")}`),
    expected: (drops: number) => `Last time it took ${drops}`,
    slowing: (drops: number) => `Slow down: last time the color changed at ${drops}`,
    slowSpoken: "slow",
    watch: "Watch for",
    till: "to",
    kept: "Count saved",
    keptHere: "Count saved on this device. It is sent later.",
    notKept:
      "This device cannot store more results: its storage is full or blocked. They last only while this page is open. Move them to a basin before you close it.",
    keptRefused: "Count saved on this device only: the server does not accept it. Trying again.",
    sampleChanged: (millilitres: number) => `New sample of ${millilitres} mL, count from zero.`,
    fadingStarted: "New sample, titrant ahead of the indicator.",
    undo: "Undo",
    paceStart: (seconds: string) => `Pace me, ${seconds} s a drop`,
    pace: (seconds: string, call: string) => `Beat every ${seconds} s, ${call.toLowerCase()}`,
    paceSeconds: "Seconds between drops",
    callBy: "How to announce numbers",
    calls: { voice: "Voice", tones: "Tones", silent: "Silent" },
    lost: "I lost count",
    lostTitle: "Lost count?",
    lostText: "Do not guess. Rinse, fill again and count from zero. A smaller sample takes fewer drops.",
    lostAgain: (millilitres: string) => `New ${millilitres} mL, from zero`,
    lostSmaller: (millilitres: string, expected: number | null) =>
      expected === null
        ? `New ${millilitres} mL, fewer drops`
        : `New ${millilitres} mL, about ${expected} ${plural(expected, "drop")}`,
    lostStay: "No, the count is right",
    fading: "The color fades or stays purple",
    elsewhere: (where: "tab" | "device") =>
      where === "tab"
        ? "This count is open in another tab. Count there."
        : "Another device is counting this.",
    notIn: (drops: number, stands: number) =>
      `The count there is ${stands}. It does not include ${drops} ${plural(drops, "drop")} counted here since.`,
    addLost: (drops: number) => `Add ${drops} and count here`,
    leaveLost: "Leave them out",
    countHere: "Count here",
    timer: (seconds: number) => (seconds < 60 ? `${seconds} s` : `${Math.round(seconds / 60)} min`),
    timerLeft: (seconds: number) => `${seconds} s left`,
    timerDone: "Time is up",
    cautions: {
      "acid-reagent": "This reagent is a harmful acid. Wear gloves, and never pour it into the pool.",
    },
    scalePrompt: "Which color does it match?",
    tubePrompt: "At which line does the dot disappear?",
    below: (mark: string, kind: string) =>
      kind === "turbidity" ? `Still visible at ${mark}` : `${mark} or lower`,
    above: (mark: string, kind: string) =>
      kind === "turbidity" ? `Gone before ${mark}` : `${mark} or higher`,
    between: (from: string, to: string) => `between ${from} and ${to}`,
    times: (dilution: number) => `diluted, times ${dilution}`,
    readAgain: "Pour back and read again",
    readSoFar: (list: string[]) => `Read so far: ${list.join("; ")}. The average counts.`,
    dilution: "Sample and tap water",
    dilutions: { 1: "Undiluted", 2: "1 to 1", 4: "1 to 3" } as Record<number, string>,
    readMeter: "Reading",
    accuracy: (accuracy: string, unit: string, relative: number | undefined) =>
      `Stated accuracy ± ${accuracy} ${unit}${relative ? `, or ${Math.round(relative * 100)}% where that is more` : ""}`.trim(),
    stripHint: "Do not swirl or shake. Hold it level. Compare in the shade, without tinted glasses.",
    notRead: "–",
    sampleWhy: ({ because, millilitres, expected }: SampleAdvice): string => {
      switch (because) {
        case "few-drops":
          return `Sample: ${millilitres} mL is fine enough and takes about ${expected} ${plural(expected ?? 0, "drop")}`;
        case "fine-enough":
          return `Sample: ${millilitres} mL; a coarser drop could hide which side of the range it is on`;
        case "finest-in-reach":
          return `Sample: ${millilitres} mL, the finest that stays near 25 drops; it was close to the edge of its range`;
        case "fewest-drops":
          return `Sample: ${millilitres} mL; the larger one would take over 25 drops`;
        default:
          return "Sample";
      }
    },
    title: "Quick bench",
    quickHint: "One test without a basin.",
    pickTest: "Which test?",
    pickKit: "Kit",
    result: "Result",
    another: "Another test",
    keepHint: "Results stay on this device until you move them to a basin.",
    results: "On this device",
    attach: "Move to a basin",
    attachTo: "Basin",
    attached: "Moved to the basin's visit.",
    signInToAttach: "Sign in to move it to a basin",
    attachAnyway: "Move it there anyway",
    speaksAgainst: (names: string[]) => `This basin's log suggests a problem: ${names.join("; ")}.`,
    discard: "Discard",
    none: "Nothing yet.",
    units: "Units",
  },
  look: {
    title: "Look around first",
    hint: "Tap what you find. Clear water can still be unsafe: water with very low pH is often very clear.",
    senses: {
      see: "See",
      safe: "Safe to be here",
      hear: "Listen to the plant",
      smell: "Smell",
      feel: "Feel the wall",
    } satisfies Record<Sense, string>,
    troubles: {
      "floor-hidden": "floor or main drain not clearly seen",
      "drain-cover": "drain cover broken, loose, or missing",
      gate: "gate or fence does not close and latch by itself",
      "rescue-gear": "rescue gear missing",
      glass: "broken glass",
      wiring: "loose wiring or light",
      "chlorine-gas": "chlorine in the plant room",
      dull: "dull",
      cloudy: "cloudy",
      green: "green",
      brown: "brown or black",
      stains: "stains",
      cracks: "cracks",
      foam: "foam",
      growth: "growth",
      "water-low": "water low",
      "water-high": "water high",
      "pump-off": "pump silent",
      air: "air in the pump",
      cavitation: "rattling, cavitation",
      chloramine: "sharp, chloramine",
      other: "other smell",
      slime: "slime",
      grit: "grit",
    } satisfies Record<Trouble, string>,
    chloramine:
      "A sharp smell means combined chlorine, or a lot of chlorine. Dilute or add powder when DPD stays pale.",
    note: "Note",
    photo: "Photo",
    photoOf: "Photo of this visit",
    removePhoto: "Remove this photo from the visit",
    notAPhoto: "This file is not a picture. Nothing was sent.",
    allFine: "All fine, floor and drain clearly seen",
    save: (count: number) => `Save ${count} ${plural(count, "finding")}`,
  },
  sampling: {
    title: "Take the sample",
    guide: [
      "Rinse the vessel three times in the water.",
      "Mouth down or thumb on it, elbow deep: 45 cm (18 in).",
      "Away from returns, corners and the surface.",
      "Turn it over there and bring it straight up.",
      "Fill to the line at eye level.",
    ],
    drawing: { label: "Elbow deep, mouth down, away from the return", inlet: "return", depth: "45 cm" },
    pump: "Pump",
    circulation: { running: "Running", off: "Off" },
    lastDose: (product: string, age: string) => `Last added: ${product}, ${age} ago.`,
    noDose: "The log shows nothing added in the last weeks.",
    problems: {
      "pump-off": () =>
        "Without circulation the sample shows one spot, not the whole pool. Run the pump for one turnover first.",
      "recent-dose": (age: string) =>
        `The last dose was only ${age} ago and has not mixed everywhere. The sample may not show the whole pool.`,
    },
    ignored: {
      "pump-off": "The sample was taken without circulation.",
      "recent-dose": "The sample was taken soon after a dose and may not show the whole basin.",
    },
    taken: "Sample taken",
    anyway: "Take it anyway and note it",
  },
  device: {
    title: "Photometer",
    none: "No photometer is set up on this server.",
    silent: "Not answering",
    cannot: "cannot read this",
    read: "Take a reading",
    waiting: "Reading …",
    came: (serial: string) => `From ${serial}. Check it, then save.`,
    troubles: {
      "time-out":
        "The photometer did not answer in time. Check the cell and the lid. What you typed is still here.",
      gone: "The photometer disconnected during the reading. Try again. What you typed is still here.",
      garbage:
        "The photometer sent something that is not a reading. Try again, or type what its display shows.",
      refused: "No photometer answers at that address. Check that it is on.",
      "cannot-read": "This photometer cannot read that.",
    },
  },
  palette: {
    open: "Go to a page or basin (Control K)",
    title: "Go to",
    type: "Page or basin",
    nothing: "No page or basin has that name.",
    pages: "Pages",
    /** Each with the least that somebody must be to open it. */
    help: "This screen: what it is for",
    list: [
      ["/", "Round", "technician"],
      ["/basins", "Basins", "reader"],
      ["/book", "Book", "technician"],
      ["/bench", "Quick bench: one test without a basin", "reader"],
      ["/practice", "Practice bench: learn the drops", "reader"],
      ["/guide", "Guide: a technician's day", "reader"],
      ["/shelf", "Shelf: reagents", "technician"],
      ["/shelf/products", "Shelf: products", "technician"],
      ["/shelf/trucks", "Shelf: trucks", "technician"],
      ["/shelf/kits", "Shelf: kits", "technician"],
      ["/settings", "Settings", "reader"],
      ["/settings/ranges", "Settings: ranges", "technician"],
      ["/settings/calendar", "Settings: round in your calendar", "technician"],
      ["/settings/practice", "Settings: practice you share", "technician"],
      ["/settings/team", "Settings: team", "owner"],
      ["/settings/audit", "Settings: who did what", "owner"],
      ["/settings/health", "Settings: background jobs", "owner"],
    ] as const,
  },
  doubts: {
    keep: (code: DoubtCode): string => KEEP[code] ?? "It is right, keep it",
    back: (code: DoubtCode): string => BACK[code] ?? "Go back to the test",
  },
};

/** A doubt in a few words, where its numbers are not at hand. */
export const doubtName = (code: DoubtCode): string => NAME[code] ?? code;

const NAME: Partial<Record<DoubtCode, string>> = {
  "chlorine-bleached": "a lot of chlorine may have bleached the powder",
  "chlorine-purples-ph": "a lot of chlorine turns phenol red purple",
  "indicator-bleached": "chlorine may have bleached the indicator",
  "tube-over": "it is above the last line of the tube",
  "combined-over-total": "combined is more than total",
  "free-over-total": "free is more than total",
  "other-sample-size": "the other sample size would give this value",
  "far-from-expected": "it is far from what this basin's habits suggest",
  "unlikely-change": "so large a change is not likely in that time",
};

const KEEP: Partial<Record<DoubtCode, string>> = {
  "chlorine-bleached": "I checked: no chlorine",
  "chlorine-purples-ph": "Keep it, but do not act on it",
  "indicator-bleached": "It went from green to red, keep it",
  "tube-over": "Keep it as “at least”",
  "other-sample-size": "The sample size is right, keep it",
};
const BACK: Partial<Record<DoubtCode, string>> = {
  "tube-over": "Go back and dilute",
  "other-sample-size": "Go back and change the size",
};

const short = (value: number | undefined, digits = 3): string =>
  value === undefined ? "?" : String(Number(value.toPrecision(digits)));
const degrees = (celsius: number | undefined, units: UnitSystem): string =>
  celsius === undefined
    ? "?"
    : units === "us"
      ? `${Math.round(celsius * 1.8 + 32)} °F`
      : `${short(celsius)} °C`;
const days = (count: number | undefined): string => {
  const whole = Math.max(1, Math.round(count ?? 0));
  return `${whole} ${plural(whole, "day")}`;
};

/** A doubt as one or two short sentences: what it is, then what to do. */
export function doubtText(doubt: Doubt, quantity: Quantity, units: UnitSystem): string {
  const n = doubt.numbers ?? {};
  switch (doubt.code) {
    case "chlorine-bleached":
      return `${bleachEvidence(doubt)} A lot of chlorine bleaches the powder. Was there a flash of pink? Add another scoop, or test one part sample with one part tap water.`;
    case "persulfate-in-combined":
      return `Non-chlorine oxidizer was added ${Math.round(n.hours ?? 0)} h ago. It reads as combined chlorine for a day or two. The reading is noted, and no dose is based on it.`;
    case "chlorine-purples-ph":
      return doubt.moment === "before"
        ? `Chlorine is ${short(n.chlorine)} ppm. Above 10 it turns phenol red purple, and pH reads high. Add a drop of thiosulfate first, or wait.`
        : `With chlorine at ${short(n.chlorine)} ppm the color reads too high. No dose will be based on this pH.`;
    case "off-scale":
      return quantity === "ph"
        ? `This is the end of the scale: the pH is ${doubt.because === "at-least" ? "this or more" : "this or less"}. A demand test tells how much acid or base it takes.`
        : `This is the end of the scale: the value is ${doubt.because === "at-least" ? "this or more. Dilute with tap water to get a number" : "this or less"}.`;
    case "thiosulfate-first":
      return `Chlorine is ${short(n.chlorine)} ppm and bleaches the indicator. Add thiosulfate first. If you see blue to yellow instead of green to red, start again.`;
    case "indicator-bleached":
      return `Chlorine is ${short(n.chlorine)} ppm. Did the color go from green to red? Blue to yellow means a bleached indicator. Add thiosulfate first, and start again.`;
    case "cyanurate-in-alkalinity":
      return `About ${short((n.carbonate ?? 0) < 10 ? n.carbonate : Math.round(n.carbonate ?? 0))} ppm of it is carbonate, which buffers and forms scale. The rest is stabilizer (CYA ${short(n.cyanuricAcid)} ppm).`;
    case "metals-expected":
      return `${doubt.because === "log" ? "Metals spoiled this test here before." : "Stains point to metals."} If the blue fades or stays purple, start again and add titrant before the indicator. Violet specks are magnesium: ignore them.`;
    case "tube-temperature":
      return `The water is ${degrees(n.temperature, units)}. The tube reads right from ${degrees(n.low, units)} to ${degrees(n.high, units)}. Let the sample reach that first.`;
    case "tube-over":
      return `Above the last line. Mix one part sample with ${n.next === 2 ? "one part" : "three parts"} of tap water, read again and multiply by ${n.next}.`;
    case "tube-under":
      return "Below the first line means “less than”, not zero.";
    case "tube-once":
      return "Pour back and read again. The average is better than one reading.";
    case "technique":
      return doubt.because === "powder"
        ? "Hold the bottle upright and let drops fall by themselves. Level the powder in the scoop; it is white and has no clumps. Use a white background, shade, no tinted glasses."
        : "Hold the bottle upright and let drops fall by themselves. Discard the first one when the tip is wet. Use a white background, shade, no tinted glasses.";
    case "reagent-expired":
      return `The ${doubt.because} expired ${days(n.days)} ago. Open a new one, or do not rely on this reading.`;
    case "reagent-last-season":
      return `The ${doubt.because} was opened last season. Replace reagents at the start of each season.`;
    case "reagent-empty":
      return `The book says the ${doubt.because} is used up. Add the new bottle to the shelf.`;
    case "shift-across-basins":
      return `Lately this test reads ${Math.abs(Math.round((n.share ?? 0) * 100))}% ${(n.share ?? 0) > 0 ? "higher" : "lower"} at most of ${n.basins} basins at once. That points to a bad reagent, not to the water. Check with a new bottle.`;
    case "combined-over-total":
      return `Combined ${short(n.combined)} is more than total ${short(n.total)} ppm, which cannot be. Test both again.`;
    case "free-over-total":
      return `Free ${short(n.free)} is more than total ${short(n.total)} ppm, which cannot be. Test both again.`;
    case "other-sample-size":
      return `${short(n.now)} now; last time it was ${short(n.before)}. The other sample size would give this value. To which line did you fill the vessel?`;
    case "far-from-expected":
      return `${unlikely(n.now, quantity, units)} now; this basin's habits suggest ${short(n.low)} to ${short(n.high)}. Test the same sample again, with another bottle if you have one.`;
    case "unlikely-change":
      return `${unlikely(n.now, quantity, units)} now; ${days(n.days)} ago it was ${unlikely(n.before, quantity, units)}. That is not likely. Test again?`;
  }
}

const unlikely = (value: number | undefined, quantity: Quantity, units: UnitSystem): string =>
  quantity === "temperature" ? degrees(value, units) : short(value, 4);

function bleachEvidence({ because, numbers = {} }: Doubt): string {
  switch (because) {
    case "dose":
      return `Chlorine for ${short(numbers.brought, 2)} ppm was added in the last day.`;
    case "last":
      return `It was ${short(numbers.before)} ppm last time.`;
    case "other-test":
      return `Another test says at least ${short(numbers.other)} ppm.`;
    default:
      return "It smells of chlorine but reads close to zero.";
  }
}

/** Why a test stands open today, or when it comes round again. */
export function dueText(due: Due): string {
  if (!due.due)
    return due.station === "acidDemand" || due.station === "baseDemand"
      ? "Due when the pH is out of range."
      : `Not due for another ${days(due.nextIn)}.`;
  const { reason } = due;
  switch (reason.because) {
    case "every-visit":
      return "Due on every visit.";
    case "never-tested":
      return "Due: never tested here.";
    case "interval":
      return `Due: every ${days(reason.every)}, last ${days(reason.daysAgo)} ago.`;
    case "out-last-time":
      return "Due: it was out of range last time.";
    case "after-product":
      return "Due early: a product that raises it was added.";
    case "ph-off":
      return "Due: the pH is out of range. The drops tell how much to add.";
  }
}

const MIX: Record<Step["mix"], string> = {
  swirl: "swirl",
  invert: "turn over a few times",
  shake: "shake",
  crush: "crush and stir until it is gone",
  dip: "dip once, do not shake, hold level",
  none: "",
};

/** "5 drops of alkalinity indicator, swirl." */
export function stepSentence(step: Step): string {
  const amount = measured(step.amount, step.measure);
  const mix = MIX[step.mix];
  const wait = step.wait
    ? step.mix === "shake"
      ? ` for ${step.wait} seconds`
      : `, then wait ${step.wait < 100 ? `${step.wait} seconds` : `${Math.round(step.wait / 60)} minutes`}`
    : "";
  const what = `${amount} ${step.measure === "tablets" || step.measure === "strips" ? "" : "of "}${step.reagent}`;
  return mix || wait ? `${what}, ${mix}${mix ? wait : wait.replace(/^, /, "")}.` : `${what}.`;
}

const measured = (amount: number, measure: Measure): string =>
  measure === "tablets" || measure === "strips"
    ? String(amount)
    : measure === "scoops"
      ? `${amount} level ${plural(amount, "scoop")}`
      : `${amount} ${amount === 1 ? measure.replace(/s$/, "") : measure}`;

export const trapNames: Record<TrapCode, string> = {
  bleaching: "a lot of chlorine bleaches it",
  persulfate: "reads persulfate as chlorine",
  purple: "a lot of chlorine turns it purple",
  "bleached-indicator": "chlorine bleaches the indicator",
  "cyanurate-share": "stabilizer counts as alkalinity",
  metals: "metals spoil the color change",
  tube: "viewing tube",
  technique: "bottle and powder",
};
