import { useFieldArray, useFormContext } from "react-hook-form";
import { MEASURES } from "#core";
import { Button } from "../../ui/button";
import { Field, RemoveButton } from "../../ui/field";
import { Options } from "../../ui/options";
import { measureName, words } from "../../words";
import type { KitFields } from "./kit-fields";

const MIXES = ["swirl", "invert", "shake", "crush", "dip", "none"] as const;

/** The preparation of a test: reagents in the order they go in. */
export function StepsEditor({ index }: { index: number }) {
  const { register, control } = useFormContext<KitFields>();
  const at = `methods.${index}.steps` as const;
  const { fields, append, remove } = useFieldArray({ control, name: at });
  const said = words.kits;
  return (
    <fieldset className="grid gap-3">
      <legend className="mb-1 text-soft">{said.steps}</legend>
      {fields.map((field, row) => (
        <div
          key={field.id}
          className="grid grid-cols-2 items-end gap-2 wide:grid-cols-[2fr_1fr_1fr_1fr_1fr_1fr_auto]"
        >
          <Field label={said.step.reagent} className="col-span-2 wide:col-span-1">
            <input autoComplete="off" {...register(`${at}.${row}.reagent`)} />
          </Field>
          <Field label={said.step.amount}>
            <input inputMode="decimal" {...register(`${at}.${row}.amount`)} />
          </Field>
          <Field label={said.step.measure}>
            <select {...register(`${at}.${row}.measure`)}>
              <Options of={MEASURES} name={measureName} />
            </select>
          </Field>
          <Field label={said.step.mix}>
            <select {...register(`${at}.${row}.mix`)}>
              <Options of={MIXES} name={(one) => said.mixes[one]} />
            </select>
          </Field>
          <Field label={said.step.wait}>
            <input inputMode="decimal" {...register(`${at}.${row}.wait`)} />
          </Field>
          <Field label={said.step.sample}>
            <input inputMode="decimal" {...register(`${at}.${row}.sample`)} />
          </Field>
          <RemoveButton onClick={() => remove(row)} />
        </div>
      ))}
      <Button
        type="button"
        quiet
        className="justify-self-start"
        onClick={() =>
          append({ reagent: "", amount: "", measure: "drops", mix: "swirl", wait: "", sample: "" })
        }
      >
        {said.addStep}
      </Button>
    </fieldset>
  );
}
