import type { HorizonName, Leave, OpenReading } from "#core";

/** A plan with a clock, in English; and what a visit ends with. */
export const aheadWords = {
  closing: {
    feederLeft: "Feeder setting when you leave (ppm of chlorine a day)",
    feederLeftHint: "Leave this empty if you do not know. Pelagon learns what the feeder really gives.",
    read: "Readings",
    given: "Added",
    nothingGiven: "nothing",
    open: "Still out of range",
    nothingOpen: "nothing: every reading is in range",
    why: "Why?",
    whys: {
      time: "No time today",
      product: "Not on the truck",
      slow: "It takes several visits",
      customer: "The customer wants to wait",
      water: "Water has to be replaced first",
    },
    leftOpen: (names: string, why: string) => `Still out of range: ${names}. ${why}.`,
    next: "Next visit",
    noNext: "none planned",
    due: (names: string) => `Tests due then: ${names}.`,
    givenThen: (what: string) => `Doses expected then: ${what}.`,
    until: "Expected readings",
    customerReads: "The customer reads this note below the readings and the doses.",
    draft: "Write a note for the customer",
    draftRight: "Everything we tested is as it should be.",
    draftFound: (what: string) => `We found ${what}.`,
    draftGiven: (what: string) => `We added ${what}.`,
    draftNext: (day: string) => `Our next visit is on ${day}.`,
    missed: (name: string, found: string, low: string, high: string) =>
      `${name}: expected ${low} to ${high}, measured ${found}.`,
    missedWhy: "What happened?",
    missedWhys: [
      "Rain",
      "Many bathers",
      "Topped up or drained",
      "Feeder off or changed",
      "Someone added chemicals",
      "Not known",
    ],
    missedLine: (names: string, why: string) => `Not as expected: ${names}. ${why}.`,
  },
  ahead: {
    nothing: "Nothing to add. Every reading is in range and will probably be at the next visit.",
    pour: "Add now",
    first: "First",
    then: (minutes: number) => `After ${minutes} min`,
    clock: (minutes: number, from: string, to: string) =>
      `${minutes} min of adding and waiting, ${from} to ${to}.`,
    opens: (when: string) => `Nobody in the water before ${when}.`,
    closed: "Closed until a test shows sanitizer and pH in range.",
    minutes: "Minutes here",
    badMinutes: (typed: string, low: number, high: number) =>
      `Minutes here: “${typed}” does not work. Enter a whole number from ${low} to ${high}.`,
    cautions:
      "Chemicals burn and blind, and mixed they make gas. Goggles and gloves, nobody in the water, pump running, a separate measure for each product. The label and local code outrank this plan.",
    fetch: (what: string) => `Not in stock. Buy ${what}.`,
    fetched: (amount: string, product: string) => `${amount} of ${product}`,
    why: (name: string, from: string, to: string) => `${name} ${from} → ${to}`,
    without: (value: string, limit: string, isUnder: boolean) =>
      `without it ${value} at the next visit, ${isUnder ? "below" : "above"} ${limit}`,
    leave: "Before you leave",
    leaves: {
      /** @param share that it changes by; null from a feeder that stood still */
      feeder: (to: string, more: boolean, share: string | null) =>
        share === null
          ? `Turn the feeder on: ${to}.`
          : `Turn the feeder ${more ? "up" : "down"} by ${share}: ${to}.`,
      air: (hours: string, ph: string) =>
        `Run the jets, or turn the returns up, for about ${hours}, until the pH is ${ph}. Nobody in or near the spray: keep sanitizer in range, and air the room.`,
      "pump-on": (hours: string) => `Keep the pump on for ${hours}.`,
      "cover-watched": () =>
        "Air on the water brings the pH up again. Open the cover only while an adult watches. Put the safety cover back on and lock it before you leave.",
      "test-ph-again": () =>
        "The drops and the calculation ask for different amounts. Add the smaller one, as planned, and test pH again before you add more.",
      sign: (until: string | null) =>
        until === null
          ? "Put a sign on the gate: closed until a test is in range."
          : `Put a sign on the gate: nobody in the water before ${until}.`,
      "chlorine-short": (chance: string, floor: string, would: string) =>
        `Chlorine may not last: ${chance}% likely below ${floor} at the next visit. What would help: ${would}.`,
    } satisfies Record<Leave["code"], unknown>,
    cell: (grams: string) => `${grams} of chlorine a day`,
    tablets: (count: string) => `about ${count} tablets of 200 g a week`,
    would: { feeder: "a feeder", stabiliser: "more stabilizer", sooner: "an earlier visit" },
    until: "Until the next visit",
    withIt: "with today's doses",
    withoutIt: "without",
    untilHint: "Solid line: with today's doses. Dashed: without. Band: 90% likely.",
    calls: "At the next visits",
    callNothing: "nothing expected",
    expected: "Expected readings",
    gives: "Expected doses",
    projects: "Takes days: not today",
    replace: (share: string, volume: string, turns: number) =>
      turns > 1
        ? `Replace ${share} of the water ${turns} times, ${volume} in all`
        : `Replace ${share} of the water (${volume})`,
    replaceUnknown:
      "Only replacing water brings it down. Enter the readings of the fill water under Facts to see how much.",
    replaceFor: (names: string, hours: string, cost: string) =>
      `For ${names}. About ${hours} to drain and fill, ${cost} for water.`,
    reducer: (name: string) =>
      `Half a dose of ${name} brings chlorine down today, with a test after it: see Recipes, "Chlorine too high".`,
    leftOut: {
      minutes: (amount: string, product: string) =>
        `No time today for ${amount} of ${product}: add it at the next visit.`,
      "unsafe-way": (amount: string, product: string) =>
        `No order makes it safe to add ${amount} of ${product} today.`,
    },
    open: {
      "at-call": (name: string, value: string, day: string) =>
        `${name} stays at ${value} today. Expected in range by ${day}.`,
      project: (name: string, value: string) =>
        `${name} stays at ${value}. Only replacing water brings it down: see below.`,
      "no-product": (name: string, value: string) =>
        `${name} stays at ${value}. Nothing on the shelf can change it.`,
      "left-out": (name: string, value: string) =>
        `${name} stays at ${value}. Its dose was left out: see below.`,
      conflict: (name: string, value: string) =>
        `${name} stays at ${value} today. Changing it would push another reading further out of range.`,
      "falls-by-itself": (name: string, value: string, day: string) =>
        `${name} stays at ${value} and falls by itself${day ? `. Expected in range about ${day}` : ""}.`,
      slowly: (name: string, value: string) => `${name} is at ${value} today and gets closer at each visit.`,
    } satisfies Record<OpenReading["becomes"], (name: string, value: string, day: string) => string>,
    indexMoved: (from: string, to: string, limit: string, isOver: boolean) =>
      `Today's doses ${isOver ? "raise" : "lower"} the saturation index from ${from} to ${to}. ${isOver ? "Above" : "Below"} ${limit}, ${isOver ? "scale can form" : "plaster and grout can dissolve"}.`,
    others: "Other plans",
    noOthers: "No other plan differs in cost, products or visits.",
    names: {
      balanced: "This plan",
      cheapest: "Lowest cost",
      "fewest-products": "Fewest products",
      "no-acid": "No acid today",
    } satisfies Record<HorizonName, string>,
    other: (pours: string, minutes: number, cost: string) => `${pours || "nothing"}; ${minutes} min, ${cost}`,
    take: "Use this plan",
    cost: (now: string, later: string) => `${now} today, about ${later} until the last visit shown`,
    table: "Compare: one reading at a time",
  },
};
