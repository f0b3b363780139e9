import { Button } from "../../ui/button";
import { Refused } from "../../ui/refused";
import { useCommand } from "../../ui/use-command";
import { words } from "../../words";

/** How long the firm keeps its photos; owners decide. */
export function PhotoRule({ photoMonths, owner }: { photoMonths: number | null; owner: boolean }) {
  const { dispatch, answer, saved, busy } = useCommand<"set-photo-rule">("/settings");
  const said = words.settings;
  return (
    <section className="sheet grid gap-3 p-4">
      <h2 className="text-xl font-semibold">{said.photos}</h2>
      <p className="text-soft">{said.photosHint}</p>
      <div className="flex flex-wrap gap-2">
        {([null, 12, 36] as const).map((months) => (
          <Button
            key={months}
            type="button"
            quiet={photoMonths !== months}
            disabled={!owner}
            busy={busy}
            aria-pressed={photoMonths === months}
            onClick={() => dispatch("set-photo-rule", { photoMonths: months })}
          >
            {said.photosKept({ months })}
          </Button>
        ))}
      </div>
      {owner ? null : <p className="text-soft">{said.ownersOnly}</p>}
      <Refused answer={answer} />
      {saved ? <p role="status">{said.photosSaved}</p> : null}
    </section>
  );
}
