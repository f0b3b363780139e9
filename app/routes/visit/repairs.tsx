import { Check } from "lucide-react";
import { useState } from "react";
import type { VisitDefect } from "#core";
import { Button } from "../../ui/button";
import { dateText } from "../../ui/format";
import { Refused } from "../../ui/refused";
import { useFirm, useMoney } from "../../ui/use-firm";
import { words } from "../../words";
import { useSend } from "./use-send";
import { useVisit } from "./use-visit";

/** What is broken here: asked for at every visit until it is mended, and what was seen today. */
export function Repairs() {
  const { visit, defects } = useVisit();
  const { send, busy, answer } = useSend(`/visits/${visit.id}/defects`);
  const said = words.repairs;
  return (
    <section className="grid gap-3" aria-label={said.title}>
      <h3 className="text-xl font-semibold">{said.title}</h3>
      {defects.length > 0 ? (
        <ul className="sheet divide-y divide-rule">
          {defects.map((defect) => (
            <Item
              key={defect.id}
              defect={defect}
              busy={busy}
              mend={() => send({ defectId: defect.id, mended: !defect.mended })}
            />
          ))}
        </ul>
      ) : null}
      <Refused answer={answer} />
      <Add />
    </section>
  );
}

function Item({ defect, busy, mend }: { defect: VisitDefect; busy: boolean; mend: () => void }) {
  const { timeZone } = useFirm();
  const money = useMoney();
  const { title, at, quote, mended, visitId, photoId } = defect;
  const said = words.repairs;
  const state = quote
    ? quote.approvedBy
      ? said.approved({ amount: money(quote.amount), name: quote.approvedBy })
      : said.quoted({ amount: money(quote.amount) })
    : said.seen({ day: dateText(at, timeZone) });
  return (
    <li className="flex items-center gap-3 p-2 pl-3">
      {photoId ? (
        <a href={`/visits/${visitId}/photos/${photoId}`} target="_blank" rel="noreferrer">
          <img
            src={`/visits/${visitId}/photos/${photoId}`}
            alt={said.photoOf({ title })}
            className="h-14 w-14 rounded-sm border border-rule object-cover"
          />
        </a>
      ) : null}
      <span className="min-w-0 grow">
        <span className={`block text-lg font-semibold ${mended ? "text-soft" : ""}`}>{title}</span>
        <span className="block text-sm text-soft">{state}</span>
      </span>
      <button
        type="button"
        className={`${mended ? "action" : "quiet-action"} min-h-[52px] min-w-24 justify-center px-3`}
        aria-pressed={mended}
        aria-label={said.mendedOf({ title })}
        disabled={busy}
        onClick={mend}
      >
        {mended ? <Check size={20} aria-hidden="true" /> : null} {said.mended}
      </button>
    </li>
  );
}

/** Something else that is broken, with a photo of this visit where one shows it. */
function Add() {
  const { visit, photos } = useVisit();
  const { send, busy, answer } = useSend(`/visits/${visit.id}/defects`);
  const [title, setTitle] = useState("");
  const [photoId, setPhotoId] = useState<string | null>(null);
  const said = words.repairs;
  return (
    <form
      className="grid gap-2"
      onSubmit={(event) => {
        event.preventDefault();
        send({ title, photoId });
        setTitle("");
        setPhotoId(null);
      }}
    >
      <div className="flex flex-wrap items-center gap-2">
        <input
          aria-label={said.what}
          placeholder={said.what}
          maxLength={200}
          value={title}
          onChange={(event) => setTitle(event.target.value)}
          className="min-w-40 grow"
        />
        <Button quiet busy={busy} disabled={title.trim() === ""}>
          {said.add}
        </Button>
      </div>
      {title.trim() !== "" && photos.length > 0 ? (
        <fieldset className="flex flex-wrap items-center gap-2">
          <legend className="text-sm text-soft">{said.whichPhoto}</legend>
          {photos.map(({ id }, index) => (
            <button
              key={id}
              type="button"
              className={`rounded-sm border-2 ${photoId === id ? "border-action" : "border-transparent"}`}
              aria-pressed={photoId === id}
              aria-label={said.photoNumber({ number: index + 1 })}
              onClick={() => setPhotoId(photoId === id ? null : id)}
            >
              <img
                src={`/visits/${visit.id}/photos/${id}`}
                alt=""
                className="h-14 w-14 rounded-sm object-cover"
              />
            </button>
          ))}
        </fieldset>
      ) : null}
      <Refused answer={answer} />
    </form>
  );
}
