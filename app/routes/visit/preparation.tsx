import { type Method, type Observation, stepsFor } from "#core";
import { stepSentence, words } from "../../words";

/** How a station hands over what was seen. */
export interface StationProps<M extends Method> {
  method: M;
  busy: boolean;
  save: (seen: Observation) => void;
}

/** The preparation, in short steps. */
export function Preparation({ method, sample }: { method: Method; sample: number | null }) {
  const steps = stepsFor(method, sample);
  const continues = method.kind === "titration" && method.continues;
  if (steps.length === 0) return null;
  return (
    <ol className="list-inside list-decimal">
      {continues ? <li>{words.visit.sameSample}</li> : null}
      {steps.map((step) => (
        <li key={step.reagent}>{stepSentence(step)}</li>
      ))}
      {method.kind === "titration" ? <li>{words.visit.titrant(method.titrant)}</li> : null}
    </ol>
  );
}
