import { useState } from "react";
import { Link, useFetcher } from "react-router";
import {
  closingTroubles,
  type Look,
  nothingFound,
  SENSE_NAMES,
  SENSES,
  stopAfter,
  type Trouble,
  troublesOf,
  urgentTroubles,
} from "#core";
import { onServer } from "../../device/action.server";
import { lookCommand } from "../../device/page-command";
import { onDevice } from "../../device/seam";
import { BathingBanner } from "../../ui/bathing-banner";
import { Button } from "../../ui/button";
import { Photos } from "../../ui/photos-field";
import { Refused, type SaveAnswer } from "../../ui/refused";
import { submitJson } from "../../ui/submit-json";
import { useClientId } from "../../ui/use-client-id";
import { useKeys } from "../../ui/use-keys";
import { words } from "../../words";
import { usePlaceMark } from "./use-place-mark";
import { useVisit } from "./use-visit";

/** What was just tapped closes the basin: said at once, with what to do. */
function ClosedBySight({ look }: { look: Look }) {
  const { basin } = useVisit();
  const closing = closingTroubles(look);
  const urgent = urgentTroubles(look);
  if (closing.length === 0 && urgent.length === 0) return null;
  return (
    <BathingBanner
      bathing={{
        state: closing.length > 0 ? "closed" : "open",
        because: closing.map((trouble) => ({ code: "seen", trouble })),
        until: null,
        urgent,
      }}
      basin={basin}
    />
  );
}

export const action = onServer(lookCommand);

export const clientAction = onDevice(lookCommand);

/** What is asked, without what the book adds to it. */
const askedOf = (look: Look): Look =>
  ({ ...Object.fromEntries(SENSE_NAMES.map((sense) => [sense, look[sense]])), note: look.note }) as Look;

export default function LookPage() {
  usePlaceMark("start");
  const { visit, soFar, photos } = useVisit();
  const fetcher = useFetcher<SaveAnswer>();
  const [look, setLook] = useState<Look>(() => askedOf(visit.look ?? nothingFound()));
  const id = useClientId("look");
  const found = troublesOf(look).length;
  const save = () => {
    const next = stopAfter({ ...soFar, looked: true }, "look");
    void submitJson(fetcher, { id: id(look), ...look, next });
  };
  useKeys({ s: save });
  const flip = (sense: (typeof SENSE_NAMES)[number], trouble: Trouble) => {
    const now: readonly string[] = look[sense];
    const next = now.includes(trouble) ? now.filter((one) => one !== trouble) : [...now, trouble];
    setLook({ ...look, [sense]: next });
  };
  const said = words.look;
  return (
    <section aria-label={said.title} className="grid max-w-3xl gap-4">
      <h2 className="text-2xl font-bold">{said.title}</h2>
      <p className="text-soft">{said.hint}</p>
      {SENSE_NAMES.map((sense) => (
        <fieldset key={sense}>
          <legend className="mb-1 font-semibold">{said.senses[sense]}</legend>
          <div className="flex flex-wrap gap-2">
            {SENSES[sense].map((trouble) => {
              const on = (look[sense] as readonly string[]).includes(trouble);
              return (
                <button
                  key={trouble}
                  type="button"
                  aria-pressed={on}
                  onClick={() => flip(sense, trouble)}
                  className={
                    on
                      ? "quiet-action border-below! bg-below-wash font-semibold! text-below!"
                      : "quiet-action"
                  }
                >
                  {on ? <span aria-hidden="true">◆</span> : null}
                  {said.troubles[trouble]}
                </button>
              );
            })}
          </div>
        </fieldset>
      ))}
      <label className="grid gap-1 font-medium">
        {said.note}
        <textarea
          rows={2}
          maxLength={1000}
          value={look.note}
          onChange={(event) => setLook({ ...look, note: event.target.value })}
        />
      </label>
      <Photos photos={photos} action={`/visits/${visit.id}/photos`} fixed={visit.finishedAt !== null} />
      <ClosedBySight look={look} />
      {look.smell.includes("chloramine") ? <p className="text-below">{said.chloramine}</p> : null}
      <Refused answer={fetcher.data} />
      <p className="flex flex-wrap items-center gap-3">
        <Button
          type="button"
          className="next-step min-h-[64px]"
          shortcut="S"
          busy={fetcher.state !== "idle"}
          onClick={save}
        >
          {found === 0 ? said.allFine : said.save({ count: found })}
        </Button>
        <Link to={`/visits/${visit.id}/incident`} className="quiet-action">
          {words.incidents.link}
        </Link>
      </p>
    </section>
  );
}
