import { useFieldArray, useFormContext } from "react-hook-form";
import { computedFactor, factorsAgree, InputFault, QUANTITIES, QUANTITY_NAMES, TRAP_CODES } from "#core";
import { Button } from "../../ui/button";
import { Field, RemoveButton } from "../../ui/field";
import { typedNumber } from "../../ui/number-text";
import { NamedOptions, Options } from "../../ui/options";
import { quantityName, shipped, words } from "../../words";
import type { KitFields } from "./kit-fields";
import { StepsEditor } from "./steps-editor";

const KINDS = ["titration", "comparator", "turbidity", "strip", "meter"] as const;
const SOURCES = ["meter", "photometer", "lab"] as const;

/** One test of a kit. */
export function MethodEditor({ index, remove }: { index: number; remove: () => void }) {
  const { register, watch } = useFormContext<KitFields>();
  const at = `methods.${index}` as const;
  const kind = watch(`${at}.kind`);
  const others = watch("methods").filter((_, other) => other !== index);
  const said = words.kits;
  return (
    <div className="mt-2 grid gap-4 border-t border-rule pt-3">
      <div className="grid gap-3 wide:grid-cols-4">
        <Field label={said.testName} className="wide:col-span-2">
          <input autoComplete="off" {...register(`${at}.name`)} />
        </Field>
        <Field label={said.quantity}>
          <select {...register(`${at}.quantity`)}>
            <Options of={QUANTITY_NAMES} name={quantityName} />
          </select>
        </Field>
        <Field label={said.kind}>
          <select {...register(`${at}.kind`)}>
            <Options of={KINDS} name={(one) => said.kinds[one]} />
          </select>
        </Field>
        <Field label={said.id} className="wide:col-span-2">
          <input autoComplete="off" {...register(`${at}.id`)} />
        </Field>
        <Field label={said.continues} className="wide:col-span-2">
          <select {...register(`${at}.continues`)}>
            <option value="">{said.ownSample}</option>
            <NamedOptions of={others} name={shipped} />
          </select>
        </Field>
      </div>
      {kind === "titration" ? (
        <Titration index={index} />
      ) : kind === "meter" ? (
        <div className="grid gap-3 wide:grid-cols-3">
          <Field label={said.source}>
            <select {...register(`${at}.source`)}>
              <Options of={SOURCES} name={(one) => said.sources[one]} />
            </select>
          </Field>
          <Field label={said.accuracy}>
            <input inputMode="decimal" {...register(`${at}.accuracy`)} />
          </Field>
          <Field label={said.relative}>
            <input inputMode="decimal" {...register(`${at}.relative`)} />
          </Field>
        </div>
      ) : (
        <div className="grid gap-3 wide:grid-cols-4">
          <Field label={said.sample}>
            <input inputMode="decimal" {...register(`${at}.sample`)} />
          </Field>
          <Field label={said.marks} className="wide:col-span-3">
            <input autoComplete="off" {...register(`${at}.marks`)} />
          </Field>
          {kind === "strip" ? (
            <Field label={said.strip} className="wide:col-span-2">
              <input autoComplete="off" {...register(`${at}.strip`)} />
            </Field>
          ) : null}
          {kind === "strip" ? (
            <Field label={said.readAt}>
              <input inputMode="decimal" {...register(`${at}.readAt`)} />
            </Field>
          ) : null}
        </div>
      )}
      <StepsEditor index={index} />
      <div className="grid gap-3 wide:grid-cols-2">
        {(["before", "after"] as const).map((side) => (
          <div key={side} className="flex items-end gap-2">
            <Field label={said.colorWord[side]} className="grow">
              <input autoComplete="off" {...register(`${at}.${side}.word`)} />
            </Field>
            <Field label={said.swatch}>
              <input type="color" className="w-20 p-1!" {...register(`${at}.${side}.swatch`)} />
            </Field>
          </div>
        ))}
      </div>
      <fieldset>
        <legend className="mb-1 text-soft">{said.traps}</legend>
        <div className="grid gap-x-4 wide:grid-cols-2">
          {TRAP_CODES.map((code) => (
            <label key={code} className="flex min-h-[44px] items-center gap-3">
              <input type="checkbox" value={code} className="h-6 min-h-0 w-6" {...register(`${at}.traps`)} />
              {words.trapNames[code]}
            </label>
          ))}
          <label className="flex min-h-[44px] items-center gap-3">
            <input type="checkbox" className="h-6 min-h-0 w-6" {...register(`${at}.caution`)} />
            {said.caution}
          </label>
        </div>
      </fieldset>
      <Button type="button" quiet className="justify-self-start" onClick={remove}>
        {said.removeTest}
      </Button>
    </div>
  );
}

/** Sample sizes with the worth of a drop, stated, and compared with what the moles say. */
function Titration({ index }: { index: number }) {
  const { register, watch, control, setValue } = useFormContext<KitFields>();
  const at = `methods.${index}` as const;
  const { fields, append, remove } = useFieldArray({ control, name: `${at}.samples` });
  const said = words.kits;
  const unit = QUANTITIES[watch(`${at}.quantity`)].unit;
  const [normality, dropVolume, equivalentWeight] = watch([
    `${at}.normality`,
    `${at}.dropVolume`,
    `${at}.equivalentWeight`,
  ]).map(typedNumber);
  const samples = watch(`${at}.samples`);
  const worthIn = (millilitres: string): number | null => {
    try {
      return computedFactor({
        normality: normality ?? Number.NaN,
        dropVolume: dropVolume ?? Number.NaN,
        equivalentWeight: equivalentWeight ?? Number.NaN,
        sample: typedNumber(millilitres),
      });
    } catch (fault) {
      if (fault instanceof InputFault) return null;
      throw fault;
    }
  };
  return (
    <>
      <div className="grid gap-3 wide:grid-cols-2">
        <Field label={said.titrant}>
          <input autoComplete="off" {...register(`${at}.titrant`)} />
        </Field>
        <Field label={said.target}>
          <input inputMode="decimal" {...register(`${at}.target`)} />
        </Field>
      </div>
      <fieldset className="grid gap-2">
        <legend className="mb-1 text-soft">{said.samples}</legend>
        {fields.map((field, row) => (
          <div key={field.id} className="flex flex-wrap items-end gap-2">
            <Field label={said.millilitres} className="w-24">
              <input inputMode="decimal" {...register(`${at}.samples.${row}.millilitres`)} />
            </Field>
            <Field label={said.worth({ unit })} className="w-36">
              <input inputMode="decimal" {...register(`${at}.samples.${row}.factor`)} />
            </Field>
            <RemoveButton onClick={() => remove(row)} />
          </div>
        ))}
        <Button
          type="button"
          quiet
          className="justify-self-start"
          onClick={() => append({ millilitres: "", factor: "" })}
        >
          {said.addSample}
        </Button>
      </fieldset>
      <fieldset className="grid gap-3 wide:grid-cols-3">
        <legend className="mb-1 text-soft">{said.computed}</legend>
        <Field label={said.normality}>
          <input inputMode="decimal" {...register(`${at}.normality`)} />
        </Field>
        <Field label={said.dropVolume}>
          <input inputMode="decimal" {...register(`${at}.dropVolume`)} />
        </Field>
        <Field label={said.equivalentWeight}>
          <input inputMode="decimal" {...register(`${at}.equivalentWeight`)} />
        </Field>
      </fieldset>
      {samples.map((size, row) => {
        const worth = worthIn(size.millilitres);
        if (worth === null) return null;
        const stated = typedNumber(size.factor);
        const off = !(stated > 0) || !factorsAgree(stated, worth);
        return (
          <p
            // biome-ignore lint/suspicious/noArrayIndexKey: rows have no other name
            key={row}
            className={off ? "border-l-4 border-below bg-below-wash p-2 text-below" : "text-soft"}
          >
            {said.computedSays({
              millilitres: size.millilitres,
              factor: String(Number(worth.toPrecision(4))),
            })}{" "}
            {off ? (
              <>
                {stated > 0 ? said.computedOff : ""}{" "}
                <button
                  type="button"
                  className="link min-h-[44px] cursor-pointer"
                  onClick={() =>
                    setValue(`${at}.samples.${row}.factor`, String(Number(worth.toPrecision(4))), {
                      shouldDirty: true,
                    })
                  }
                >
                  {said.useComputed}
                </button>
              </>
            ) : null}
          </p>
        );
      })}
    </>
  );
}
