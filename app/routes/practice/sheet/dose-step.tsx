import { useState } from "react";
import {
  dosedOf,
  InputFault,
  isSoundDose,
  numberFrom,
  numberWithin,
  type PlanProduct,
  PRODUCTS,
  SHEET_SHELF,
  type SheetBasin,
  type SheetDose,
  type UnitSystem,
} from "#core";
import { Button } from "../../../ui/button";
import { Field } from "../../../ui/field";
import { BOUND_SIGN, plain, valueText } from "../../../ui/format";
import { useUnits } from "../../../ui/units";
import { type Weighed, weighed } from "../../../ui/weighed";
import { productName, quantityShort, words } from "../../../words";
import { readBy } from "./judge-step";
import type { SheetStep } from "./whole-sheet";

/** The most that anybody gives of a product at once, g a cubic metre: far beyond sense, and still a water. */
const MOST = 5000;
/** About what is given of a product, g a cubic metre: its unit goes by that. */
const USUAL = 60;
/** Percent of the water. */
const MOST_REPLACED = 90;

/** What goes in today, typed as it is weighed or poured. */
export function DoseStep({ sheet, basin, scored, change, finish }: SheetStep & { finish: () => void }) {
  const units = useUnits();
  const said = words.practice.sheet;
  const [fault, setFault] = useState<string | null>(null);
  const type = (key: string, text: string) => change({ dose: { ...sheet.dose, [key]: text } });
  const done = () => {
    const { faults } = doseOf(sheet.dose, basin, units);
    const [first] = faults;
    setFault(first ? said.bad(first.name, first.text, first.most) : null);
    if (!first) finish();
  };
  return (
    <section aria-label={said.dose} className="grid max-w-3xl gap-4">
      <p className="flex flex-wrap gap-x-5 gap-y-1">
        {[...readBy(scored)].map(([quantity, { score, test }]) => (
          <span key={quantity} className={test.setAside ? "text-soft line-through" : ""}>
            {quantityShort(quantity)}{" "}
            <b>
              {BOUND_SIGN[score.reading.bound]}
              {valueText(quantity, score.reading.value, units)}
            </b>
          </span>
        ))}
      </p>
      <p className="text-soft">{said.doseHint}</p>
      <div className="grid grid-cols-1 gap-3 wide:grid-cols-2">
        {SHEET_SHELF.map((product) => (
          <Field key={product.key} label={labelOf(product, unitOf(product, basin, units))}>
            <input
              inputMode="decimal"
              value={sheet.dose[product.key] ?? ""}
              onChange={(event) => type(product.key, event.target.value)}
            />
          </Field>
        ))}
        <Field label={said.replaced}>
          <input
            inputMode="decimal"
            value={sheet.dose.replaced ?? ""}
            onChange={(event) => type("replaced", event.target.value)}
          />
        </Field>
      </div>
      {fault ? (
        <p role="alert" className="border-l-4 border-above bg-above-wash p-3 text-above">
          {fault}
        </p>
      ) : null}
      <p className="flex flex-wrap gap-3">
        <Button type="button" className="min-h-[56px]" onClick={done}>
          {said.finish}
        </Button>
        <Button type="button" quiet onClick={() => change({ at: "judge" })}>
          {said.backToJudge}
        </Button>
      </p>
    </section>
  );
}

const unitOf = ({ product }: PlanProduct, { litres }: SheetBasin, units: UnitSystem): Weighed =>
  weighed(PRODUCTS[product].form, units, (USUAL * litres) / 1000);

const labelOf = ({ product, strength }: PlanProduct, unit: Weighed): string =>
  `${productName(product)} ${words.practice.sheet.strength(plain(100 * strength, 1))}, ${unit.name}`;

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
