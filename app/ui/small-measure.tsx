import { type ProductForm, smallMeasure } from "#core";
import { ungroupedText, words } from "../words";
import { useFirm } from "./use-firm";

/** What measures an amount that is too small for the scale; nothing where the scale does. @param grams to be weighed at once */
export function SmallMeasure({ grams, form }: { grams: number; form: ProductForm }) {
  const { scaleStep } = useFirm();
  if (scaleStep === null || form.form === "liquid" || grams <= 0) return null;
  const found = smallMeasure(grams, form, scaleStep);
  if (found.by === "scale") return null;
  const step = ungroupedText(scaleStep);
  const said = words.smallAmounts;
  return (
    <p className="font-medium">
      {found.by === "spoon"
        ? said.spoon({ step, count: found.quarters })
        : said.nothing({ step, least: ungroupedText(found.least) })}
    </p>
  );
}
