import type {
  AlternativeName,
  CautionCode,
  How,
  LeftAlone,
  NoPlan,
  Obstacle,
  Outcome,
  TaskCode,
} from "#core";

/** Plans in English: what to do, how, and what to mind at that step. */
export const planWords = {
  plan: {
    working: "Working out the plan …",
    fromServer: "Worked out on the server, because this device could not.",
    nothing: "Nothing to add: every reading is in range.",
    names: {
      balanced: "Balanced",
      cheapest: "Cheapest",
      "fewest-products": "Fewest products",
      "no-drain": "No drain",
    } satisfies Record<AlternativeName, string>,
    loads: (count: number, amount: string) =>
      `Carry and pour it in ${count} parts of ${amount}: more at once spills and scalds.`,
    cost: (amount: string) => `costs ${amount}`,
    now: "Now",
    after: "After it",
    interval: "95% likely",
    table: "One reading at a time",
    tableHint: "What a dosing table would give: a dose for each reading, as if the others did not change.",
    tableOut: (names: string) => `ends out of range: ${names}`,
    replaced: (share: string) => `${share} replaced`,
    begin: "Start this plan",
    wait: (minutes: number) =>
      minutes < 60
        ? `Then let it circulate for ${minutes} minutes.`
        : minutes < 36 * 60
          ? `Then ${Math.round(minutes / 60)} hours${minutes === 240 ? " or one turnover" : ""}.`
          : `Then ${Math.round(minutes / 1440)} days.`,
    replace: (share: string, volume: string) => `Replace ${share} of the water (${volume}) with fill water`,
    aerate: (ph: string | null, time: string | null) =>
      `Run jets or air until the pH is ${ph ?? "where the next test should be"}${time ? `, about ${time}` : ""}`,
    aerateHow:
      "Air drives carbon dioxide out: the pH rises, alkalinity stays. The time is an estimate. Stop when the pH is reached.",
    retest: (names: string[]) => `Test again: ${names.join(", ")}`,
    missed: (name: string, value: string, limit: string) => `${name} ends at ${value}, not ${limit}.`,
    obstacles: {
      "no-product": "No product on the shelf changes it that way.",
      stock: "There is not enough of the product.",
      "replacement-limit": "Only replacing water helps, and it takes more than may be replaced at once.",
      "fill-water": "The fill water has more than that.",
      conflict: "Every product for it would push another reading out of range.",
      "falls-by-itself": "It falls by itself. Add no more of it.",
      "side-effect": "The other doses change it a little. A test may still read in range.",
      "unsafe-way": "No order makes all of it safe today. This is the safe part.",
      chosen: "You chose these amounts.",
    } satisfies Record<Obstacle, string>,
    leftAlone: {
      assumed: (name: string, value: string) =>
        `${name} was not tested, so nothing is dosed for it (${value} is assumed). Test it first.`,
      old: (name: string, value: string, age: string) =>
        `${name} is from ${age} ago (${value}), so nothing is dosed for it. Test it first.`,
      "at-least": (name: string, value: string) =>
        `${name} is off its scale (at least ${value}), so nothing is dosed for it. Dilute the sample and test it again.`,
      "at-most": (name: string, value: string) =>
        `${name} is below its scale (${value} is assumed), so nothing is dosed for it.`,
    } satisfies Record<LeftAlone["standing"], (name: string, value: string, age: string) => string>,
    none: {
      "needs-reading": (name: string) => `A plan needs ${name}. Test it first.`,
      "off-scale": (name: string) =>
        `${name} is off its scale, so amounts cannot be worked out. Dilute the sample, or count the demand drops.`,
      inconsistent: () =>
        "pH, alkalinity and stabilizer do not fit together. Test them again before you add anything.",
    } satisfies Record<NoPlan["reason"], (name: string) => string>,
    demand: {
      title: "Acid: demand test and calculation",
      baseTitle: "Base: demand test and calculation",
      drops: "Demand test",
      model: "From pH and alkalinity",
      agree: "They agree within their accuracy.",
      disagree:
        "They disagree. The plan uses no more than the smaller one. Test pH and alkalinity again, and check the demand reagent, before you add more.",
      grams: (amount: string, product: string, target: string) =>
        `${amount} of ${product} to bring the pH to ${target}`,
    },
    other: "Other jobs",
    whatIf: "What if: try your own amounts",
    underWay: "Plan in progress",
    step: (number: number, of: number) => `Step ${number} of ${of}`,
    done: "Done",
    given: "Added",
    skip: "Skip this step",
    skipWhy: "Why do you skip it?",
    skipGo: "Skip step",
    skipped: (why: string) => `skipped: ${why}`,
    takeBack: "Undo",
    correct: "Correct",
    at: (time: string) => `at ${time}`,
    waitLeft: (left: string) => `Wait ${left} more, with the pump running.`,
    waitOver: "The wait is over.",
    goOnAnyway: "You can open the next step early. The book keeps the time.",
    gasWait: (left: string) =>
      `Acid and chlorine must not meet. Wait ${left} more, with the pump running, before you add this.`,
    old: (age: string) =>
      `The last step was ${age}. The water has changed since. Test again and make a new plan.`,
    stop: "Stop this plan",
    stopWhy: "Why do you stop here?",
    stopGo: "Stop plan",
    stopHint: "Doses already added stay in the book. A new plan starts from your next readings.",
    toRetest: "Go to the retest",
    retestTitle: "Did it work?",
    retestFirst: "Nothing was added yet. Retest after the doses.",
    retestOf: (name: string) => `Test ${name} again`,
    retestDone: "Every reading you dosed for is tested again.",
    promised: "Expected",
    measured: "Measured",
    beforeIt: "Before",
    ratio: "Result",
    noRatio: "change too small to tell",
    verdict: {
      "as-promised": "as expected",
      "fell-short": "▼ less than expected",
      "went-beyond": "▲ more than expected",
    } satisfies Record<Outcome["verdict"], string>,
    verdictWhy: {
      "as-promised": "",
      "fell-short":
        "It changed less than expected. The volume may be larger than in the book, the product weak, or a test off.",
      "went-beyond":
        "It changed more than expected. The volume may be smaller than in the book, the product stronger, or a test off.",
    } satisfies Record<Outcome["verdict"], string>,
    again: "Make a new plan from these readings",
    goOn: "Continue the plan",
    how: {
      "pour-along-returns": "Pour slowly along the returns, a little at a time, close to the water.",
      "dissolve-first": "Dissolve in a bucket of basin water first.",
      broadcast: "Scatter it over the deep end.",
      "in-a-sock": "Hang it in a sock at a return.",
      "pour-at-return": "Pour in front of a return.",
      "in-a-feeder": "Tablets go into their own feeder or floater and dissolve over days.",
    } satisfies Record<How, string>,
    tasks: {
      uncover:
        "Remove the winter cover and clean it. From now on the safety cover is on, or the place is locked, whenever no adult watches the water",
      "fill-to-line": "Fill to the middle of the skimmer or the water line",
      "check-equipment": "Pump, filter and heater run; no leaks, no strange sounds",
      "circulate-a-day": "Let it circulate and filter until the water is mixed",
      evening: "Do the rest in the evening: sunlight destroys chlorine",
      "cover-watched":
        "Open the cover while an adult stays and watches the water: what comes off it must get out",
      "cover-again": "Put the safety cover back on and lock it before anyone leaves",
      "hall-empty":
        "Empty the hall. Air handling to full fresh air. One person stays at the door and watches",
      brush: "Brush walls and floor",
      "test-all": "Test everything",
      "wait-for-chlorine":
        "Wait for the chlorine to fall by itself. Keep the basin closed and locked; sun on the water helps while someone watches",
      "chlorine-gone-before-drain":
        "Let the chlorine fall, or take it out, before any water leaves the basin",
      "drain-part": "Drain this turn's share, no more",
      refill: "Refill and let it mix",
      "fill-hours": "Fill slowly and stay near it",
      "plant-off": "Turn off pump, heater, feeders, and salt cell at the breaker. Nobody in the water",
      "plant-on":
        "When the water is back at its line: check feeders for built-up gas, keep everyone out, then turn the pump on, then heater and feeders",
      "no-plain-chlorine":
        "No shock: there is no plain liquid chlorine or cal-hypo on the shelf. Buy it, then shock",
      "read-free-first": "No shock yet: test free chlorine first",
      "lower-below-returns": "Where it freezes: lower the water below the returns, never all of it",
      "drain-lines": "Have the lines blown out and plugged where it freezes",
      "algaecide-by-label": "Algaecide, by its label",
      "cover-on":
        "Put the winter cover on, tight. Nobody walks on it. Pump rain water off it: a child drowns in a puddle on a cover",
      "jets-on": "Jets and pump on, air closed, until it is mixed",
      "sequestrant-by-label": "Sequestrant for metals or scale, by its label",
    } satisfies Record<TaskCode, string>,
    cautions: {
      "never-mix":
        "Mixed chemicals burn, explode, or make gas. Never mix two. Use a clean, dry scoop for each.",
      "acid-and-chlorine":
        "Acid and chlorine make poison gas. Wait 30 minutes between them. Use a separate measure for each.",
      "chlorines-apart":
        "Two kinds of chlorine together can burn or explode. Never in one scoop, bucket, feeder, or skimmer.",
      "chemical-into-water":
        "It spits if water goes onto it. Chemical into water, never water into chemical.",
      "goggles-gloves": "It blinds and burns. Wear goggles and gloves. Keep your face out of the fumes.",
      "nobody-in": "It burns skin and eyes. Nobody in the water.",
      "pump-on": "Pump running. Never pour into a skimmer: tablets there and what you pour can explode.",
      "cover-watched":
        "A child can drown in minutes under or beside an open cover. Open only while an adult watches.",
      "dry-scoop": "Cal-hypo with dirt, oil, or damp burns. Clean, dry scoop and bucket, only for it.",
      "rinse-after": "Rinse the jug in the basin and the deck where it dripped.",
      "acid-first-into-water": "Strong acid spits. Into a bucket of basin water, never the other way round.",
      "cell-off":
        "Salt that lies on the floor stains plaster and harms the cell. Cell off and pump on until it is gone, about a day; brush it.",
      "needs-bromide":
        "This makes bromine only where bromide is in the water. After a fresh fill add sodium bromide first, by its label.",
      ventilate: "Fumes gather indoors. Doors open and air handling on full before you pour.",
      "electric-off": "Wet hands and live plant kill. Pump, heater, feeders, and cell off at the breaker.",
      "cracks-when-dry":
        "A fiberglass shell bulges or cracks without its water. A third at a time, and refill the same day.",
      heats:
        "It gets hot enough to scald as it dissolves. Small amounts, cool water, a bucket at most a third full of it.",
      "reads-late": "It shows in tests only after several days. Add no more before that.",
      "hydrostatic-lift": "Ground water can lift an empty shell. Ask a builder before draining far.",
      "liner-shrinks":
        "A liner shrinks and tears when it stands dry. A third at a time, and refill the same day.",
      "dechlorinate-drain":
        "Chlorine kills fish. Drained water must be free of chlorine and go only where local rules allow.",
      "closed-until": "Closed: nobody in until a test reads sanitizer and pH in range.",
      "reads-as-combined": "It reads as combined chlorine for a day or so. Do not dose for that reading.",
      "pump-off": "A pump that runs dry burns out. Pump and heater off while the water is below the skimmer.",
      "licensed-trades": "Pipes, gas, and electrical work are for licensed trades.",
      "label-outranks": "The label, local code and the health authority outrank this plan.",
    } satisfies Record<CautionCode, string>,
  },
};
