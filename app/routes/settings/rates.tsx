import { Form, useActionData } from "react-router";
import type { Rates as FirmRates } from "#server/db/firms";
import { Button } from "../../ui/button";
import { Field } from "../../ui/field";
import { words } from "../../words";

/** What plans, recipes and the shelf go by, for the whole firm. */
interface Props {
  rates: FirmRates;
  /** Those that the server knows: a browser may know others. */
  currencies: readonly string[];
  owner: boolean;
}

export function Rates({ rates, currencies, owner }: Props) {
  const answer = useActionData<{ ratesSaved?: true }>();
  const said = words.settings;
  return (
    <Form method="post" className="sheet grid gap-3 p-4">
      <input type="hidden" name="what" value="rates" />
      <h2 className="text-xl font-semibold">{said.rates}</h2>
      <fieldset disabled={!owner} className="grid gap-3">
        <Field label={said.fillRate}>
          <input name="fillRate" inputMode="decimal" defaultValue={rates.fillRate} />
        </Field>
        <Field label={said.persulfateDose}>
          <input name="persulfateDose" inputMode="decimal" defaultValue={rates.persulfateDose} />
        </Field>
        <Field label={said.seasonStart}>
          <input name="seasonStart" autoComplete="off" defaultValue={rates.seasonStart} />
        </Field>
        <Field label={said.currency}>
          <select name="currency" defaultValue={rates.currency}>
            {currencies.map((code) => (
              <option key={code} value={code}>
                {code}
              </option>
            ))}
          </select>
        </Field>
        {owner ? <Button className="justify-self-start">{said.ratesSave}</Button> : null}
      </fieldset>
      {owner ? null : <p className="text-soft">{said.ownersOnly}</p>}
      {answer?.ratesSaved ? <p role="status">{said.ratesSaved}</p> : null}
    </Form>
  );
}
