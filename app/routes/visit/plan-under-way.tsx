import { millisecondsInHour } from "date-fns/constants";
import { Check, SkipForward } from "lucide-react";
import { type FormEvent, useEffect, useRef, useState } from "react";
import { Link } from "react-router";
import { everydayAmount, type PlanStep, type VisitDose, type VisitPlan } from "#core";
import { Button } from "../../ui/button";
import { Countdown, useSecondsLeft } from "../../ui/countdown";
import { ago, amountText, timeText } from "../../ui/format";
import { fieldText, typedNumber } from "../../ui/number-text";
import { Refused } from "../../ui/refused";
import { useUnits } from "../../ui/units";
import { useClientId } from "../../ui/use-client-id";
import { useFirm } from "../../ui/use-firm";
import { useKeys } from "../../ui/use-keys";
import { useMet } from "../../ui/use-met";
import { isTwoNumbers, WhichNumber } from "../../ui/which-number";
import { waitAfter, words } from "../../words";
import { useLeaveText } from "./ahead-parts";
import { GasWait, useGasWait } from "./gas-wait";
import { Missed } from "./plan-sheet";
import { measuredBy, StepDetail, StepHead } from "./step-text";
import { useSend } from "./use-send";
import { useLastStops, useVisit } from "./use-visit";

/** The water of half a day ago is another water. */
const OLD_HOURS = 12;

/** Leads through a plan that was begun, one step at a time; nothing of it is lost by leaving. */
export function PlanUnderWay({ plan }: { plan: VisitPlan }) {
  const { progress, doses, now } = useVisit();
  const [opened, open] = useState<number | null>(null);
  const list = useRef<HTMLOListElement>(null);
  const next = progress?.next ?? null;
  const shown = useRef(next);
  useEffect(() => {
    // The step that follows comes to where the thumb is; the first one is there already.
    if (next !== null && next !== shown.current)
      list.current?.children[next]?.scrollIntoView({ block: "nearest" });
    shown.current = next;
  }, [next]);
  const said = words.plan;
  if (!progress) return null;
  const { steps } = plan.content;
  const current = opened ?? progress.next;
  const last = plan.settled.reduce((latest, one) => (one.at > latest ? one.at : latest), plan.begunAt);
  const isOld = now.getTime() - last.getTime() > OLD_HOURS * millisecondsInHour;
  const title =
    plan.origin === "recipe"
      ? words.recipes.names[plan.name as keyof typeof words.recipes.names]
      : plan.origin === "what-if"
        ? words.whatIf.title
        : (words.ahead.names[plan.name as keyof typeof words.ahead.names] ??
          said.names[plan.name as keyof typeof said.names]);
  return (
    <>
      <p className="text-soft">
        {said.underWay}: <b className="text-ink">{title}</b>
        {progress.next === null ? "" : ` · ${said.step({ number: progress.next + 1, of: steps.length })}`}
      </p>
      {isOld && plan.settled.length > 0 ? (
        <p role="status" className="border-l-4 border-below bg-below-wash p-3 text-below">
          {said.old({ age: ago(last, now) })}
        </p>
      ) : null}
      {plan.content.missed.map((miss) => (
        <Missed key={miss.quantity} miss={miss} />
      ))}
      <ol ref={list} className="grid gap-3">
        {steps.map((step, position) => (
          <PlanStepRow
            // biome-ignore lint/suspicious/noArrayIndexKey: a step is known by its place in the plan
            key={position}
            plan={plan}
            step={step}
            position={position}
            open={position === current}
            show={() => open(position === opened ? null : position)}
            done={() => open(null)}
            dose={doses.find((one) => one.code === `plan.${plan.id}.${position}`)}
          />
        ))}
      </ol>
      {progress.dosed ? <Onward plan={plan} /> : null}
      {plan.content.ahead ? <ToLeave plan={plan} /> : null}
      <Stop plan={plan} />
    </>
  );
}

/** Where it goes when all is poured: to the retest, or where nobody will be there to make it to the close. */
function Onward({ plan }: { plan: VisitPlan }) {
  const { visit } = useVisit();
  const last = useLastStops();
  const isTested = plan.content.steps.some((step) => step.kind === "retest");
  return (
    <p className="flex flex-wrap gap-3">
      <Link
        to={`/visits/${visit.id}/${isTested ? "retest" : last.to}`}
        className="action next-step justify-self-start"
      >
        {isTested ? words.plan.toRetest : last.text} <kbd className="key">S</kbd>
      </Link>
      {isTested ? null : (
        <Link to={`/visits/${visit.id}/retest`} className="quiet-action">
          {words.plan.toRetest}
        </Link>
      )}
    </p>
  );
}

/** What is set before leaving, beside the pours. */
function ToLeave({ plan: { content } }: { plan: VisitPlan }) {
  const { basin } = useVisit();
  const text = useLeaveText();
  const leave = content.ahead?.leave ?? [];
  if (leave.length === 0) return null;
  return (
    <section className="sheet grid gap-1 p-4" aria-label={words.ahead.leave}>
      <h3 className="text-lg font-semibold">{words.ahead.leave}</h3>
      <ul className="list-inside list-disc">
        {leave.map((one) => (
          <li key={one.code}>{text(one, content.basis.litres, basin.equipment.feeder ?? undefined)}</li>
        ))}
      </ul>
    </section>
  );
}

interface RowProps {
  plan: VisitPlan;
  step: PlanStep;
  position: number;
  open: boolean;
  show: () => void;
  done: () => void;
  dose: VisitDose | undefined;
}

function PlanStepRow({ plan, step, position, open, show, done, dose }: RowProps) {
  const { progress, products, now } = useVisit();
  const { timeZone } = useFirm();
  const units = useUnits();
  const said = words.plan;
  const state = progress?.states[position] ?? "open";
  const settled = plan.settled.find((one) => one.position === position);
  const isNext = progress?.next === position;
  // In the parts in which it was asked for.
  const given =
    step.kind === "dose" && dose && dose.givenGrams > 0
      ? amountText(everydayAmount(dose.givenGrams, measuredBy(step, products, units).form, units))
      : null;
  return (
    <li className={`sheet p-4 ${isNext ? "border-ink" : ""}`} aria-current={isNext ? "step" : undefined}>
      <button
        type="button"
        className="flex w-full cursor-pointer items-baseline gap-3 text-left text-xl"
        aria-expanded={open}
        onClick={show}
      >
        <span className="w-6 shrink-0 font-bold">
          {state === "done" ? <Check size={20} aria-label={said.done} /> : null}
          {state === "skipped" ? <SkipForward size={18} aria-hidden="true" /> : null}
          {state === "open" ? position + 1 : null}
        </span>
        <span className={state === "open" ? "" : "text-soft"}>
          <StepHead step={step} products={products} />
          {settled ? (
            <span className="block text-base text-soft">
              {state === "skipped"
                ? said.skipped({ why: settled.why })
                : `${given ? `${said.given} ${given}` : said.done} ${said.at({ time: timeText(settled.at, timeZone) })}`}
            </span>
          ) : null}
        </span>
      </button>
      {open ? (
        <div className="mt-2 grid gap-2 pl-9">
          {isNext ? <Waiting step={step} /> : null}
          <StepDetail step={step} products={products} isAsked />
          {step.kind === "retest" ? (
            <RetestStep plan={plan} position={position} done={done} />
          ) : (
            <Settle plan={plan} step={step} position={position} dose={dose} done={done} />
          )}
          {step.waitMinutes > 0 ? <p className="text-soft">{waitAfter(step.waitMinutes)}</p> : null}
        </div>
      ) : null}
      {state === "done" && progress?.waitUntil && lastSettled(plan) === position ? (
        <p className="mt-2 pl-9 font-medium">
          <Countdown until={progress.waitUntil} now={now} says={said.waitLeft} over={said.waitOver} />
        </p>
      ) : null}
    </li>
  );
}

const lastSettled = (plan: VisitPlan): number =>
  Math.max(-1, ...plan.settled.filter((one) => one.state === "done").map((one) => one.position));

function Waiting({ step }: { step: PlanStep }) {
  const { progress, now } = useVisit();
  const said = words.plan;
  const gas = useGasWait(step.kind === "dose" ? step.compound : null);
  const left = useSecondsLeft(progress?.waitUntil ?? null, now);
  if (gas > 0) return <GasWait left={gas} />;
  return left > 0 ? <p className="text-soft">{said.goOnAnyway}</p> : null;
}

function Settle({
  plan,
  step,
  position,
  dose,
  done,
}: Pick<RowProps, "plan" | "step" | "position" | "dose" | "done">) {
  const { visit, products, progress } = useVisit();
  const units = useUnits();
  const { send, busy, answer } = useSend(`/visits/${visit.id}/plan`);
  const id = useClientId(dose?.id);
  const said = words.plan;
  const measured = step.kind === "dose" ? measuredBy(step, products, units) : null;
  const density = measured?.form.density ?? null;
  const planned = step.kind === "dose" && measured ? measured.unit.fromGrams(step.grams, density) : 0;
  const [text, setText] = useState(fieldText(planned, 2));
  const gas = useGasWait(step.kind === "dose" ? step.compound : null);
  const { meet } = useMet(step.kind === "dose" ? step.compound : null);
  const state = progress?.states[position] ?? "open";
  const settle = (to: "done" | "skipped" | "open", why = "", grams = 0) => {
    send({
      planId: plan.id,
      position,
      state: to,
      why,
      ...(step.kind === "dose" && (to === "done" || dose)
        ? { dose: { id: id([to, grams]), givenGrams: grams } }
        : {}),
    });
    if (to === "done") meet();
    done();
  };
  const submit = (event: FormEvent) => {
    event.preventDefault();
    settle("done", "", measured ? measured.unit.toGrams(typedNumber(text), density) : 0);
  };
  const isNext = progress?.next === position;
  useKeys({
    s: isNext && !(gas > 0) ? () => settle("done", "", step.kind === "dose" ? step.grams : 0) : undefined,
  });
  return (
    <>
      <form onSubmit={submit} className="flex flex-wrap items-end gap-3 border-t border-rule pt-3">
        {measured ? (
          <label className="grid gap-1 text-sm text-soft">
            {words.visit.amountGiven({ unit: measured.unit.name })}
            <input
              inputMode="decimal"
              value={text}
              onChange={(event) => setText(event.target.value)}
              className="w-36 text-lg font-semibold"
            />
          </label>
        ) : null}
        {measured ? <WhichNumber text={text} unit={measured.unit.name} set={setText} /> : null}
        {measured ? <InParts text={text} measured={measured} /> : null}
        <Button
          busy={busy}
          quiet={state === "done"}
          disabled={(state === "open" && gas > 0) || (measured !== null && isTwoNumbers(text))}
        >
          <Check size={20} aria-hidden="true" />{" "}
          {state === "done" && measured ? said.correct : measured ? words.visit.saveDose : said.done}
          {isNext ? <kbd className="key">S</kbd> : null}
        </Button>
        {state === "open" ? null : (
          <Button type="button" quiet busy={busy} onClick={() => settle("open")}>
            {said.takeBack}
          </Button>
        )}
      </form>
      {state === "open" ? <Skip skip={(why) => settle("skipped", why)} /> : null}
      <Refused answer={answer} />
    </>
  );
}

/** What was typed in one unit, in the parts that somebody pours by; nothing where there is but one. */
function InParts({
  text,
  measured: { unit, form },
}: {
  text: string;
  measured: ReturnType<typeof measuredBy>;
}) {
  const units = useUnits();
  const typed = typedNumber(text);
  if (!(typed > 0) || isTwoNumbers(text)) return null;
  const amount = everydayAmount(unit.toGrams(typed, form.density), form, units);
  if (amount.parts.length < 2) return null;
  return <p className="self-center">{words.visit.inParts({ parts: amountText(amount) })}</p>;
}

/** A step is not left out without a word: whoever reads the book later must know why. */
function Skip({ skip }: { skip: (why: string) => void }) {
  const said = words.plan;
  const [why, setWhy] = useState("");
  return (
    <details>
      <summary className="inline-flex min-h-[44px] cursor-pointer items-center text-soft">
        {said.skip}
      </summary>
      <form
        className="flex flex-wrap items-end gap-3"
        onSubmit={(event) => {
          event.preventDefault();
          if (why.trim()) skip(why.trim());
        }}
      >
        <label className="grid min-w-0 grow gap-1 text-sm text-soft">
          {said.skipWhy}
          <input value={why} maxLength={400} required onChange={(event) => setWhy(event.target.value)} />
        </label>
        <Button quiet>{said.skipGo}</Button>
      </form>
    </details>
  );
}

/** A test that stands between doses. */
function RetestStep({ plan, position, done }: Pick<RowProps, "plan" | "position" | "done">) {
  const { visit, progress } = useVisit();
  const { send, answer } = useSend(`/visits/${visit.id}/plan`);
  const said = words.plan;
  const state = progress?.states[position] ?? "open";
  const settle = (to: "skipped" | "open", why = "") => {
    send({ planId: plan.id, position, state: to, why });
    done();
  };
  return (
    <>
      {state === "open" ? (
        <Link to={`/visits/${visit.id}/retest`} className="action justify-self-start">
          {said.toRetest}
        </Link>
      ) : null}
      {state === "open" ? <Skip skip={(why) => settle("skipped", why)} /> : null}
      {state === "skipped" ? (
        <Button type="button" quiet className="justify-self-start" onClick={() => settle("open")}>
          {said.takeBack}
        </Button>
      ) : null}
      <Refused answer={answer} />
    </>
  );
}

/** Stops the plan; the reason is kept with it. */
function Stop({ plan }: { plan: VisitPlan }) {
  const { visit } = useVisit();
  const { send, busy, answer } = useSend(`/visits/${visit.id}/plan`);
  const [why, setWhy] = useState("");
  const said = words.plan;
  return (
    <details className="text-soft">
      <summary className="inline-flex min-h-[44px] cursor-pointer items-center">{said.stop}</summary>
      <form
        className="grid max-w-prose gap-3"
        onSubmit={(event) => {
          event.preventDefault();
          if (why.trim()) send({ stop: why.trim(), planId: plan.id });
        }}
      >
        <p>{said.stopHint}</p>
        <label className="grid gap-1">
          {said.stopWhy}
          <input value={why} maxLength={400} required onChange={(event) => setWhy(event.target.value)} />
        </label>
        <Button quiet busy={busy} className="justify-self-start">
          {said.stopGo}
        </Button>
        <Refused answer={answer} />
      </form>
    </details>
  );
}
