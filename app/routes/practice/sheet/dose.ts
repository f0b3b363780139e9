import {
  dosedOf,
  InputFault,
  isSoundDose,
  numberFrom,
  numberWithin,
  type PlanProduct,
  PRODUCTS,
  productForm,
  SHEET_SHELF,
  type SheetBasin,
  type SheetDose,
  type UnitSystem,
} from "#core";
import { plain } from "../../../ui/format";
import { type Weighed, weighed } from "../../../ui/weighed";
import { productName, words } from "../../../words";
import type { SheetStep } from "./step";

/** The dose of a sheet, from what was typed. */

/** The most that anybody gives of a product at once, g a cubic metre: far beyond sense, and still a water. */
const MOST = 5000;
/** About what is given of a product, g a cubic metre: its unit goes by that. */
const USUAL = 60;
/** Percent of the water. */
const MOST_REPLACED = 90;

/** The unit in which a product is weighed or poured at this basin. */
export const unitOf = ({ product }: PlanProduct, { litres }: SheetBasin, units: UnitSystem): Weighed =>
  weighed(productForm(product), units, (USUAL * litres) / 1000);

interface DoseFault {
  name: string;
  text: string;
  most: string;
}

/** What was typed as grams, and what of it cannot be. */
export function doseOf(
  typed: Readonly<Record<string, string>>,
  basin: SheetBasin,
  units: UnitSystem,
): { dose: SheetDose; faults: DoseFault[] } {
  const faults: DoseFault[] = [];
  const number = (key: string, name: string, most: number): number => {
    const text = (typed[key] ?? "").trim();
    if (text === "") return 0;
    try {
      return numberWithin(key, numberFrom(text), 0, most);
    } catch (fault) {
      if (!(fault instanceof InputFault)) throw fault;
      faults.push({ name, text, most: plain(most, 0) });
      return 0;
    }
  };
  const grams = Object.fromEntries(
    SHEET_SHELF.map((product) => {
      const unit = unitOf(product, basin, units);
      const { density } = PRODUCTS[product.product];
      const most = Math.round(unit.fromGrams((MOST * basin.litres) / 1000, density));
      const amount = number(product.key, productName(product.product), most);
      return [product.key, unit.toGrams(amount, density)];
    }),
  );
  const replaced = number("replaced", words.practice.sheet.replaced, MOST_REPLACED) / 100;
  return { dose: { grams, replaced }, faults };
}

/** Whether the dose harms nobody and puts nothing out of its range. */
export function isSound({ sheet, water, basin }: SheetStep, units: UnitSystem): boolean {
  const dosed = dosedOf(water, basin, doseOf(sheet.dose, basin, units).dose);
  return !(dosed instanceof InputFault) && isSoundDose(water, basin, dosed);
}
