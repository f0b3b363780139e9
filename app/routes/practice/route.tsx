import { useEffect, useState } from "react";
import { v7 as uuid } from "uuid";
import {
  type DrillKind,
  hiddenWater,
  isUnitSystem,
  type Method,
  type Score,
  type Story,
  scoreOf,
  type UnitSystem,
} from "#core";
import { useNewBuild } from "../../device/install";
import { screenMark } from "../../ui/bench/screen";
import { KeysHelp } from "../../ui/keys-help";
import { PlainHeader } from "../../ui/plain-header";

import { UnitsContext } from "../../ui/units";
import { useStored } from "../../ui/use-stored";
import { shipped, words } from "../../words";
import type { Route } from "./+types/route";
import { PracticeBench } from "./bench";
import { Drills } from "./drills";
import type { Answer } from "./kept";
import {
  afterSession,
  forgetPractice,
  type Kept,
  NOTHING_KEPT,
  type Run,
  readKept,
  readSheet,
  readUnderWay,
  type SheetUnderWay,
  type UnderWay,
  WAYS,
  type Way,
  writeKept,
  writeSheet,
  writeUnderWay,
} from "./kept";
import { Menu } from "./menu";
import { Rehearsal } from "./rehearsal";
import { ScoreView } from "./score-view";
import { WholeSheet } from "./sheet/whole-sheet";
import { answerOf, lineOf, methodOf, runOf, storyFor, storyForSheet } from "./tests";

export const meta: Route.MetaFunction = () => [{ title: `${words.practice.title} · ${words.product}` }];

const isWay = (value: unknown): value is Way => WAYS.some((way) => way === value);

type Shown =
  | { at: "menu" }
  | { at: "drill"; kind: DrillKind }
  | { at: "rehearsal"; method: Method }
  | { at: "bench"; begun: UnderWay; method: Method }
  | { at: "score"; begun: UnderWay; method: Method; score: Score }
  | { at: "sheet"; begun: SheetUnderWay };

/** Practice without a basin, a book or a network: what is made here stays on this device. */
export default function Practice() {
  const [units] = useStored<UnitSystem>("pelagon.units", "us", isUnitSystem);
  const [way, setWay] = useStored<Way>("pelagon.practice.way", "guided", isWay);
  const [kept, setKept] = useState<Kept>(NOTHING_KEPT);
  const [shown, show] = useState<Shown>({ at: "menu" });
  const said = words.practice;
  // So that the next time it opens without a network, too.
  useNewBuild();
  useEffect(() => {
    setKept(readKept());
    // What was left in the middle goes on.
    const sheet = readSheet();
    if (sheet && sheet.at !== "over") return show({ at: "sheet", begun: sheet });
    const left = readUnderWay();
    const method = left && methodOf(left.methodId);
    if (left && method && left.events.length > 0) show({ at: "bench", begun: left, method });
  }, []);

  const begin = (method: Method, how: Way, story: Story | null) => {
    if (how === "rehearsal") return show({ at: "rehearsal", method });
    const seed = Math.floor(Math.random() * 1e6);
    const begun: UnderWay = {
      id: uuid(),
      way: how,
      methodId: method.id,
      story: story ?? storyFor(method, kept, seed),
      seed,
      line: lineOf(method),
      events: [],
      holder: screenMark(),
    };
    writeUnderWay(begun);
    show({ at: "bench", begun, method });
  };
  const beginSheet = () => {
    const seed = Math.floor(Math.random() * 1e6);
    const begun: SheetUnderWay = {
      id: uuid(),
      story: storyForSheet(kept, seed),
      seed,
      taken: null,
      tests: [],
      said: {},
      dose: {},
      at: "tests",
    };
    writeUnderWay(null);
    writeSheet(begun);
    show({ at: "sheet", begun });
  };
  const end = (runs: readonly Run[], answers: readonly Answer[]) => {
    const next = afterSession(readKept(), runs, answers);
    setKept(next);
    writeKept(next);
  };
  // A sheet that is left waits; a single test is poured out.
  const menu = () => {
    if (shown.at !== "sheet") writeUnderWay(null);
    show({ at: "menu" });
  };
  return (
    <UnitsContext value={units}>
      <PlainHeader title={<h1 className="text-xl font-bold">{said.title}</h1>}>
        {shown.at === "menu" ? null : (
          <button type="button" className="link min-h-[44px] cursor-pointer" onClick={menu}>
            {said.back}
          </button>
        )}
        <KeysHelp always />
      </PlainHeader>
      <main id="page" className="mx-auto grid max-w-6xl gap-4 px-4 pt-4 pb-16">
        {shown.at === "menu" ? (
          <Menu
            kept={kept}
            way={way}
            setWay={setWay}
            begin={begin}
            sheet={beginSheet}
            goOn={(left) => show({ at: "sheet", begun: left })}
            drill={(kind) => show({ at: "drill", kind })}
            forget={() => {
              forgetPractice();
              setKept(NOTHING_KEPT);
            }}
          />
        ) : shown.at === "drill" ? (
          <Drills
            kind={shown.kind}
            answered={(isRight) => end([], [{ name: `drill/${shown.kind}`, isRight }])}
          />
        ) : shown.at === "rehearsal" ? (
          <>
            <h2 className="text-2xl font-bold">{shipped(shown.method.name)}</h2>
            <Rehearsal
              method={shown.method}
              line={lineOf(shown.method)}
              begin={() => begin(shown.method, "guided", null)}
            />
          </>
        ) : shown.at === "bench" ? (
          <>
            <h2 className="text-2xl font-bold">
              {shipped(shown.method.name)} · {said.ways[shown.begun.way][0]}
            </h2>
            <PracticeBench
              key={shown.begun.id}
              begun={shown.begun}
              method={shown.method}
              done={(worked, called) => {
                const { begun, method } = shown;
                const score = scoreOf({ ...worked, water: hiddenWater(begun.story, begun.seed) }, called);
                end([runOf(method, { ...begun, line: worked.line }, score)], [answerOf(method, score)]);
                show({ at: "score", begun, method, score });
              }}
            />
          </>
        ) : shown.at === "score" ? (
          <ScoreView
            method={shown.method}
            score={shown.score}
            runs={kept.runs}
            again={() => begin(shown.method, shown.begun.way, null)}
            back={menu}
          />
        ) : (
          <WholeSheet key={shown.begun.id} begun={shown.begun} over={end} again={beginSheet} back={menu} />
        )}
      </main>
    </UnitsContext>
  );
}
