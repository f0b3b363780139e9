import { useEffect, useMemo, useState } from "react";
import { v7 as uuid } from "uuid";
import { hiddenWater, SHEET_TESTS, sheetBasin } from "#core";
import { screenMark } from "../../../ui/bench/screen";
import { Button } from "../../../ui/button";
import { BOUND_SIGN, valueText, volumeText, withUnit } from "../../../ui/format";
import { useUnits } from "../../../ui/units";
import { shipped, words } from "../../../words";
import { PracticeBench } from "../bench";
import type { Answer } from "../kept";
import {
  forgetCount,
  type Run,
  readSheet,
  readUnderWay,
  SHEET_KEY,
  type SheetUnderWay,
  type UnderWay,
  writeSheet,
  writeUnderWay,
} from "../kept";
import { answerOf, lineOf, methodOf, runOf } from "../tests";
import { isSound } from "./dose";
import { DoseStep } from "./dose-step";
import { JudgeStep } from "./judge-step";
import { SampleStep } from "./sample-step";
import { scoredIn, verdictsOfSheet } from "./scored";
import { SheetResult } from "./sheet-result";
import type { Scored } from "./step";

interface Props {
  begun: SheetUnderWay;
  /** What is kept of it when it is over. */
  over: (runs: readonly Run[], answers: readonly Answer[]) => void;
  again: () => void;
  back: () => void;
}

/** One hidden water from the sample to the dose, alone. */
export function WholeSheet({ begun, over, again, back }: Props) {
  const [sheet, setSheet] = useState(begun);
  const [testing, setTesting] = useState<UnderWay | null>(() => {
    const left = readUnderWay();
    return left?.sheet === begun.id ? left : null;
  });
  const units = useUnits();
  const said = words.practice.sheet;
  const water = useMemo(() => hiddenWater(begun.story, begun.seed), [begun]);
  const basin = useMemo(() => sheetBasin(begun.story), [begun]);
  const scored = useMemo(() => sheet.tests.flatMap((test) => scoredIn(test, water)), [sheet.tests, water]);
  useEffect(() => {
    // The same sheet in another tab: what was done there stands here, too.
    const hear = ({ key }: StorageEvent) => {
      const there = key === SHEET_KEY ? readSheet() : null;
      if (there?.id === begun.id) setSheet(there);
    };
    window.addEventListener("storage", hear);
    return () => window.removeEventListener("storage", hear);
  }, [begun.id]);

  const change = (part: Partial<SheetUnderWay>) => {
    const next = { ...sheet, ...part };
    setSheet(next);
    writeSheet(next.at === "over" ? null : next);
  };
  const test = (methodId: string) => {
    const method = methodOf(methodId);
    if (!method) return;
    const one: UnderWay = {
      id: uuid(),
      way: "alone",
      methodId,
      story: sheet.story,
      seed: sheet.seed,
      line: lineOf(method),
      events: [],
      holder: screenMark(),
      sheet: sheet.id,
    };
    writeUnderWay(one);
    setTesting(one);
  };
  const step = { sheet, water, basin, scored, change };
  const method = testing && methodOf(testing.methodId);
  if (testing && method)
    return (
      <>
        <h2 className="text-2xl font-bold">{shipped(method.name)}</h2>
        <PracticeBench
          key={testing.id}
          begun={testing}
          method={method}
          done={({ line, events, counted, until }, { seen, setAside }) => {
            const made = { methodId: method.id, line, events: [...events], counted, until, seen, setAside };
            change({ tests: [...sheet.tests.filter(({ methodId }) => methodId !== method.id), made] });
            setTesting(null);
          }}
        />
        <Button
          type="button"
          quiet
          className="w-fit"
          onClick={() => {
            forgetCount(testing);
            writeUnderWay(null);
            setTesting(null);
          }}
        >
          {said.backToSheet}
        </Button>
      </>
    );
  const finish = () => {
    const made = scored.flatMap(({ test: one, score }) => {
      const method = methodOf(one.methodId);
      return method ? [{ method, line: one.line, score }] : [];
    });
    over(
      made.map(({ method, line, score }) => runOf(method, { way: "alone", story: sheet.story, line }, score)),
      [
        ...made.map(({ method, score }) => answerOf(method, score)),
        { name: "sheet/judge", isRight: verdictsOfSheet(step).every(({ isRight }) => isRight) },
        { name: "sheet/dose", isRight: isSound(step, units) },
      ],
    );
    change({ at: "over" });
  };
  return (
    <>
      <header>
        <h2 className="text-2xl font-bold">{said.title}</h2>
        <p className="text-soft">
          {said.basin({ kind: basin.kind, volume: volumeText(basin.litres, units) })} ·{" "}
          {withUnit("temperature", Math.round(water.temperature), units)}
        </p>
      </header>
      {sheet.taken === null ? (
        <SampleStep {...step} />
      ) : sheet.at === "tests" ? (
        <Tests scored={scored} test={test} next={() => change({ at: "judge" })} />
      ) : sheet.at === "judge" ? (
        <JudgeStep {...step} />
      ) : sheet.at === "dose" ? (
        <DoseStep {...step} finish={finish} />
      ) : (
        <SheetResult {...step} again={again} back={back} />
      )}
    </>
  );
}

/** The tests of the sheet, the next one first to press; what was read stands beside each. */
function Tests({
  scored,
  test,
  next,
}: {
  scored: readonly Scored[];
  test: (methodId: string) => void;
  next: () => void;
}) {
  const units = useUnits();
  const said = words.practice.sheet;
  const made = new Map(scored.map((one) => [one.test.methodId, one]));
  const open = SHEET_TESTS.find((id) => !made.has(id));
  return (
    <section aria-label={said.stops} className="grid max-w-2xl gap-2">
      {SHEET_TESTS.map((id) => {
        const method = methodOf(id);
        const done = made.get(id);
        if (!method) return null;
        const { quantity } = method;
        return (
          <button
            key={id}
            type="button"
            className={`${id === open ? "action" : "quiet-action"} min-h-[56px] justify-between! text-left`}
            onClick={() => test(id)}
          >
            <span className="font-semibold">{shipped(method.name)}</span>
            <span>
              {done
                ? `${BOUND_SIGN[done.score.reading.bound]}${valueText(quantity, done.score.reading.value, units)}${
                    done.test.setAside ? `, ${said.setAside}` : ""
                  }`
                : said.notYet}
            </span>
          </button>
        );
      })}
      <Button type="button" quiet={open !== undefined} className="mt-2 w-fit min-h-[56px]" onClick={next}>
        {said.judge}
      </Button>
    </section>
  );
}
