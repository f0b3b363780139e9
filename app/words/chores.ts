import { isWorkKey, type VisitWork, type WorkAtCall } from "#core";
import { fill, words } from "./language";
import { formatter } from "./numbers";

/** What the work of a call besides the water is called, and why it is due. */

/** @example workName({ key: "brush" }) // "Brush walls and floor" */
export const workName = ({ key, name }: Pick<VisitWork, "key" | "name">): string =>
  name || (isWorkKey(key) ? words.chores.names[key] : key);

/** In one word where there is one, for a list of many. @example workShort({ key: "brush" }) // "brush" */
export const workShort = ({ key, name }: Pick<VisitWork, "key" | "name">): string =>
  name || (isWorkKey(key) ? words.chores.short[key] : key);

const dayShort = (day: string): string =>
  formatter(
    "day of work",
    (locale) =>
      new Intl.DateTimeFormat(locale, { weekday: "short", month: "short", day: "numeric", timeZone: "UTC" }),
  ).format(new Date(`${day}T12:00:00Z`));

/** @example workDueText({ because: "interval", last: "2026-05-01", … }) // "Last done Fri, May 1" */
export function workDueText({ because, last }: Pick<WorkAtCall, "because" | "last">): string {
  const said = words.chores.due;
  if (because === "never-done") return said.never;
  const when = last === null ? "" : fill(said.last, { day: dayShort(last) });
  const first =
    because === "season" || because === "pressure" || because === "bathers" || because === "solids"
      ? said[because]
      : "";
  return [first, when].filter(Boolean).join(" ");
}
