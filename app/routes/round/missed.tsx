import { useState } from "react";
import { Link } from "react-router";
import type { RoundData } from "../../pages/round.server";
import { Button } from "../../ui/button";
import { Field } from "../../ui/field";
import { dayText } from "../../ui/format";
import { Refused } from "../../ui/refused";
import { words } from "../../words";
import { useRoundCommand } from "./use-round-command";

type Call = RoundData["round"]["missed"][number];

/** Calls that are asked after at first: more would bury the day's own. */
const FIRST = 4;

/** Calls of the last days that nobody made: why? A reader of the log will want to know. */
export function Missed({ missed }: { missed: Call[] }) {
  const [all, showAll] = useState(false);
  if (missed.length === 0) return null;
  const shown = all ? missed : missed.slice(0, FIRST);
  return (
    <section className="sheet no-print grid gap-3 border-l-4 border-l-below p-4">
      <h2 className="text-xl font-semibold">{words.round.missed}</h2>
      <ul className="grid gap-4">
        {shown.map((call) => (
          <MissedCall key={call.basinId + call.day} call={call} />
        ))}
      </ul>
      {shown.length < missed.length ? (
        <button
          type="button"
          className="link min-h-[44px] cursor-pointer justify-self-start"
          onClick={() => showAll(true)}
        >
          {words.round.missedMore({ more: missed.length - shown.length })}
        </button>
      ) : null}
    </section>
  );
}

function MissedCall({ call }: { call: Call }) {
  const { dispatch, answer, busy } = useRoundCommand();
  const [why, setWhy] = useState("");
  return (
    <li>
      <form
        className="grid gap-2"
        onSubmit={(event) => {
          event.preventDefault();
          void dispatch("skip-call", { day: call.day, basinId: call.basinId, why });
        }}
      >
        <p>
          <Link to={`/basins/${call.basinId}`} className="link">
            {call.name}
          </Link>
          , {dayText(call.day)}
        </p>
        <Field label={words.round.skipWhy}>
          <input required maxLength={400} value={why} onChange={(event) => setWhy(event.target.value)} />
        </Field>
        <Button quiet busy={busy}>
          {words.round.missedSave}
        </Button>
        <Refused answer={answer} />
      </form>
    </li>
  );
}
