import { cautionsOf, everydayAmount, measuredOut, mixesLike, productForm, type UnitSystem } from "#core";
import type { CardSheet } from "#server/visits/card-sheet";
import { everyText, productName, spoonText, words } from "../words";
import { amountText } from "./format";

/** A card in plain words, line by line: the page and its PDF say the same. */
export function cardText({ basin, product, grams, everyDays, firm }: CardSheet) {
  const said = words.card.public;
  const kind = mixesLike(basin.kind);
  const form = productForm(product).form === "liquid" ? "liquid" : "solid";
  return {
    title: said.title({ basin: basin.name }),
    amount: doseText(product, grams, firm.units),
    name: productName(product),
    when: said.when({ often: everyText(everyDays) }),
    lines: [said.evening, said.how[form], said.wait[kind]],
    cautions: [
      ...cautionsOf(product, { sanitiserFirst: false, kind })
        // What a technician needs to know beside these says nothing to a layman.
        .filter((code) => TOLD.has(code))
        .map((code) => words.plan.cautions[code]),
      said.minors,
      said.children,
      said.firstAid,
      said.never,
      said.label,
    ],
    by: said.by({ firm: firm.name }),
    footer: said.pdfFooter({ firm: firm.name }),
  };
}

const TOLD: ReadonlySet<string> = new Set([
  "acid-and-chlorine",
  "chlorines-apart",
  "never-mix",
  "goggles-gloves",
  "nobody-in",
  "dry-scoop",
  "chemical-into-water",
  "acid-first-into-water",
]);

/** A dose in kitchen measures, and by weight or volume. @example doseText("dichlor", 28.5, "us") // "2 level tablespoons (1 oz)" */
export const doseText = (product: CardSheet["product"], grams: number, units: UnitSystem): string =>
  `${spoonText(measuredOut(product, grams))} (${amountText(everydayAmount(grams, productForm(product), units))})`;
