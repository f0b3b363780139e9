import { type BathingReason, CLOSED_FOR, type NotOver, type Quantity } from "#core";
import { words } from "./language";

/** What keeps people from harm: the danger first, then the rule. */

/** Writers of a reading and a limit with their units. */
interface Writers {
  value: (quantity: Quantity, value: number) => string;
  limit: (quantity: Quantity, value: number) => string;
  name: (quantity: Quantity) => string;
}

/** A reason to stay out, as one sentence. */
export function bathingReason(reason: BathingReason, { value, limit, name }: Writers): string {
  const said = words.safety.reasons;
  switch (reason.code) {
    case "reading":
    case "off": {
      const isLow = reason.finding.endsWith(".low");
      const tell =
        reason.code === "reading"
          ? isLow
            ? said.closedBelow
            : said.closedAbove
          : isLow
            ? said.shouldAtLeast
            : said.shouldAtMost;
      const sentence = tell({
        name: name(reason.quantity),
        value: value(reason.quantity, reason.value),
        limit: limit(reason.quantity, reason.limit),
      });
      return reason.quantity === "temperature" ? said.heat({ reason: sentence }) : sentence;
    }
    case "seen":
      return `${words.safety.seen[reason.trouble]} ${words.safety.dangers[CLOSED_FOR[reason.trouble]]}`;
    case "incident":
      return said.incident({ name: words.incidentTexts[reason.incident].name });
    case "job":
      return said.job;
    case "since":
      return words.safety.since[reason.what];
    case "not-read":
      return said.notRead({ name: name(reason.quantity) });
    case "off-scale":
      return said.offScale({ name: name(reason.quantity), value: value(reason.quantity, reason.value) });
    case "not-looked":
      return said.notLooked;
  }
}

export const hotText = (value: string, limit: string) => ({
  says: words.safety.hot.says({ value }),
  why: words.safety.hot.why({ limit }),
});

export const coldText = (value: string, limit: string) => ({
  says: words.safety.cold.says({ value }),
  why: words.safety.cold.why({ limit }),
});

/** Why an incident is not over yet, out of a fault's limit. */
export function notOverText(limit: readonly (string | number)[]): string {
  const said = words.incidents.notOver;
  const [code, first, second] = limit;
  switch (code as NotOver["code"]) {
    case "too-soon":
      return said["too-soon"]({ time: hoursAndMinutes(Number(first)) });
    case "not-held":
      return said["not-held"]({ chlorine: `${first}`, ph: `${second}` });
    case "stabiliser-too-high":
      return said["stabiliser-too-high"]({ limit: `${first}` });
    case "nobody-named":
      return said["nobody-named"];
  }
}

const hoursAndMinutes = (minutes: number): string =>
  minutes < 60
    ? words.durations.minutes({ count: minutes })
    : words.durations.hoursMinutes({ hours: Math.floor(minutes / 60), minutes: minutes % 60 });
