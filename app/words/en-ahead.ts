import type { HorizonName, Leave, OpenReading } from "#core";

/** A plan with a clock, in English; and what a visit ends with. */
export const aheadWords = {
  closing: {
    feederLeft: "The feeder is left giving (ppm of chlorine a day)",
    feederLeftHint: "Leave it empty if you do not know. Pelagon learns what the feeder really gives.",
    read: "Read",
    given: "Given",
    nothingGiven: "nothing",
    open: "Left open",
    nothingOpen: "nothing: every reading that was made is in range",
    why: "Why?",
    whys: {
      time: "No time today",
      product: "Not on the truck",
      slow: "It takes several calls",
      customer: "The customer's wish",
      water: "Water has to be replaced first",
    },
    leftOpen: (names: string, why: string) => `Left open: ${names}. ${why}.`,
    next: "Next call",
    noNext: "none is planned",
    due: (names: string) => `Due then: ${names}.`,
    givenThen: (what: string) => `Given then, about: ${what}.`,
    until: "Found then",
    customerReads: "The customer reads this beneath the readings and what was given.",
    draft: "Write it for the customer",
    draftRight: "Everything we tested is as it should be.",
    draftFound: (what: string) => `We found ${what}.`,
    draftGiven: (what: string) => `We added ${what}.`,
    draftNext: (day: string) => `We come again on ${day}.`,
    missed: (name: string, found: string, low: string, high: string) =>
      `${name} was promised between ${low} and ${high}, and is ${found}.`,
    missedWhy: "What happened?",
    missedWhys: [
      "Rain",
      "Many bathers",
      "Topped up or drained",
      "Feeder off or turned",
      "Somebody dosed",
      "Nobody knows",
    ],
    missedLine: (names: string, why: string) => `Not as promised: ${names}. ${why}.`,
  },
  ahead: {
    nothing: "Nothing to pour: every reading is in range and will be at the next call.",
    pour: "Pour now",
    first: "First",
    then: (minutes: number) => `After ${minutes} min`,
    clock: (minutes: number, from: string, to: string) =>
      `${minutes} min of pouring and waiting, ${from} to ${to}.`,
    opens: (when: string) => `Nobody in before ${when}.`,
    closed: "Closed until a test reads sanitizer and pH in range.",
    minutes: "Minutes here",
    badMinutes: (typed: string, low: number, high: number) =>
      `Minutes here: “${typed}” is none. A whole number from ${low} to ${high}.`,
    cautions:
      "Chemicals burn and blind, and mixed they make gas. Goggles and gloves, nobody in the water, pump running, a separate measure for each product. The label and local code outrank this plan.",
    fetch: (what: string) => `The shelf lacks it. To fetch: ${what}.`,
    fetched: (amount: string, product: string) => `${amount} of ${product}`,
    why: (name: string, from: string, to: string) => `${name} ${from} → ${to}`,
    without: (value: string, limit: string | null, isUnder: boolean) =>
      `without it ${value} at the next call${limit === null ? "" : `, ${isUnder ? "under" : "over"} ${limit}`}`,
    leave: "Before you leave",
    leaves: {
      feeder: (to: string, more: boolean, share: string) =>
        `Feeder ${more ? "up" : "down"} by ${share}: ${to}.`,
      air: (hours: string, ph: string) =>
        `Jets on, or returns turned up, for about ${hours}, until the pH is ${ph}. Nobody in or near the spray: keep sanitizer in range, and air the room.`,
      "pump-on": (hours: string) => `Pump on for ${hours}.`,
      "cover-watched": () =>
        "Air on the water brings the pH up again. Open the cover only while an adult watches. Put the safety cover back on and lock it before you leave.",
      "test-ph-again": () =>
        "The drops and the calculation ask for different amounts. Add the smaller one, as planned, and test pH again before you add more.",
      sign: (until: string | null) =>
        until === null
          ? "Sign on the gate: closed until a test reads inside."
          : `Sign on the gate: nobody in before ${until}.`,
      "chlorine-short": (chance: string, floor: string, would: string) =>
        `Chlorine may not last: ${chance} chances in 100 that it is under ${floor} at the next call. What would help: ${would}.`,
    } satisfies Record<Leave["code"], unknown>,
    cell: (grams: string) => `${grams} of chlorine a day`,
    tablets: (count: string) => `about ${count} tablets of 200 g a week`,
    would: { feeder: "a feeder", stabiliser: "stabiliser up to its aim", sooner: "a call sooner" },
    until: "Until the next call",
    withIt: "with it",
    withoutIt: "without",
    untilHint:
      "The line is what today's pours come to, in the band in which it lies nine times in ten; broken, what comes without them.",
    calls: "At the next calls",
    callNothing: "nothing, as far as can be seen",
    expected: "Found then",
    gives: "Given then, about",
    projects: "Takes days: not today",
    replace: (share: string, volume: string, turns: number) =>
      turns > 1
        ? `Replace ${share} of the water ${turns} times, ${volume} together`
        : `Replace ${share} of the water (${volume})`,
    replaceUnknown:
      "Other water brings it down. How much, once what comes out of the tap is written down at the place.",
    replaceFor: (names: string, hours: string, cost: string) =>
      `For ${names}. About ${hours} to drain and fill, ${cost} of water.`,
    reducer: (name: string) =>
      `Half a dose of ${name} brings chlorine down today, with a test after it: see Recipes, "Chlorine too high".`,
    leftOut: {
      minutes: (amount: string, product: string) =>
        `${amount} of ${product} does not fit into the minutes and waits for the next call.`,
      "unsafe-way": (amount: string, product: string) =>
        `${amount} of ${product} could not go in safely today, in any order.`,
    },
    open: {
      "at-call": (name: string, value: string, day: string) =>
        `${name} stays at ${value} today; in range by ${day}.`,
      project: (name: string, value: string) =>
        `${name} stays at ${value}: only other water brings it down, see below.`,
      "no-product": (name: string, value: string) =>
        `${name} stays at ${value}: nothing on the shelf mends it.`,
      "left-out": (name: string, value: string) =>
        `${name} stays at ${value}: what would change it was left out, see below.`,
      conflict: (name: string, value: string) =>
        `${name} stays at ${value} today. Changing it would push another reading further out of range.`,
      "falls-by-itself": (name: string, value: string, day: string) =>
        `${name} stays at ${value} and falls by itself${day ? `, in range about ${day}` : ""}.`,
      slowly: (name: string, value: string) => `${name} is at ${value} today and comes nearer at each call.`,
    } satisfies Record<OpenReading["becomes"], (name: string, value: string, day: string) => string>,
    indexMoved: (from: string, to: string, limit: string, isOver: boolean) =>
      `Today's doses ${isOver ? "raise" : "lower"} the saturation index from ${from} to ${to}. ${isOver ? "Above" : "Below"} ${limit}, ${isOver ? "scale can form" : "plaster and grout can dissolve"}.`,
    others: "Other ways",
    noOthers: "No other way differs in money, bottles or calls.",
    names: {
      balanced: "This plan",
      cheapest: "Least money",
      "fewest-products": "Fewest bottles",
      "no-acid": "No acid today",
    } satisfies Record<HorizonName, string>,
    other: (pours: string, minutes: number, cost: string) => `${pours || "nothing"}; ${minutes} min, ${cost}`,
    take: "Take this way",
    cost: (now: string, later: string) => `${now} today, about ${later} until the last call shown`,
    table: "Beside one reading at a time",
  },
};
