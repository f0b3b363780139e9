import { type FormEvent, useState } from "react";
import { isScale, type Method, type Observation, type VisitReading } from "#core";
import { Button } from "../../ui/button";
import { dateTimeText, withUnit } from "../../ui/format";
import { typedNumber, typedOrNull } from "../../ui/number-text";
import { Refused } from "../../ui/refused";
import { useFirm } from "../../ui/use-firm";
import { words } from "../../words";
import { useSend } from "./use-send";
import { useVisit } from "./use-visit";

/** A reading of a finished visit put right: what was seen, and why it was wrong. */
export function Correction({ reading }: { reading: VisitReading }) {
  const { visit, kit, otherKits, trail } = useVisit();
  const { units, timeZone } = useFirm();
  const method = [kit, ...otherKits.map((other) => other.kit)]
    .flatMap((one) => one.methods)
    .find((one) => one.id === reading.methodId);
  const before = trail.filter(
    (one) =>
      one.quantity === reading.quantity && one.round === reading.round && one.methodId === reading.methodId,
  );
  const said = words.book;
  return (
    <>
      {before.map((one) => (
        <span key={one.id} className="block text-sm text-soft">
          {said.was({
            value: withUnit(one.quantity, one.value, units),
            by: one.correctedBy,
            when: dateTimeText(one.supersededAt, timeZone),
            why: one.why,
          })}
        </span>
      ))}
      {method?.quantity === reading.quantity ? (
        <details className="no-print">
          <summary className="inline-flex min-h-[36px] cursor-pointer items-center text-sm text-soft underline decoration-dotted underline-offset-4">
            {said.correct}
          </summary>
          <CorrectionForm key={reading.id} visitId={visit.id} reading={reading} method={method} />
        </details>
      ) : null}
    </>
  );
}

function CorrectionForm({
  visitId,
  reading,
  method,
}: {
  visitId: string;
  reading: VisitReading;
  method: Method;
}) {
  const { observation } = reading;
  const { send, busy, answer } = useSend(`/visits/${visitId}/correct`);
  const [first, setFirst] = useState(() => firstOf(observation));
  const [second, setSecond] = useState(() =>
    observation.kind === "place" ? (observation.place.to?.toString() ?? "") : "",
  );
  const [why, setWhy] = useState("");
  const said = words.book;
  const submit = (event: FormEvent) => {
    event.preventDefault();
    send({ readingId: reading.id, seen: seenFrom(observation, first, second), why });
  };
  return (
    <form onSubmit={submit} className="flex flex-wrap items-end gap-3 py-2" noValidate>
      <label className="grid gap-1 text-sm text-soft">
        {observation.kind === "drops"
          ? said.drops
          : observation.kind === "place"
            ? said.placeFrom
            : words.visit.value}
        <input
          inputMode="decimal"
          className="w-28"
          value={first}
          onChange={(event) => setFirst(event.target.value)}
        />
      </label>
      {observation.kind === "place" && isScale(method) ? (
        <label className="grid gap-1 text-sm text-soft">
          {said.placeTo}
          <input
            inputMode="decimal"
            className="w-28"
            value={second}
            onChange={(event) => setSecond(event.target.value)}
          />
        </label>
      ) : null}
      <label className="grid min-w-0 grow gap-1 text-sm text-soft">
        {said.why}
        <input value={why} maxLength={400} onChange={(event) => setWhy(event.target.value)} />
      </label>
      <Button quiet busy={busy}>
        {said.correctGo}
      </Button>
      <div className="w-full">
        <Refused answer={answer} />
      </div>
    </form>
  );
}

const firstOf = (seen: Observation): string =>
  seen.kind === "drops"
    ? String(seen.count)
    : seen.kind === "place"
      ? (seen.place.from?.toString() ?? "")
      : String(seen.value);

/** What was seen, put right; the sample and everything else stay. */
function seenFrom(seen: Observation, first: string, second: string): Observation {
  switch (seen.kind) {
    case "drops":
      return { ...seen, count: typedNumber(first) };
    case "place":
      return { kind: "place", place: { from: typedOrNull(first), to: typedOrNull(second) } };
    case "number":
      return { ...seen, value: typedNumber(first) };
  }
}
