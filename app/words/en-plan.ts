import type { AlternativeName, CautionCode, How, Obstacle } from "#core";

/** Plans in English: what to do, how, and what to mind at that step. */
export const planWords = {
  plan: {
    nothing: "Nothing to add: every reading is in range.",
    which: "Which plan",
    names: {
      balanced: "Balanced",
      cheapest: "Cheapest",
      "fewest-products": "Fewest products",
      "no-drain": "No drain",
    } satisfies Record<AlternativeName, string>,
    cost: (amount: string) => `costs ${amount}`,
    now: "Now",
    after: "After it",
    interval: "In 95 of 100 cases",
    before:
      "All readings at once, in this order. Goggles and gloves, nobody in the water, pump running; the label and local code outrank what stands here.",
    wait: (minutes: number) =>
      minutes < 60
        ? `Then ${minutes} minutes with circulation.`
        : `Then ${Math.round(minutes / 60)} hours or one turnover.`,
    replace: (share: string, volume: string) => `Replace ${share} of the water (${volume}) with fill water`,
    aerate: "Jets or air on until the pH has risen: that lowers alkalinity without more acid",
    retest: (names: string[]) => `Test again: ${names.join(", ")}`,
    missed: (name: string, value: string, limit: string) => `${name} ends at ${value}, not ${limit}.`,
    obstacles: {
      "no-product": "No product on the shelf moves it that way.",
      stock: "There is not enough of the product.",
      "replacement-limit": "Only other water would, and more than may be replaced at a time.",
      "fill-water": "The fill water has more of it than that.",
      conflict: "Every product for it would put another reading out.",
    } satisfies Record<Obstacle, string>,
    how: {
      "pour-along-returns": "A cup at a time along the returns.",
      "dissolve-first": "Dissolve in a bucket of water first.",
      broadcast: "Scatter over the deep end.",
      "in-a-sock": "Hang it in a sock at a return.",
      "pour-at-return": "Pour in front of a return.",
      "in-a-feeder": "Tablets go into their own feeder or floater and dissolve over days.",
    } satisfies Record<How, string>,
    cautions: {
      "never-mix": "Never mix chemicals, nor use one scoop for two.",
      "acid-and-chlorine":
        "Acid and chlorine together make poison gas: 30 minutes between the two, own measure for each.",
      "chlorines-apart":
        "Two kinds of chlorine never meet, not in a scoop, a feeder or a skimmer: they can burn.",
      "chemical-into-water": "Chemical into water, never water into chemical.",
      "goggles-gloves": "Goggles and gloves, open air.",
      "nobody-in": "Nobody in the water.",
      "pump-on": "Pump running; nothing through a skimmer that holds tablets.",
      heats: "It gets hot as it dissolves.",
      "reads-late": "It reads only after several days; add no more before.",
      "hydrostatic-lift": "Ground water can lift an empty shell: ask before draining far.",
      "liner-shrinks": "A liner shrinks when it stands dry.",
      "dechlorinate-drain": "Drained water must be free of chlorine and go where local rules allow.",
      "closed-until": "Nobody in until free chlorine and pH read inside their ranges again.",
      "label-outranks": "The label, local code and the health authority outrank this plan.",
    } satisfies Record<CautionCode, string>,
  },
};
