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
    fromServer: "Worked out on the server: this device could not.",
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
    interval: "In 95 of 100 cases",
    table: "One reading at a time",
    tableHint: "What a table would have given: every reading its own dose, as if the others did not move.",
    tableOut: (names: string) => `ends out of range: ${names}`,
    replaced: (share: string) => `${share} replaced`,
    begin: "Begin this plan",
    wait: (minutes: number) =>
      minutes < 60
        ? `Then ${minutes} minutes with circulation.`
        : minutes < 36 * 60
          ? `Then ${Math.round(minutes / 60)} hours${minutes === 240 ? " or one turnover" : ""}.`
          : `Then ${Math.round(minutes / 1440)} days.`,
    replace: (share: string, volume: string) => `Replace ${share} of the water (${volume}) with fill water`,
    aerate: (ph: string | null, time: string | null) =>
      `Jets or air on until the pH reads ${ph ?? "what the next test asks for"}${time ? `, about ${time}` : ""}`,
    aerateHow:
      "Air drives carbon dioxide out: the pH rises, alkalinity stays. The time is a guess until this basin's own is known; the pH says when to stop.",
    retest: (names: string[]) => `Test again: ${names.join(", ")}`,
    missed: (name: string, value: string, limit: string) => `${name} ends at ${value}, not ${limit}.`,
    obstacles: {
      "no-product": "No product on the shelf moves it that way.",
      stock: "There is not enough of the product.",
      "replacement-limit": "Only other water would, and more than may be replaced at a time.",
      "fill-water": "The fill water has more of it than that.",
      conflict: "Every product for it would put another reading out.",
      "falls-by-itself": "It falls by itself; nothing more of it goes in.",
      "side-effect": "What the other doses take along; a test may still read it inside.",
      "unsafe-way": "There is no safe order that gives all of it today: this is the part that is safe.",
      chosen: "These amounts were chosen by hand.",
    } satisfies Record<Obstacle, string>,
    leftAlone: {
      assumed: (name: string, value: string) =>
        `${name} was not tested: nothing is dosed for it, and ${value} stands in. Test it before you do.`,
      old: (name: string, value: string, age: string) =>
        `${name} is from ${age} ago (${value}): nothing is dosed for it. Test it before you do.`,
      "at-least": (name: string, value: string) =>
        `${name} ran off its scale (at least ${value}): nothing is dosed for it. Dilute the sample and test it again.`,
      "at-most": (name: string, value: string) =>
        `${name} lies under its scale (${value} stands in): nothing is dosed for it.`,
    } satisfies Record<LeftAlone["standing"], (name: string, value: string, age: string) => string>,
    none: {
      "needs-reading": (name: string) => `One plan for everything needs ${name}. Test it first.`,
      "off-scale": (name: string) =>
        `${name} ran off its scale, so amounts cannot be worked out. Dilute the sample, or count the demand drops.`,
      inconsistent: () =>
        "pH, alkalinity and stabiliser do not fit together. Test them again before anything goes in.",
    } satisfies Record<NoPlan["reason"], (name: string) => string>,
    demand: {
      title: "Acid by drops and by the model",
      baseTitle: "Base by drops and by the model",
      drops: "Demand drops",
      model: "From pH and alkalinity",
      agree: "They agree within what both are unsure of.",
      disagree:
        "They do not agree. The plan gives no more than the smaller of the two. Test pH and alkalinity again, and look at the demand reagent, before you add more.",
      grams: (amount: string, product: string, target: string) =>
        `${amount} of ${product} to bring the pH to ${target}`,
    },
    other: "Other work",
    whatIf: "What if: try amounts by hand",
    underWay: "The plan under way",
    step: (number: number, of: number) => `Step ${number} of ${of}`,
    done: "Done",
    given: "Added",
    skip: "Skip this step",
    skipWhy: "Why is it skipped?",
    skipGo: "Skip it",
    skipped: (why: string) => `skipped: ${why}`,
    takeBack: "Take back",
    correct: "Correct",
    at: (time: string) => `at ${time}`,
    waitLeft: (left: string) => `Wait ${left} more, with circulation.`,
    waitOver: "The wait is over.",
    goOnAnyway:
      "The next step can be opened before the wait is over; what you do early is written with its time.",
    gasWait: (left: string) =>
      `Acid and chlorine must not meet: ${left} more with circulation before this goes in.`,
    old: (age: string) =>
      `The last step was ${age}. The water has changed since: test again before going on, and plan from that.`,
    stop: "Stop this plan",
    stopWhy: "Why does it stop here?",
    stopGo: "Stop it",
    stopHint: "What went in stays in the book. A new plan is made from the readings that stand then.",
    toRetest: "To the retest",
    retestTitle: "Did it come true?",
    retestFirst: "Nothing has gone in yet. The retest comes after the doses.",
    retestOf: (name: string) => `Test ${name} again`,
    retestDone: "Everything that was dosed has been tested again.",
    promised: "Promised",
    measured: "Measured",
    beforeIt: "Before",
    ratio: "Came of it",
    noRatio: "too little to tell",
    verdict: {
      "as-promised": "as promised",
      "fell-short": "▼ fell short",
      "went-beyond": "▲ went beyond",
    } satisfies Record<Outcome["verdict"], string>,
    verdictWhy: {
      "as-promised": "",
      "fell-short":
        "Less came than was promised: the volume may be larger than it is written down, the product weak, or a test off.",
      "went-beyond":
        "More came than was promised: the volume may be smaller than it is written down, the product stronger, or a test off.",
    } satisfies Record<Outcome["verdict"], string>,
    again: "Plan again from these readings",
    goOn: "Go on with the plan",
    how: {
      "pour-along-returns": "Slowly along the returns, a little at a time, close to the water.",
      "dissolve-first": "Dissolve in a bucket of basin water first.",
      broadcast: "Scatter over the deep end.",
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
      evening: "Do the rest in the evening: sunlight eats a shock",
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
      "reads-late": "It reads only after several days; add no more before.",
      "hydrostatic-lift": "Ground water can lift an empty shell. Ask a builder before draining far.",
      "liner-shrinks":
        "A liner shrinks and tears when it stands dry. A third at a time, and refill the same day.",
      "dechlorinate-drain":
        "Chlorine kills fish. Drained water must be free of chlorine and go only where local rules allow.",
      "closed-until": "Closed: nobody in until a test reads sanitizer and pH in range.",
      "reads-as-combined": "It reads as combined chlorine for a day or so: do not chase that reading.",
      "pump-off": "A pump that runs dry burns out. Pump and heater off while the water is below the skimmer.",
      "licensed-trades": "Lines, gas and electrics are for licensed trades.",
      "label-outranks": "The label, local code and the health authority outrank this plan.",
    } satisfies Record<CautionCode, string>,
  },
};
