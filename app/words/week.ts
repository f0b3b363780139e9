import { type Against, type BrokenRule, type Give, type WeekCall, type WeekChange, weekdayOf } from "#core";
import { words } from "./language";
import { weekdayLong, weekdayShort } from "./names";
import { durationText, formatter, listText } from "./numbers";

/** A day of these weeks, without a comma: several stand in one list. @example onDay("2026-05-01") // "Fri May 1" */
export const onDay = (day: string): string => {
  const at = new Date(`${day}T12:00:00Z`);
  const date = formatter(
    "day of a week",
    (locale) => new Intl.DateTimeFormat(locale, { month: "short", day: "numeric", timeZone: "UTC" }),
  ).format(at);
  return `${weekdayShort(weekdayOf(day))} ${date}`;
};

/** Sentences of the week: what changes and why, and what does not hold. */

/** Names by id. */
export interface WeekNames {
  basin(id: string): string;
  /** Of nobody in particular for "". */
  who(id: string): string;
}

const time = (minutes: number): string => durationText(Math.max(1, Math.round(minutes)) * 60);
const percent = (share: number): number => Math.round(100 * share);

/** "Fern spa: Mon, May 4 (Jory) instead of Tue, May 5 (Wren)." */
export function changeText({ basin, gone, come }: WeekChange, names: WeekNames): string {
  const said = words.week.suggest;
  const name = names.basin(basin);
  const on = (calls: readonly WeekCall[]) =>
    listText(calls.map(({ day, person }) => said.on({ day: onDay(day), who: names.who(person) })));
  const [from, to] = [gone[0], come[0]];
  if (gone.length === 1 && come.length === 1 && from && to && from.day === to.day)
    return said.handed({ name, who: names.who(to.person), to: onDay(to.day) });
  if (gone.length === 0) return said.added({ name, to: on(come) });
  if (come.length === 0) return said.dropped({ name, from: on(gone) });
  return said.moved({ name, from: on(gone), to: on(come) });
}

/** "Chlorine and pH right 91% of the time instead of 64%, 6 min more work and driving." */
export function reasonText({ because, right, minutes }: WeekChange): string {
  const said = words.week.suggest;
  const water = said.water({ after: percent(right.after), before: percent(right.before) });
  const work = (minutes < 0 ? said.less : said.more)({ minutes: time(Math.abs(minutes)) });
  if (because === "rule") return said.line({ why: said.rule, minutes: work });
  return said.line({ why: water, minutes: work });
}

/** Each broken rule as a sentence; the stops of one person's day off in one. */
export function ruleTexts(all: readonly BrokenRule[], names: WeekNames): string[] {
  const said = words.week.rules;
  // Names have commas of their own.
  const off = new Map<string, { person: string; day: string; basins: string[] }>();
  for (const one of all) {
    if (one.rule !== "off") continue;
    const { person, day, basin } = one;
    const known = off.get(`${day} ${person}`) ?? { person, day, basins: [] };
    off.set(`${day} ${person}`, { ...known, basins: [...known.basins, names.basin(basin)] });
  }
  const isOff = [...off.values()].map(({ person, day, basins }) =>
    said.off({ who: names.who(person), day: onDay(day), name: basins.join("; ") }),
  );
  return [...isOff, ...all.flatMap((one) => (one.rule === "off" ? [] : [ruleText(one, names)]))];
}

/** "Wren, Mon May 4: 20 min more work and driving than 8 hours allow." */
function ruleText(broken: Exclude<BrokenRule, { rule: "off" }>, names: WeekNames): string {
  const said = words.week.rules;
  const day = onDay(broken.day);
  const who = "person" in broken ? names.who(broken.person) : "";
  const name = "basin" in broken ? names.basin(broken.basin) : "";
  switch (broken.rule) {
    case "hours":
      return said.hours({ who, day, over: Math.ceil(broken.minutes - broken.most), most: time(broken.most) });
    case "closed":
      return said.closed({ day, name });
    case "may-go":
      return said.mayGo({ who, day, name });
    case "weekday":
      return said.weekday({ day, name });
    case "season":
      return said.season({ day, name });
    case "load":
      return said.load({ who, day, load: Math.round(broken.load), most: Math.round(broken.most) });
    case "twice":
      return said.twice({ day, name });
    case "most-days":
      return said.mostDays({ day, name, days: broken.days, most: broken.most });
    case "least-days":
      return said.leastDays({ day, name, days: broken.days, least: broken.least });
    case "fewest":
      return said.fewest({ name, calls: broken.calls, fewest: broken.fewest });
    case "must":
      return broken.because === "event"
        ? said.mustEvent({ day, name })
        : broken.because === "daily"
          ? said.mustDaily({ day, name })
          : said.mustFixed({ day, name, weekday: weekdayLong(weekdayOf(broken.day)) });
  }
}

/** As many as are told of what stands against a stop. */
const MOST_AGAINST = 5;

/** What stands against a stop, as parts of a sentence: several people who are off on one day are told at once. */
export function againstTexts(all: readonly Against[], names: WeekNames): string[] {
  const offOn = new Map<string, string[]>();
  for (const one of all)
    if (one.rule === "off") offOn.set(one.day, [...(offOn.get(one.day) ?? []), names.who(one.person)]);
  const off = [...offOn].map(([day, people]) =>
    words.week.suggest.againstOf.off({ who: listText(people), count: people.length, day: onDay(day) }),
  );
  const others = all.flatMap((one) => (one.rule === "off" ? [] : [againstText(one, names)]));
  return [...off, ...others].slice(0, MOST_AGAINST);
}

function againstText(against: Exclude<Against, { rule: "off" }>, names: WeekNames): string {
  const said = words.week.suggest.againstOf;
  const day = onDay(against.day);
  const who = "person" in against ? names.who(against.person) : "";
  switch (against.rule) {
    case "hours":
      return said.hours({ who, day, missing: against.missing });
    case "load":
      return said.load({ who, day, missing: Math.ceil(against.missing) });
    case "may-go":
      return said.mayGo({ who, day });
    case "closed":
      return said.closed({ day });
    case "season":
      return said.season({ day });
    case "weekday":
      return said.weekday({ day });
  }
}

/** What would have to give, as part of a sentence. */
export function giveText(give: Give, names: WeekNames): string {
  const said = words.week.suggest.givesOf;
  if (give.rule === "contract") return said.contract;
  const day = onDay(give.day);
  const who = "person" in give ? names.who(give.person) : "";
  switch (give.rule) {
    case "hours":
      return said.hours({ who, day, missing: give.missing });
    case "load":
      return said.load({ who, day, missing: Math.ceil(give.missing) });
    case "may-go":
      return said.mayGo({ who });
    case "off":
      return said.off({ who, day });
    case "closed":
      return said.closed({ day });
    case "weekday":
      return said.weekday({ day });
  }
}
