import type { LabelMind, LabelWait } from "#core";

/** What is dosed by its label, in English. */
export const labelledWords = {
  labelled: {
    title: "By the label",
    due: "Due by its label",
    others: "Other products dosed by their label",
    often: (every: number | null, last: number | null, cost: string | null) =>
      [
        every === null ? "When needed" : every === 1 ? "Every day" : `Every ${every} days`,
        last === null
          ? "never added here"
          : last === 0
            ? "added today"
            : last === 1
              ? "last added yesterday"
              : `last added ${last} days ago`,
        ...(cost === null ? [] : [cost]),
      ].join("; "),
    how: "Add it after the other doses, ten minutes apart, along the returns with the pump running. Follow the label first.",
    anyway: "It was added anyway",
    noTime: (minutes: number) => `No time for it at this visit (it takes ${minutes} min). It stays due.`,
    waits: {
      "fresh-chlorine": (value: string, limit: string) =>
        `Not now: free chlorine is ${value} and destroys it. Add it below ${limit}.`,
      shock: (hours: string) => `Not now: a shock was added recently. Wait ${hours} h.`,
      meets: (other: string, days: number) =>
        `Not now: ${other} was added recently, and each removes the other. Wait ${days} ${days === 1 ? "day" : "days"}.`,
      "hardness-first": () => "Test calcium hardness first: it is due, and copper spoils that test.",
      "chlorine-unread": () => "Test free chlorine first: fresh chlorine destroys it.",
      stock: (left: string, name: string) =>
        `Not enough in stock: only ${left} of ${name} is left. Buy more.`,
    } satisfies Record<LabelWait["code"], (...args: never[]) => string>,
    minds: {
      "shock-apart": (hours: number) =>
        hours > 0 ? `No shock for ${hours} h after it.` : "Do not add it together with a shock.",
      copper: () =>
        "Copper can stain, most at high pH. Until it is gone, add titrant before the indicator in the hardness test.",
      clouds: () =>
        "It clouds the water until the filter catches it. Run the pump for a day, then clean the filter.",
    } satisfies Record<LabelMind, (hours: number) => string>,
    spoiled: (name: string) =>
      `${name[0]?.toUpperCase()}${name.slice(1)} was added recently: this much chlorine destroys it. Wait, or count it as lost.`,
    onRound: (name: string, amount: string) => `${name}, by its label: ${amount}`,
  },
};
