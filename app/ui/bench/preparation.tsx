import { memo, type ReactNode } from "react";
import { type Method, stepsFor } from "#core";
import { shipped, stepSentence, words } from "../../words";
import { Timer } from "./timer";

/** What every leaflet of such a test asks for, and hurried hands leave out; null where there is no such thing. */
function careOf(method: Method): string | null {
  const said = words.bench.care;
  if (method.kind === "turbidity") return said.tube;
  if (method.kind === "meter") return method.source === "photometer" ? said.photometer : null;
  if (method.kind !== "titration") return null;
  if (method.quantity === "combinedChlorine") return said.combined;
  return method.quantity === "calciumHardness" || method.quantity === "totalHardness" ? said.hardness : null;
}

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
  const care = careOf(method);
  if (steps.length === 0 && !titrant)
    return (
      <>
        {care ? <p>{care}</p> : null}
        {mind}
      </>
    );
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
        {care ? <li>{care}</li> : null}
      </ol>
      {mind}
    </section>
  );
});
