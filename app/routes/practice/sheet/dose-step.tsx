import { useState } from "react";
import { type PlanProduct, SHEET_SHELF } from "#core";
import { Button } from "../../../ui/button";
import { Field } from "../../../ui/field";
import { BOUND_SIGN, plain, valueText } from "../../../ui/format";
import { useUnits } from "../../../ui/units";
import type { Weighed } from "../../../ui/weighed";
import { productName, quantityShort, words } from "../../../words";
import { doseOf, unitOf } from "./dose";
import { readBy } from "./scored";
import type { SheetStep } from "./step";

/** What goes in today, typed as it is weighed or poured. */
export function DoseStep({ sheet, basin, scored, change, finish }: SheetStep & { finish: () => void }) {
  const units = useUnits();
  const said = words.practice.sheet;
  const [fault, setFault] = useState<string | null>(null);
  const type = (key: string, text: string) => change({ dose: { ...sheet.dose, [key]: text } });
  const done = () => {
    const { faults } = doseOf(sheet.dose, basin, units);
    const [first] = faults;
    setFault(first ? said.bad({ name: first.name, value: first.text, most: first.most }) : null);
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

const labelOf = ({ product, strength }: PlanProduct, unit: Weighed): string =>
  `${productName(product)} ${words.practice.sheet.strength({ percent: plain(100 * strength, 1) })}, ${unit.name}`;
