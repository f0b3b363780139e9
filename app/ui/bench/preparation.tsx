import { memo, type ReactNode } from "react";
import { type Method, stepsFor } from "#core";
import { shipped, stepSentence, words } from "../../words";
import { Timer } from "./timer";

interface Props {
  method: Method;
  sample: number | null;
  /** What to mind with it. */
  mind?: ReactNode;
}

/** The preparation, in short steps, with a timer where one waits. */
export const Preparation = memo(function Preparation({ method, sample, mind }: Props) {
  const steps = stepsFor(method, sample);
  const titrant = method.kind === "titration" ? method.titrant : null;
  if (steps.length === 0 && !titrant) return <>{mind}</>;
  return (
    <section aria-label={words.bench.preparation} className="grid gap-2">
      {method.caution ? (
        <p className="font-semibold text-above">{words.bench.cautions[method.caution]}</p>
      ) : null}
      <ol className="list-inside list-decimal">
        {method.continues ? (
          <li>{words.bench.sameSample}</li>
        ) : sample !== null && method.kind !== "strip" ? (
          <li>{words.bench.fill({ millilitres: sample })}</li>
        ) : null}
        {steps.map((step) => (
          <li key={step.reagent + step.amount}>
            {stepSentence(step)}
            {step.wait ? <Timer name={`${method.id}.${step.reagent}`} seconds={step.wait} /> : null}
          </li>
        ))}
        {titrant ? <li>{words.bench.titrant({ reagent: shipped(titrant) })}</li> : null}
      </ol>
      {mind}
    </section>
  );
});
