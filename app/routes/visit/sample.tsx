import { useState } from "react";
import { useFetcher } from "react-router";
import { mixesLike, type Sampling, samplingProblems, stopAfter } from "#core";
import { onServer } from "../../device/action.server";
import { sampleCommand } from "../../device/page-command";
import { onDevice } from "../../device/seam";
import { Button } from "../../ui/button";
import { hoursText } from "../../ui/format";
import { Refused, type SaveAnswer } from "../../ui/refused";
import { submitJson } from "../../ui/submit-json";
import { useClientId } from "../../ui/use-client-id";
import { useKeys } from "../../ui/use-keys";
import { fill, words } from "../../words";
import { SampleDrawing } from "./sample-drawing";
import { useVisit } from "./use-visit";

export const action = onServer(sampleCommand);

export const clientAction = onDevice(sampleCommand);

export default function SamplePage() {
  const { visit, basin, products, log, soFar } = useVisit();
  const fetcher = useFetcher<SaveAnswer>();
  const id = useClientId("sample");
  const [circulation, setCirculation] = useState<Sampling["circulation"]>(
    visit.sampling?.circulation ?? (visit.look?.hear.includes("pump-off") ? "off" : "running"),
  );
  const [newest] = log.doses;
  const problems = samplingProblems(circulation, newest?.hoursAgo ?? null, mixesLike(basin.kind));
  const save = () => {
    const next = stopAfter({ ...soFar, sampled: true }, "sample");
    void submitJson(fetcher, { id: id([circulation, problems]), circulation, ignored: problems, next });
  };
  useKeys({ s: save });
  const said = words.sampling;
  return (
    <section aria-label={said.title} className="grid max-w-3xl gap-4">
      <h2 className="text-2xl font-bold">{said.title}</h2>
      <div className="grid items-start gap-4 wide:grid-cols-[1fr_14rem]">
        <ol className="list-inside list-decimal text-lg">
          {said.guide.map((line) => (
            <li key={line}>{line}</li>
          ))}
        </ol>
        <SampleDrawing />
      </div>
      <fieldset className="flex flex-wrap items-center gap-2">
        <legend className="float-left mr-3 py-3 font-semibold">{said.pump}</legend>
        {(["running", "off"] as const).map((state) => (
          <button
            key={state}
            type="button"
            aria-pressed={circulation === state}
            className={circulation === state ? "action" : "quiet-action"}
            onClick={() => setCirculation(state)}
          >
            {said.circulation[state]}
          </button>
        ))}
      </fieldset>
      <p>
        {newest
          ? said.lastDose({
              product: products.find((product) => product.product === newest.product)?.name ?? newest.product,
              age: hoursText(newest.hoursAgo),
            })
          : said.noDose}
      </p>
      {problems.map((problem) => (
        <p key={problem} className="border-l-4 border-below bg-below-wash p-3 text-below">
          {fill(said.problems[problem], { age: hoursText(newest?.hoursAgo ?? 0) })}
        </p>
      ))}
      <Refused answer={fetcher.data} />
      <Button
        type="button"
        className="next-step min-h-[64px] justify-self-start"
        shortcut="S"
        busy={fetcher.state !== "idle"}
        onClick={save}
      >
        {problems.length > 0 ? said.anyway : said.taken}
      </Button>
    </section>
  );
}
