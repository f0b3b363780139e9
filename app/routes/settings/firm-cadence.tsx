import { useState } from "react";
import { type CadenceChange, USUAL_CADENCE } from "#core";
import { Button } from "../../ui/button";
import { CadenceFields, cadenceFrom, cadenceText } from "../../ui/cadence-fields";
import { Refused } from "../../ui/refused";
import { useCommand } from "../../ui/use-command";
import { words } from "../../words";

/** How often everything is tested and done, for the whole firm; a basin may do otherwise. */
export function FirmCadence({ cadence, owner }: { cadence: CadenceChange | null; owner: boolean }) {
  const { dispatch, answer, saved, busy } = useCommand<"set-cadence">("/settings");
  const [value, change] = useState(() => cadenceText(cadence));
  const save = () => dispatch("set-cadence", { cadence: cadenceFrom(value) ?? {} });
  return (
    <details className="sheet p-4">
      <summary className="min-h-[44px] cursor-pointer content-center text-xl font-semibold">
        {words.facts.cadenceFirm}
      </summary>
      {owner ? null : <p className="mb-3 text-soft">{words.settings.ownersOnly}</p>}
      <fieldset disabled={!owner} className="grid gap-3">
        <CadenceFields value={value} change={change} usual={USUAL_CADENCE} />
        <Refused answer={answer} />
        {owner ? (
          <Button type="button" busy={busy} className="justify-self-start" onClick={save}>
            {words.facts.save}
          </Button>
        ) : null}
        {saved ? <p role="status">{words.facts.saved}</p> : null}
      </fieldset>
    </details>
  );
}
