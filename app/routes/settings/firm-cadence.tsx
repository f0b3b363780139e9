import { useState } from "react";
import { useFetcher } from "react-router";
import { type CadenceChange, USUAL_CADENCE } from "#core";
import { Button } from "../../ui/button";
import { CadenceFields, cadenceFrom, cadenceText } from "../../ui/cadence-fields";
import { Refused, type SaveAnswer } from "../../ui/refused";
import { words } from "../../words";

/** How often everything is tested and done, for the whole firm; a basin may do otherwise. */
export function FirmCadence({ cadence, owner }: { cadence: CadenceChange | null; owner: boolean }) {
  const fetcher = useFetcher<SaveAnswer & { cadenceSaved?: true }>();
  const [value, change] = useState(() => cadenceText(cadence));
  const save = () =>
    fetcher.submit(
      { what: "cadence", cadence: JSON.stringify(cadenceFrom(value)) },
      { method: "post", action: "/settings" },
    );
  return (
    <details className="sheet p-4">
      <summary className="min-h-[44px] cursor-pointer content-center text-xl font-semibold">
        {words.facts.cadenceFirm}
      </summary>
      <fieldset disabled={!owner} className="grid gap-3">
        <CadenceFields value={value} change={change} usual={USUAL_CADENCE} />
        <Refused answer={fetcher.data} />
        {owner ? (
          <Button type="button" busy={fetcher.state !== "idle"} className="justify-self-start" onClick={save}>
            {words.facts.save}
          </Button>
        ) : (
          <p className="text-soft">{words.settings.ownersOnly}</p>
        )}
        {fetcher.data?.cadenceSaved ? <p role="status">{words.facts.saved}</p> : null}
      </fieldset>
    </details>
  );
}
