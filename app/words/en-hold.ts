import type { Means } from "#core";
import { productName } from "./en-shelf";

/** What would hold a water, and the card by the water. */

const FEEDER = { tablets: "tablet feeder", saltCell: "salt cell", pump: "liquid feeder" } as const;
const WEEK: Record<number, string> = { 1: "once", 2: "twice" };
const aWeek = (count: number) => `${WEEK[count] ?? `${count} times`} a week`;

/** How often a dose is given. @example everyText(2) // "every 2 days" */
export const everyText = (days: number): string =>
  days === 0.5
    ? "every morning and evening"
    : days === 1
      ? "every day"
      : days === 7
        ? "once a week"
        : `every ${days} days`;

/** An amount in kitchen measures. @example measureText({ count: 2, measure: "spoon" }) // "2 level tablespoons" */
export const spoonText = ({ count, measure }: { count: number; measure: "spoon" | "cup" }): string => {
  const name = measure === "spoon" ? "level tablespoon" : "cup";
  const whole = Math.floor(count);
  const part = { 0: "", 0.25: "¼", 0.5: "½", 0.75: "¾" }[count - whole] ?? "";
  return `${whole > 0 ? whole : ""}${part} ${name}${count > 1 ? "s" : ""}`;
};

/** Several means as one sentence. @example togetherText(["Add a floater", "Visit twice a week"]) // "Add a floater, and visit twice a week" */
export const togetherText = (texts: readonly string[]): string =>
  texts
    .map((text, index) => (index === 0 ? text : `and ${text.charAt(0).toLowerCase()}${text.slice(1)}`))
    .join(", ");

/** One means as somebody says it. @param amount of a dose */
export function meansText(
  means: Means,
  said: {
    amount(means: Means & { code: "between" }): string;
    ppm(value: number): string;
    setName(id: string): string;
  },
): string {
  switch (means.code) {
    case "calls":
      return means.aWeek === 7 ? "Visit every day" : `Visit ${aWeek(means.aWeek)}, evenly spaced`;
    case "feeder":
      return means.from === null
        ? `Add a ${FEEDER[means.kind]} that gives ${said.ppm(means.to)} a day`
        : `Set the ${FEEDER[means.kind]} to ${said.ppm(means.to)} a day, now ${said.ppm(means.from)}`;
    case "floater":
      return `Add a tablet floater that gives ${said.ppm(means.to)} a day`;
    case "cover":
      return "Keep a cover on when nobody swims";
    case "stabiliser":
      return `Keep stabilizer at ${said.ppm(means.level)}`;
    case "range-set":
      return `Use the ranges "${said.setName(means.id)}"`;
    case "between":
      return `The people there add ${said.amount(means)} of ${productName(means.product)} ${everyText(means.everyDays)}`;
  }
}

export const holdWords = {
  /** Of the range sets that ship; a firm's own has its own name. */
  rangeSetNames: {
    "outdoor-fixed-band": "Outdoor pool, fixed band",
    "held-by-hocl": "Held by hypochlorous acid",
  } as Record<string, string>,
  hold: {
    title: "What would hold this water",
    hint: "Share of the next four weeks with enough chlorine and pH in range.",
    way: "How it is kept",
    right: "In range",
    cost: "Cost a month",
    minutes: "Your minutes a month",
    theirs: (minutes: string) => `and ${minutes} min of theirs`,
    asItIs: "As it is now",
    percent: (value: string) => `${value}%`,
    ninety: (low: string, high: string) => `90% likely: ${low}% to ${high}%`,
    fine: "This water stays in range as it is kept now.",
    best: "Lowest cost that works",
    noneHolds: "Nothing here keeps this water in range 95% of the time. The best comes first.",
    short: (day: string, days: string) =>
      `Chlorine will probably be too low from day ${day} of ${days} after a visit.`,
    shortBy: (by: string) => `By the next visit it is about ${by} too low.`,
    bound: (wanted: string, most: string) =>
      `You would have to leave ${wanted}, and the ranges allow ${most} at most.`,
    noDose: (most: string) => `No dose lasts until the next visit: the ranges allow ${most} at most.`,
    costHint:
      "Costs count visits, chemicals and devices. They do not count the purchase of a feeder or a cover.",
    more: "Show all",
    makeCard: "Make a card for them",
    list: "Waters that plans cannot hold",
    listHint: "These basins are expected out of range for more than 5% of the next four weeks.",
    listNone: "Every basin with enough visits stays in range as it is kept.",
    listLink: (count: number) =>
      count === 1 ? "1 basin does not hold as it is kept" : `${count} basins do not hold as they are kept`,
    wouldHold: "This would hold it",
    comesClosest: "Closest",
    nothingHolds: "Nothing found that would hold it",
  },
  card: {
    title: "Dose card",
    hint: "A dose that the people there add between your visits. They see it on paper or by a link, and can tell you when they added it.",
    none: "There is no card here.",
    dose: (amount: string, name: string, often: string) => `${amount} of ${name}, ${often}`,
    made: (by: string, day: string) => `Made by ${by} on ${day}.`,
    product: "Chemical",
    amount: "Amount (grams)",
    everyDays: "How often",
    make: "Make card",
    makeNew: "Make a new card",
    newHint: "A new card replaces this one. Its old link stops working.",
    linkHint: "Give this link to the people there. It is shown once.",
    pdf: "Card as PDF",
    withdraw: "Withdraw card",
    noLaymen: "The owner has not allowed any chemical for the people there. See Settings.",
    said: "What they reported",
    saidGiven: (slot: string) => `Added the dose of ${slot}`,
    saidStrip: (parts: string) => `Test strip: ${parts}`,
    saidNone: "Nothing yet.",
    slot: (day: string, half: "am" | "pm" | null) =>
      half === "am" ? `${day}, morning` : half === "pm" ? `${day}, evening` : day,
    /** What the people at the basin read. */
    public: {
      title: (basin: string) => `${basin}: what to add`,
      add: "Add",
      when: (often: string) => `Add it ${often}, but not on a day when we visit.`,
      evening: "The best time is in the evening, when nobody is in the water.",
      how: {
        liquid: "Pump on. Pour it slowly along the edge where water comes in.",
        solid: "Pump on. Stir it into a bucket of pool water first, then pour it slowly along the edge.",
      },
      wait: {
        pool: "Keep out of the water for 4 hours.",
        spa: "Keep out of the water for 30 minutes, jets on.",
      },
      never:
        "Do not add more than this. If the water looks cloudy or green, or smells strongly, call us instead.",
      firstAid:
        "If it gets in your eyes or on your skin, rinse with plenty of water. If somebody swallows it, call poison control or emergency services at once.",
      children: "Keep it locked away from children and pets, in its own container.",
      label: "The label comes first. If it says something else, follow the label and call us.",
      due: "Tell us",
      dueNone: "Nothing to add today.",
      next: (day: string) => `The next dose is on ${day}.`,
      nextAfterVisit: "The next dose comes after our next visit.",
      given: "I added it",
      givenDone: "Added. Thank you.",
      undo: "I did not add it",
      today: "Today",
      strip: "Test strip today, if you have one",
      stripChlorine: "Free chlorine (ppm)",
      stripPh: "pH",
      stripSave: "Send reading",
      stripSaved: (parts: string) => `We have your reading of today: ${parts}.`,
      by: (firm: string) => `From ${firm}`,
      gone: "This card is no longer in use. Ask your pool service for a new one.",
      pdfFooter: (firm: string) => `${firm} made this card for this basin only.`,
      minors: "Adults only.",
    },
  },
};
