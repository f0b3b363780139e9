import type { LabelMind, LabelWait } from "#core";

/** What is dosed by its label, in English. */
export const labelledWords = {
  labelled: {
    title: "By the label",
    due: "Due by its label",
    others: "Other products that are dosed by their label",
    often: (every: number | null, last: number | null, cost: string | null) =>
      [
        every === null ? "When asked for" : every === 1 ? "Every day" : `Every ${every} days`,
        last === null
          ? "never given here"
          : last === 0
            ? "given today"
            : last === 1
              ? "last yesterday"
              : `last ${last} days ago`,
        ...(cost === null ? [] : [cost]),
      ].join("; "),
    how: "After the other pours, ten minutes apart, along the returns with the pump running. The label outranks what stands here.",
    anyway: "It was given all the same",
    noTime: (minutes: number) =>
      `No time is left for it in the minutes of this call (it takes ${minutes}): it stays due for the next.`,
    waits: {
      "fresh-chlorine": (value: string, limit: string) =>
        `Not now: free chlorine is ${value}, and destroys it. Under ${limit} it may go in.`,
      shock: (hours: string) => `Not now: a shock went in lately. In ${hours} h it may go in.`,
      meets: (other: string, days: number) =>
        `Not now: ${other} was given lately, and one takes the other out. Again in ${days} ${days === 1 ? "day" : "days"}.`,
      "hardness-first": () =>
        "Count the calcium hardness first: it is due, and copper fades the end of that count.",
      "chlorine-unread": () => "Read free chlorine first: fresh chlorine destroys it.",
      stock: (left: string, name: string) => `To fetch: only ${left} of ${name} is left.`,
    } satisfies Record<LabelWait["code"], (...args: never[]) => string>,
    minds: {
      "shock-apart": (hours: number) =>
        hours > 0 ? `No shock for ${hours} h after it.` : "Not together with a shock.",
      copper: () =>
        "Copper: it can stain, more so where the pH is high; until it is gone the hardness count needs its titrant drops ahead.",
      clouds: () =>
        "It clouds the water until the filter has caught it: pump on for a day, then clean the filter.",
    } satisfies Record<LabelMind, (hours: number) => string>,
    spoiled: (name: string) =>
      `${name[0]?.toUpperCase()}${name.slice(1)} went in lately: this much chlorine destroys it. Wait, or count it as lost.`,
    onRound: (name: string, amount: string) => `${name}, by its label: ${amount}`,
  },
};
