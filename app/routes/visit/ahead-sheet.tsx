import { millisecondsInMinute } from "date-fns/constants";
import { useState } from "react";
import {
  contentOfHorizon,
  dayIn,
  type HorizonPlan,
  type HorizonProblem,
  MINUTES_LIMITS,
  minutesAt,
  type PlanStep,
  placeInRange,
  type Reason,
  rangesOf,
} from "#core";
import { Button } from "../../ui/button";
import { FanChart } from "../../ui/charts/fan-chart";
import { AmountFigure } from "../../ui/figures";
import { dayText, timeText, toldLimit, unitText, valueText, withUnit } from "../../ui/format";
import { typedNumber } from "../../ui/number-text";
import { Refused } from "../../ui/refused";
import { useUnits } from "../../ui/units";
import { useClientId } from "../../ui/use-client-id";
import { useFirm, useMoney } from "../../ui/use-firm";
import { useStored } from "../../ui/use-stored";
import { quantityName, words } from "../../words";
import type { PlanAhead } from "../../workers/planner.worker";
import { CallsAhead, LeaveList, Left, OtherWays, Projects, TableWay } from "./ahead-parts";
import { Labelled } from "./labelled";
import { rounded } from "./rounded";
import { measuredBy, StepDetail } from "./step-text";
import { usePlans } from "./use-plans";
import { useSend } from "./use-send";
import { useVisit } from "./use-visit";

const isMinutes = (value: unknown): value is number => typeof value === "number";

/** Cautions that hold for every pour are said once, and not again at each. */
const EVERYWHERE: readonly string[] = ["goggles-gloves", "nobody-in", "pump-on", "label-outranks"];

/** The plan over the next calls, from the hand's side: what to pour comes first. */
export function AheadSheet({ pose }: { pose: (minutes: number) => HorizonProblem | null }) {
  const opened = useVisit();
  const { visit } = opened;
  const [minutes, setMinutes] = useStored(`pelagon.minutes ${visit.id}`, minutesAt(opened), isMinutes);
  const problem = pose(minutes);
  if (!problem) return null;
  return <Posed problem={problem} minutes={minutes} setMinutes={setMinutes} />;
}

interface PosedProps {
  problem: HorizonProblem;
  minutes: number;
  setMinutes: (minutes: number) => void;
}

function Posed({ problem, minutes, setMinutes }: PosedProps) {
  const { visit } = useVisit();
  const { ahead, byServer, failed } = usePlans(problem, visit.id);
  const [taken, take] = useState<HorizonPlan | null>(null);
  const said = words.plan;
  if (failed) return <p className="sheet p-4 text-below">{words.visit.offline}</p>;
  if (!ahead)
    return (
      <p className="sheet p-4 text-soft" role="status">
        {said.working}
      </p>
    );
  const plan = taken ?? ahead.plan;
  return (
    <>
      {byServer ? <p className="text-sm text-soft">{said.fromServer}</p> : null}
      <Now problem={problem} plan={plan} minutes={minutes} setMinutes={setMinutes} />
      <Labelled minutesLeft={minutes - plan.minutes} />
      <LeaveList plan={plan} problem={problem} />
      <Left plan={plan} problem={problem} />
      <Until ahead={ahead} problem={problem} />
      <CallsAhead plan={plan} problem={problem} />
      <Projects plan={plan} />
      <OtherWays problem={problem} chosen={plan} take={take} />
      <TableWay plan={plan} problem={problem} />
    </>
  );
}

/** What is poured, one card a pour, and the clock of it all. */
function Now({ problem, plan, minutes, setMinutes }: PosedProps & { plan: HorizonPlan }) {
  const { visit, now, firm } = useVisit();
  const money = useMoney();
  const id = useClientId(plan.name);
  const { send, busy, answer } = useSend(`/visits/${visit.id}/plan`);
  const said = words.ahead;
  const steps = plan.now.steps.filter((step) => step.kind === "dose");
  const at = (after: number) =>
    timeText(new Date(now.getTime() + after * millisecondsInMinute), firm.timeZone);
  const [first, ...rest] = steps;
  if (!first) return <p className="sheet p-4">{plan.open.length === 0 ? said.nothing : said.nothingToday}</p>;
  const card = (step: Extract<PlanStep, { kind: "dose" }>, index: number) => (
    <PourCard
      step={step}
      begins={plan.pours[index]?.begins ?? 0}
      reason={plan.reasons.find(({ product }) => product === step.product)}
    />
  );
  return (
    <section className="grid gap-3" aria-label={said.pour}>
      <div className="sheet grid gap-3 p-4">
        {card(first, 0)}
        <Refused answer={answer} />
        <Button
          type="button"
          className="next-step justify-self-start"
          busy={busy}
          onClick={() =>
            send({
              id: id(),
              origin: "alternative",
              name: plan.name,
              content: contentOfHorizon(problem, plan),
            })
          }
        >
          {words.plan.begin}
        </Button>
      </div>
      {rest.map((step, index) => (
        // biome-ignore lint/suspicious/noArrayIndexKey: the order of the pours is what they are
        <div key={index} className="sheet grid gap-2 p-4">
          {card(step, index + 1)}
        </div>
      ))}
      <p className="flex flex-wrap items-center gap-x-4 gap-y-2">
        <b>{said.clock({ minutes: Math.round(plan.minutes), from: at(0), to: at(plan.minutes) })}</b>
        <span>{said.cost({ now: money(plan.cost.now), later: money(plan.cost.ahead) })}.</span>
        <MinutesHere minutes={minutes} setMinutes={setMinutes} />
      </p>
      <p className="max-w-prose text-soft">{said.cautions}</p>
    </section>
  );
}

/**
 * Minutes are taken when the field is left: a plan is not worked out for a number half typed. What is none is named
 * and stays as typed, and the plan stays with the minutes before it.
 */
function MinutesHere({ minutes, setMinutes }: Pick<PosedProps, "minutes" | "setMinutes">) {
  const [typed, type] = useState<string | null>(null);
  const [wrong, refuse] = useState<string | null>(null);
  const said = words.ahead;
  const { low, high } = MINUTES_LIMITS;
  const leave = () => {
    if (typed === null) return;
    const value = typedNumber(typed);
    const isGood = Number.isInteger(value) && value >= low && value <= high;
    refuse(isGood ? null : typed);
    if (isGood) setMinutes(value);
  };
  return (
    <>
      <label className="flex items-center gap-2 text-sm text-soft">
        {said.minutes}
        <input
          inputMode="numeric"
          autoComplete="off"
          className="w-20"
          value={typed ?? String(minutes)}
          onChange={(event) => type(event.target.value)}
          onBlur={leave}
          onKeyDown={(event) => event.key === "Enter" && leave()}
        />
      </label>
      {wrong === null ? null : (
        <span role="alert" className="text-above">
          {said.badMinutes({ typed: wrong, low, high })}
        </span>
      )}
    </>
  );
}

interface PourProps {
  step: Extract<PlanStep, { kind: "dose" }>;
  begins: number;
  reason: Reason | undefined;
}

/** One pour: how much of what, big; when, how, what for, and what is to be minded just here. */
function PourCard({ step, begins, reason }: PourProps) {
  const { products } = useVisit();
  const units = useUnits();
  const said = words.ahead;
  const { product, form } = measuredBy(step, products, units);
  const own = { ...step, cautions: step.cautions.filter((code) => !EVERYWHERE.includes(code)) };
  return (
    <>
      <p className="text-sm font-medium text-soft">
        {begins === 0 ? said.first : said.then({ minutes: Math.round(begins) })}
      </p>
      <p className="text-3xl font-bold">
        <AmountFigure grams={step.grams} form={form} />{" "}
        <span className="text-xl font-medium">{product?.name ?? step.compound}</span>
      </p>
      {reason ? <Why reason={reason} /> : null}
      <StepDetail step={own} products={products} />
    </>
  );
}

function Why({ reason: { quantity, from, to, without, limit } }: { reason: Reason }) {
  const units = useUnits();
  const said = words.ahead;
  const text = (value: number) => valueText(quantity, rounded(quantity, value), units);
  const isRaised = from < to;
  const place =
    without === null || limit === null
      ? null
      : placeInRange({ value: without, bound: "within" }, isRaised ? { low: limit } : { high: limit });
  const passed = limit !== null && place !== "within" ? text(toldLimit(quantity, limit)) : null;
  return (
    <p>
      {said.why({
        name: quantityName(quantity),
        from: text(from),
        to: withUnit(quantity, rounded(quantity, to), units),
      })}
      {without === null || passed === null
        ? ""
        : `; ${said.without({ value: text(without), limit: passed, isUnder: isRaised })}`}
      .
    </p>
  );
}

/** What the water will do until the next call, with today's pours and without them. */
function Until({ ahead: { fan }, problem }: { ahead: PlanAhead; problem: HorizonProblem }) {
  const { timeZone } = useFirm();
  const units = useUnits();
  const said = words.ahead;
  const { set, surface, input } = problem.still;
  const ranges = rangesOf(set, surface, input.water);
  const shown = (["freeChlorine", "ph", "totalAlkalinity"] as const).filter(
    (quantity) => input.goals[quantity].known,
  );
  return (
    <section className="sheet grid gap-2 p-4" aria-label={said.until}>
      <h3 className="text-lg font-semibold">
        {said.until}
        {problem.calls[0] === undefined ? "" : `, ${dayText(dayIn(new Date(problem.calls[0]), timeZone))}`}
      </h3>
      <div className="grid gap-4 wide:grid-cols-3">
        {shown.map((quantity) => (
          <FanChart
            key={quantity}
            title={quantityName(quantity)}
            unit={unitText(quantity, units)}
            at={fan.at}
            given={fan.with[quantity]}
            left={fan.without[quantity]}
            range={{ low: ranges[quantity]?.low, high: ranges[quantity]?.high }}
            digits={quantity === "totalAlkalinity" ? 0 : 1}
            timeZone={timeZone}
            names={{ given: said.withIt, left: said.withoutIt }}
          />
        ))}
      </div>
      <p className="text-sm text-soft">{said.untilHint}</p>
    </section>
  );
}
