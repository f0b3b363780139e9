import { useForm } from "react-hook-form";
import { LAYMAN_CHOICE, litresFrom, type ProductId, UNIT_SYSTEMS, volumeIn } from "#core";
import type { Rates as FirmRates } from "#server/db/firms";
import { Button } from "../../ui/button";
import { Field } from "../../ui/field";
import { waterUnit } from "../../ui/format";
import { fieldText, typedOr, typedOrNull } from "../../ui/number-text";
import { Refused } from "../../ui/refused";
import { useUnits } from "../../ui/units";
import { useCommand } from "../../ui/use-command";
import { productName, words } from "../../words";

/** What plans, recipes and the shelf go by, for the whole firm. */
interface Props {
  rates: FirmRates;
  /** Those that the server knows: a browser may know others. */
  currencies: readonly string[];
  owner: boolean;
}

interface Fields {
  fillRate: string;
  persulfateDose: string;
  callMinutes: string;
  callPrice: string;
  scaleStep: string;
  laymen: ProductId[];
  seasonStart: string;
  currency: string;
}

export function Rates({ rates, currencies, owner }: Props) {
  const { dispatch, answer, saved, busy } = useCommand<"set-rates">("/settings");
  // A tap is timed in what the firm counts volumes in.
  const units = useUnits();
  const unit = UNIT_SYSTEMS[units].water;
  const shownRate = fieldText(volumeIn(rates.fillRate, unit), 1);
  const { register, handleSubmit } = useForm<Fields>({
    defaultValues: {
      ...rates,
      fillRate: shownRate,
      persulfateDose: String(rates.persulfateDose),
      callMinutes: String(rates.callMinutes ?? ""),
      callPrice: String(rates.callPrice ?? ""),
      scaleStep: rates.scaleStep ? fieldText(rates.scaleStep, 2) : "",
      laymen: rates.laymen ?? [],
    },
  });
  const rateOf = (typed: string): number => {
    // What was left alone stays to the last digit.
    if (typed === shownRate) return rates.fillRate;
    const amount = typedOr(typed);
    return typeof amount === "number" ? litresFrom(amount, unit) : amount;
  };
  const save = ({ fillRate, persulfateDose, callMinutes, callPrice, scaleStep, ...rest }: Fields) =>
    dispatch("set-rates", {
      ...rest,
      fillRate: rateOf(fillRate),
      persulfateDose: typedOr(persulfateDose),
      callMinutes: typedOr(callMinutes),
      callPrice: typedOr(callPrice),
      scaleStep: typedOrNull(scaleStep),
    });
  const said = words.settings;
  return (
    <form onSubmit={handleSubmit(save)} className="sheet grid gap-3 p-4" noValidate>
      <h2 className="text-xl font-semibold">{said.rates}</h2>
      {owner ? null : <p className="text-soft">{said.ownersOnly}</p>}
      <fieldset disabled={!owner} className="grid gap-3">
        <Field label={said.fillRate({ unit: waterUnit(units) })}>
          <input inputMode="decimal" {...register("fillRate")} />
        </Field>
        <Field label={said.callMinutes}>
          <input inputMode="numeric" {...register("callMinutes")} />
        </Field>
        <Field label={said.callPrice}>
          <input inputMode="decimal" {...register("callPrice")} />
        </Field>
        <fieldset className="grid gap-1">
          <legend className="font-medium">{said.laymen}</legend>
          <p className="text-sm text-soft">{said.laymenHint}</p>
          {LAYMAN_CHOICE.map((product) => (
            <label key={product} className="flex min-h-[44px] items-center gap-2">
              <input type="checkbox" value={product} {...register("laymen")} />
              {productName(product)}
            </label>
          ))}
        </fieldset>
        <Field label={said.persulfateDose}>
          <input inputMode="decimal" {...register("persulfateDose")} />
        </Field>
        <Field label={said.scaleStep}>
          <input inputMode="decimal" {...register("scaleStep")} />
          <span className="text-sm font-normal text-soft">{said.scaleStepHint}</span>
        </Field>
        <Field label={said.seasonStart}>
          <input autoComplete="off" {...register("seasonStart")} />
        </Field>
        <Field label={said.currency}>
          <select {...register("currency")}>
            {currencies.map((code) => (
              <option key={code} value={code}>
                {code}
              </option>
            ))}
          </select>
        </Field>
        <Refused answer={answer} />
        {owner ? (
          <Button busy={busy} className="justify-self-start">
            {said.ratesSave}
          </Button>
        ) : null}
      </fieldset>
      {saved ? <p role="status">{said.ratesSaved}</p> : null}
    </form>
  );
}
