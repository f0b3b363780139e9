import { useState } from "react";
import { type Method, stepsFor } from "#core";
import { Button } from "../../ui/button";
import { stepSentence, words } from "../../words";

/** The steps of a test put in their order, without liquid, until they come by themselves. */
export function Rehearsal({ method, line, begin }: { method: Method; line: number; begin: () => void }) {
  const said = words.practice;
  const steps = sentencesOf(method, line);
  const [at, setAt] = useState(0);
  const [wrong, setWrong] = useState(0);
  const [told, tell] = useState<string | null>(null);
  const shuffled = [...steps].sort((a, b) => order(a) - order(b));
  const right = steps[at];
  const pick = (sentence: string) => {
    if (sentence === right) {
      setAt(at + 1);
      tell(null);
    } else {
      setWrong(wrong + 1);
      tell(said.rehearseWrong({ right: right ?? "" }));
    }
  };
  const afresh = () => {
    setAt(0);
    setWrong(0);
    tell(null);
  };
  return (
    <section className="grid gap-4" aria-label={said.ways.rehearsal[0]}>
      <ol className="sheet list-inside list-decimal p-4">
        {steps.slice(0, at).map((sentence) => (
          <li key={sentence}>{sentence}</li>
        ))}
        {right === undefined ? null : <li className="font-semibold">{said.rehearse}</li>}
      </ol>
      <p role="status" className="min-h-6 font-medium text-below">
        {right === undefined ? said.rehearseDone({ wrong }) : told}
      </p>
      {right === undefined ? (
        <p className="flex flex-wrap gap-3">
          <Button type="button" quiet={wrong === 0} onClick={afresh}>
            {said.again}
          </Button>
          <Button type="button" quiet={wrong > 0} onClick={begin}>
            {said.ways.guided[0]}
          </Button>
        </p>
      ) : (
        <div className="grid gap-2">
          {shuffled
            .filter((sentence) => !steps.slice(0, at).includes(sentence))
            .map((sentence) => (
              <Button
                key={sentence}
                type="button"
                quiet
                className="justify-start text-left"
                onClick={() => pick(sentence)}
              >
                {sentence}
              </Button>
            ))}
        </div>
      )}
    </section>
  );
}

function sentencesOf(method: Method, line: number): string[] {
  const said = words.practice;
  return [
    method.continues ? words.bench.sameSample : words.bench.fill({ millilitres: line }),
    ...stepsFor(method, line).map(stepSentence),
    method.kind === "titration"
      ? said.stepCount
      : method.kind === "turbidity"
        ? said.stepTube
        : said.stepPlace,
  ];
}

/** An order that is not the right one, and the same each time. */
const order = (text: string): number => {
  let sum = 7;
  for (const letter of text) sum = (sum * 31 + letter.charCodeAt(0)) % 997;
  return sum;
};
