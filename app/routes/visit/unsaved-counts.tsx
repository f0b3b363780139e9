import { useFetcher } from "react-router";
import { countStep, type DoubtCode, measure, type Observation, seenInCount, unsavedCounts } from "#core";
import { countKey } from "../../device/drafts";
import { keepCount } from "../../device/seam";
import { Ask } from "../../ui/bench/doubts";
import { screenMark } from "../../ui/bench/screen";
import { useDoubts } from "../../ui/bench/use-doubts";
import { Button } from "../../ui/button";
import { withUnit } from "../../ui/format";
import { Refused, type SaveAnswer } from "../../ui/refused";
import { submitJson } from "../../ui/submit-json";
import { useUnits } from "../../ui/units";
import { useClientId } from "../../ui/use-client-id";
import { quantityName, words } from "../../words";
import { useVisit } from "./use-visit";

/** Drops that were counted and are in no reading: each is saved or dropped by a tap, and none goes unsaid. */
export function UnsavedCounts() {
  const opened = useVisit();
  return unsavedCounts(opened).map((one) => <Unsaved key={one.countId} one={one} />);
}

function Unsaved({ one }: { one: ReturnType<typeof unsavedCounts>[number] }) {
  const { visit, log, plans, beside, readings } = useVisit();
  const units = useUnits();
  const fetcher = useFetcher<SaveAnswer>();
  const { countId, kitId, method, round, state } = one;
  const id = useClientId(countId);
  const standing = [...beside, ...readings].filter((reading) => reading.round === round);
  const seen = seenInCount(state, state.sample);
  const send = (observed: Observation, confirmed: DoubtCode[]) => {
    const test = { id: id(observed), kitId, methodId: method.id, seen: observed, confirmed };
    if (fetcher.state === "idle")
      void submitJson(fetcher, { ...test, stay: true }, `/visits/${visit.id}/${method.quantity}`);
  };
  const doubts = useDoubts(method, log, standing, send);
  const drop = () => {
    const mine = countStep(state, { kind: "take-over", holder: screenMark() });
    forgetHere(visit.id, countId);
    void keepCount(visit.id, { methodId: countId, ...countStep(mine, { kind: "start-again" }) });
  };
  const isOfNow = round === plans.length;
  const said = words.visit.unsaved;
  return (
    <section className="grid gap-2 border-l-4 border-below bg-below-wash p-3 text-below">
      <p className="font-semibold">
        {said.counted({
          quantity: quantityName(method.quantity),
          drops: state.drops,
          value: withUnit(method.quantity, measure(method, seen).value, units),
        })}{" "}
        {isOfNow ? "" : said.before}
      </p>
      {doubts.asked.length > 0 ? (
        <Ask doubts={doubts.asked} quantity={method.quantity} keep={doubts.keep} back={doubts.back} />
      ) : (
        <p className="flex flex-wrap gap-2">
          {isOfNow ? (
            <Button type="button" onClick={() => doubts.save(seen)}>
              {said.save}
            </Button>
          ) : null}
          <Button type="button" quiet onClick={drop}>
            {said.drop}
          </Button>
        </p>
      )}
      <Refused answer={fetcher.data} />
    </section>
  );
}

/** The page's own copy: it would bring the drops back when the test is opened again. */
function forgetHere(visitId: string, countId: string): void {
  try {
    localStorage.removeItem(countKey(visitId, countId));
  } catch {
    // What cannot be written was not kept either.
  }
}
