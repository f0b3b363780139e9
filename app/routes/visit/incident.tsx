import { Phone } from "lucide-react";
import { useState } from "react";
import { emergencyNumbers, HURTS, INCIDENT_KINDS, INCIDENTS, type Incident, type IncidentKind } from "#core";
import { onServer } from "../../device/action.server";
import { incidentCommand } from "../../device/page-command";
import { onDevice } from "../../device/seam";
import { BathingBanner } from "../../ui/bathing-banner";
import { Button } from "../../ui/button";
import { dateTimeText } from "../../ui/format";
import { Pictogram } from "../../ui/pictogram";
import { Refused } from "../../ui/refused";
import { useFirm } from "../../ui/use-firm";
import { words } from "../../words";
import { useSend } from "./use-send";
import { useVisit } from "./use-visit";

export const action = onServer(incidentCommand);

export const clientAction = onDevice(incidentCommand);

/** Something happened here: what to do first, then that it stands in the log and closes the basin. */
export default function IncidentPage() {
  const { incidents, bathing, basin } = useVisit();
  const [kind, setKind] = useState<IncidentKind | null>(null);
  const { timeZone } = useFirm();
  const numbers = emergencyNumbers(timeZone);
  const said = words.incidents;
  const hurts: readonly IncidentKind[] = HURTS;
  const open = incidents.filter(({ over }) => over === null);
  const over = incidents.filter((incident) => incident.over !== null);
  return (
    <section aria-label={said.title} className="grid max-w-3xl gap-4">
      <h2 className="text-2xl font-bold">{said.title}</h2>
      <div className="grid grid-cols-[1fr_auto] items-center gap-x-3 gap-y-2 text-lg font-semibold wide:max-w-xl">
        <span>{said.emergency}</span>
        <Ring number={numbers.emergency} />
        {numbers.poison ? (
          <>
            <span>{said.poison}</span>
            <Ring number={numbers.poison} />
          </>
        ) : null}
      </div>
      {open.map((incident) => (
        <OpenIncident key={incident.id} incident={incident} />
      ))}
      {open.length > 0 ? <BathingBanner bathing={bathing} basin={basin} /> : null}
      {kind === null ? (
        <>
          <p className="text-soft">{said.hint}</p>
          <Kinds title={said.hurt} kinds={HURTS} pick={setKind} />
          <Kinds
            title={said.water}
            kinds={INCIDENT_KINDS.filter((one) => !hurts.includes(one))}
            pick={setKind}
          />
        </>
      ) : (
        <Report kind={kind} done={() => setKind(null)} />
      )}
      {over.length > 0 ? (
        <ul className="sheet divide-y divide-rule">
          {over.map((incident) => (
            <li key={incident.id} className="p-3">
              <b>{words.incidentTexts[incident.kind].name}</b> <Over incident={incident} />
            </li>
          ))}
        </ul>
      ) : null}
      <p className="text-soft">{said.local}</p>
    </section>
  );
}

const Ring = ({ number }: { number: string }) => (
  <a href={`tel:${number.replace(/\s/g, "")}`} className="action">
    <Phone size={22} aria-hidden="true" /> {number}
  </a>
);

function Kinds({
  title,
  kinds,
  pick,
}: {
  title: string;
  kinds: readonly IncidentKind[];
  pick: (kind: IncidentKind) => void;
}) {
  return (
    <fieldset>
      <legend className="mb-1 font-semibold">{title}</legend>
      <div className="flex flex-wrap gap-2">
        {kinds.map((kind) => (
          <button key={kind} type="button" className="quiet-action min-h-[52px]" onClick={() => pick(kind)}>
            {words.incidentTexts[kind].name}
          </button>
        ))}
      </div>
    </fieldset>
  );
}

/** What to do comes before what to write. */
function Report({ kind, done }: { kind: IncidentKind; done: () => void }) {
  const { visit } = useVisit();
  const { send, busy, answer } = useSend(`/visits/${visit.id}/incident`);
  const [note, setNote] = useState("");
  const said = words.incidents;
  if (answer?.saved) return <Reported done={done} />;
  return (
    <div className="sheet grid gap-3 p-4">
      <h3 className="text-xl font-bold">{words.incidentTexts[kind].name}</h3>
      <Steps kind={kind} />
      <label className="grid gap-1 font-medium">
        {said.note}
        <textarea rows={2} maxLength={1000} value={note} onChange={(event) => setNote(event.target.value)} />
      </label>
      <Refused answer={answer} />
      <p className="flex flex-wrap gap-3">
        <Button type="button" className="next-step" busy={busy} onClick={() => send({ kind, note })}>
          {said.report}
        </Button>
        <Button type="button" quiet onClick={done}>
          {words.incidents.back}
        </Button>
      </p>
    </div>
  );
}

/** The list above shows it now; the choice is closed with the next tap of anything. */
function Reported({ done }: { done: () => void }) {
  return (
    <Button type="button" quiet className="justify-self-start" onClick={done}>
      {words.incidents.another}
    </Button>
  );
}

const Steps = ({ kind }: { kind: IncidentKind }) => (
  <div className="grid gap-2">
    <p className="flex items-center gap-2 font-semibold text-above">
      <Pictogram name="keep-out" /> {words.incidents.todo}
    </p>
    <ol className="grid list-inside list-decimal gap-1.5 text-lg">
      {words.incidentTexts[kind].steps.map((step) => (
        <li key={step}>{step}</li>
      ))}
    </ol>
  </div>
);

function OpenIncident({ incident }: { incident: Incident }) {
  const { visit } = useVisit();
  const { timeZone } = useFirm();
  const { send, busy, answer } = useSend(`/visits/${visit.id}/incident`);
  const [who, setWho] = useState("");
  const said = words.incidents;
  const isOthers = INCIDENTS[incident.kind].decides !== "technician";
  return (
    <div className="grid gap-3 border-l-4 border-above bg-sheet p-4">
      <h3 className="text-xl font-bold text-above">{words.incidentTexts[incident.kind].name}</h3>
      <p className="text-soft">
        {said.reported({ by: incident.by, when: dateTimeText(incident.at, timeZone) })}
        {incident.note ? `: ${incident.note}` : ""}
      </p>
      <Steps kind={incident.kind} />
      <p>
        <b>{said.overTitle}:</b> {words.incidentTexts[incident.kind].over} {said.thenTest}
      </p>
      {isOthers ? (
        <label className="grid gap-1 font-medium">
          {said.who}
          <input maxLength={120} value={who} onChange={(event) => setWho(event.target.value)} />
        </label>
      ) : null}
      <Refused answer={answer} />
      <Button
        type="button"
        quiet
        busy={busy}
        className="justify-self-start"
        onClick={() => send({ incidentId: incident.id, who })}
      >
        {said.over}
      </Button>
    </div>
  );
}

function Over({ incident: { over } }: { incident: Incident }) {
  const { timeZone } = useFirm();
  return over ? (
    <span className="text-soft">
      {words.incidents.isOver({ by: over.by, when: dateTimeText(over.at, timeZone), who: over.who })}
    </span>
  ) : null;
}
