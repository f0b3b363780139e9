import type { Basin } from "../basin/basin";
import { type LabelDose, type LabelProduct, labelDoses } from "../dosing/labelled";
import { lastFound } from "../judging/found";
import { LABELLED } from "../products/labels";
import { mixesLike } from "../ranges/bathing-limits";
import type { RecipeId } from "../recipes/recipe";
import { mayActOn } from "../testing/doubt";
import type { OpenedVisit } from "./visit";
import type { VisitDose } from "./written";

/** A dose by the label at a visit, and what was given of it there. */
export interface LabelDoseHere extends LabelDose {
  given: VisitDose | null;
}

/** A dose by the label is kept under the product. @example labelCode("7f0c") // "label.7f0c" */
export const labelCode = (productId: string): string => `label.${productId}`;

/**
 * What is dosed by its label at this visit, in the order of the shelf.
 * @example labelledAt(opened).length // 0
 */
export function labelledAt(opened: OpenedVisit): LabelDoseHere[] {
  const { visit, basin, products, log, readings, due, doses } = opened;
  const read = (quantity: string) =>
    readings.find((one) => one.quantity === quantity && mayActOn(one.doubts)) ?? null;
  const here = labelDoses({
    products: shelfFor(products, basin.barred),
    doses: log.doses,
    litres: visit.litres,
    jets: hasJets(basin),
    outdoors: !basin.indoors,
    freeChlorine: read("freeChlorine")?.value ?? null,
    found: lastFound(
      [...opened.earlier, ...readings.filter((one) => mayActOn(one.doubts))],
      opened.ranges,
      opened.at.getTime(),
    ),
    hardnessDue:
      read("calciumHardness") === null &&
      due.some(({ station, due: isDue }) => isDue && station === "calciumHardness"),
  });
  return here.map((dose) => ({
    ...dose,
    given: doses.find(({ code, givenGrams }) => code === labelCode(dose.product) && givenGrams > 0) ?? null,
  }));
}

/** Whether water is whipped by jets or sprays. @example hasJets({ kind: "splash-pad" }) // true */
export const hasJets = ({ kind }: Pick<Basin, "kind">): boolean =>
  mixesLike(kind) === "spa" || kind === "splash-pad";

/**
 * The shelf as labels are gone through: without what is barred from a basin.
 * @example shelfFor(opened.products, []).length // 4
 */
export const shelfFor = <Product extends LabelProduct>(
  products: readonly Product[],
  barred: readonly string[],
): Product[] => products.filter(({ product }) => !barred.includes(product));

/** Recipes that shock. */
const SHOCKS: readonly RecipeId[] = ["breakpoint", "opening", "closing"];

/**
 * What went in by its label so lately that a shock would destroy it.
 * @example spoiledBy("breakpoint", opened).length // 0
 */
export const spoiledBy = (recipe: RecipeId, opened: OpenedVisit): LabelDoseHere[] =>
  SHOCKS.includes(recipe)
    ? labelledAt(opened).filter(({ compound, product, lastDays }) => {
        const apart = opened.products.find(({ id }) => id === product)?.label?.apartHours ?? 0;
        return LABELLED[compound].eatenByChlorine && lastDays !== null && lastDays * 24 < apart;
      })
    : [];
