import type { Means } from "#core";
import { words } from "./language";
import { productName } from "./names";

/** What would hold a water, and how often the people there dose. */

/** How often a dose is given. @example everyText(2) // "every 2 days" */
export const everyText = (days: number): string =>
  days === 0.5 ? words.often.halfDay : words.often.days({ days });

const PARTS: Record<number, string> = { 0: "", 0.25: "¼", 0.5: "½", 0.75: "¾" };

/** An amount in kitchen measures. @example spoonText({ count: 2, measure: "spoon" }) // "2 level tablespoons" */
export function spoonText({ count, measure }: { count: number; measure: "spoon" | "cup" }): string {
  const whole = Math.floor(count);
  return words.spoons[measure]({
    count: `${whole > 0 ? whole : ""}${PARTS[count - whole] ?? ""}`,
    more: count > 1,
  });
}

/** Several means as sentences. @example togetherText(["Add a floater", "Visit twice a week"]) // "Add a floater. Visit twice a week" */
export const togetherText = (texts: readonly string[]): string => texts.join(". ");

/** One means as somebody says it. @param say amount of a dose, a concentration, the name of a range set */
export function meansText(
  means: Means,
  say: {
    amount(means: Means & { code: "between" }): string;
    ppm(value: number): string;
    setName(id: string): string;
  },
): string {
  const said = words.means;
  switch (means.code) {
    case "calls":
      return said.calls({ aWeek: means.aWeek });
    case "feeder":
      return means.from === null
        ? said.addFeeder[means.kind]({ to: say.ppm(means.to) })
        : said.setFeeder[means.kind]({ to: say.ppm(means.to), from: say.ppm(means.from) });
    case "floater":
      return said.floater({ to: say.ppm(means.to) });
    case "cover":
      return said.cover;
    case "stabiliser":
      return said.stabiliser({ level: say.ppm(means.level) });
    case "range-set":
      return said["range-set"]({ name: say.setName(means.id) });
    case "between":
      return said.between({
        amount: say.amount(means),
        product: productName(means.product),
        often: everyText(means.everyDays),
      });
  }
}
