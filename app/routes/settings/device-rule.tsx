import { Button } from "../../ui/button";
import { Refused } from "../../ui/refused";
import { useCommand } from "../../ui/use-command";
import { words } from "../../words";

/** How long a device without contact keeps the firm's round; owners decide. */
export function DeviceRule({ forgetDays, owner }: { forgetDays: number | null; owner: boolean }) {
  const { dispatch, answer, saved, busy } = useCommand<"set-device-rule">("/settings");
  const said = words.settings;
  return (
    <section className="sheet grid gap-3 p-4">
      <h2 className="text-xl font-semibold">{said.devices}</h2>
      <p className="text-soft">{said.devicesHint}</p>
      <div className="flex flex-wrap gap-2">
        {([null, 7, 30] as const).map((days) => (
          <Button
            key={days}
            type="button"
            quiet={forgetDays !== days}
            disabled={!owner}
            busy={busy}
            aria-pressed={forgetDays === days}
            onClick={() => dispatch("set-device-rule", { forgetDays: days })}
          >
            {said.forget({ days })}
          </Button>
        ))}
      </div>
      {owner ? null : <p className="text-soft">{said.ownersOnly}</p>}
      <Refused answer={answer} />
      {saved ? <p role="status">{said.devicesSaved}</p> : null}
    </section>
  );
}
