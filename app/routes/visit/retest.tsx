import { Link, Navigate, useNavigate } from "react-router";
import { type Outcome, placeInRange, prospectOf, type Quantity, type Retested } from "#core";
import { Button } from "../../ui/button";
import { Countdown } from "../../ui/countdown";
import { bracketOf, plain, valueText } from "../../ui/format";
import { Refused } from "../../ui/refused";
import { Staff } from "../../ui/staff";
import { useUnits } from "../../ui/units";
import { useKeys } from "../../ui/use-keys";
import { quantityName, words } from "../../words";
import { useSend } from "./use-send";
import { useLastStops, useVisit } from "./use-visit";

/** After the wait, just what was dosed is tested again and held against the promise. */
export default function Retest() {
  const { visit, plans, progress, readings, findings, ranges, doses, now } = useVisit();
  const last = useLastStops();
  const { send, busy, answer } = useSend(`/visits/${visit.id}/plan`);
  const navigate = useNavigate();
  const plan = plans.at(-1);
  const said = words.plan;
  const [first] = progress?.toRetest ?? [];
  useKeys({ s: first ? () => navigate(`/visits/${visit.id}/${first}`) : undefined });
  if (!plan || !progress) return <Navigate to={`/visits/${visit.id}/dose`} replace />;
  const asked = [
    ...new Set(plan.content.steps.flatMap((step) => (step.kind === "retest" ? step.quantities : []))),
  ];
  // What the plan promises for each reading, by what was really given.
  const prospects = Object.fromEntries(
    asked.map((quantity) => [quantity, prospectOf(plan, doses, quantity)]),
  );
  const begun = plan.settled.some((one) => one.state === "done");
  const fresh = (quantity: Quantity) =>
    readings.find((reading) => reading.quantity === quantity && reading.round > plan.round);
  return (
    <section aria-label={said.retestTitle} className="grid gap-4">
      <h2 className="text-2xl font-bold">{said.retestTitle}</h2>
      {begun ? null : <p className="sheet p-4">{said.retestFirst}</p>}
      {progress.waitUntil && !progress.retested ? (
        <p className="font-medium">
          <Countdown until={progress.waitUntil} now={now} says={said.waitLeft} over={said.waitOver} />
        </p>
      ) : null}
      <div className="sheet flex flex-wrap items-start justify-around gap-x-1 gap-y-4 p-4">
        {asked.map((quantity) => {
          const prospect = prospects[quantity] ?? null;
          const reading = fresh(quantity) ?? null;
          return (
            <div key={quantity} className="grid justify-items-center gap-2">
              <Staff
                quantity={quantity}
                measured={reading}
                range={ranges[quantity]}
                ghost={prospect?.before}
                target={
                  prospect ? { value: prospect.promised, low: prospect.low, high: prospect.high } : undefined
                }
                place={reading ? placeInRange(reading, ranges[quantity]) : "within"}
              />
              <Link
                to={`/visits/${visit.id}/${quantity}`}
                className={progress.toRetest.includes(quantity) ? "action" : "quiet-action"}
              >
                {said.retestOf({ name: quantityName(quantity) })}
              </Link>
            </div>
          );
        })}
      </div>
      <Outcomes asked={asked} outcomes={plan.outcomes} prospects={prospects} />
      {progress.retested && progress.dosed ? (
        <>
          <p className="text-lg">{said.retestDone}</p>
          <Refused answer={answer} />
          <p className="flex flex-wrap gap-3">
            {findings.length > 0 ? (
              <Button
                type="button"
                busy={busy}
                onClick={() => send({ stop: "", planId: plan.id, retested: true })}
              >
                {said.again}
              </Button>
            ) : null}
            <Link
              to={`/visits/${visit.id}/${last.to}`}
              className={findings.length > 0 ? "quiet-action" : "action"}
            >
              {last.text}
            </Link>
          </p>
        </>
      ) : (
        <Link
          to={`/visits/${visit.id}/dose`}
          className={`justify-self-start ${begun && !first ? "action" : "quiet-action"}`}
        >
          {begun && !first ? said.goOn : said.underWay}
        </Link>
      )}
    </section>
  );
}

/** Promised against measured, reading by reading. */
function Outcomes({
  asked,
  outcomes,
  prospects,
}: {
  asked: Retested[];
  outcomes: (Outcome & { quantity: Quantity })[];
  prospects: Record<string, { before: number; promised: number; low: number; high: number } | null>;
}) {
  const units = useUnits();
  const said = words.plan;
  const shown = asked.filter((quantity) => prospects[quantity]);
  if (shown.length === 0) return null;
  const why = [...new Set(outcomes.map((one) => said.verdictWhy[one.verdict]).filter((text) => text !== ""))];
  return (
    <section className="sheet grid gap-2 p-4">
      {/* biome-ignore lint/a11y/noNoninteractiveTabindex: a table that scrolls sideways is reached by keyboard */}
      <div className="relative overflow-x-auto" tabIndex={0}>
        <table className="w-full text-left">
          <thead className="text-soft">
            <tr>
              {[words.visit.test, said.beforeIt, said.promised, said.measured, said.ratio].map((title) => (
                <th key={title} className="pr-4 font-medium">
                  {title}
                </th>
              ))}
            </tr>
          </thead>
          <tbody className="divide-y divide-rule">
            {shown.map((quantity) => {
              const outcome = outcomes.find((one) => one.quantity === quantity);
              const prospect = outcome ?? prospects[quantity];
              if (!prospect) return null;
              const text = (value: number) =>
                valueText(quantity, Number(value.toPrecision(quantity === "ph" ? 3 : 2)), units);
              return (
                <tr key={quantity}>
                  <td className="py-1.5 pr-4">{quantityName(quantity)}</td>
                  <td className="pr-4">{text(prospect.before)}</td>
                  <td className="pr-4 whitespace-nowrap">
                    {text(prospect.promised)} <span className="text-soft">({bracketOf(prospect, text)})</span>
                  </td>
                  <td className="pr-4 font-semibold">
                    {outcome ? valueText(quantity, outcome.measured, units) : ""}
                  </td>
                  <td
                    className={outcome && outcome.verdict !== "as-promised" ? "font-semibold text-below" : ""}
                  >
                    {outcome
                      ? `${said.verdict[outcome.verdict]}, ${outcome.ratio === null ? said.noRatio : `${plain(outcome.ratio * 100, 0)} %`}`
                      : ""}
                  </td>
                </tr>
              );
            })}
          </tbody>
        </table>
      </div>
      {why.map((text) => (
        <p key={text} className="max-w-prose">
          {text}
        </p>
      ))}
    </section>
  );
}
