import { useEffect, useState } from "react";
import { Link } from "react-router";
import { v7 as uuid } from "uuid";
import {
  answered,
  DRILLS,
  type DrillKind,
  dueCards,
  type Method,
  ownFigures,
  QUANTITIES,
  type Score,
  type Story,
  TITRATION_KIT,
  trapsIn,
  type UnitSystem,
} from "#core";
import { useNewBuild } from "../../device/install";
import { screenMark } from "../../ui/bench/screen";
import { Button } from "../../ui/button";
import { plain } from "../../ui/format";
import { Mark } from "../../ui/mark";
import { UnitsContext } from "../../ui/units";
import { useStored } from "../../ui/use-stored";
import { words } from "../../words";
import type { Route } from "./+types/route";
import { PracticeBench } from "./bench";
import { Drills } from "./drills";
import {
  forgetPractice,
  type Kept,
  NOTHING_KEPT,
  type Run,
  readKept,
  readUnderWay,
  type UnderWay,
  WAYS,
  type Way,
  writeKept,
  writeUnderWay,
} from "./kept";
import { Rehearsal } from "./rehearsal";
import { ScoreView } from "./score-view";

export const meta: Route.MetaFunction = () => [{ title: `${words.practice.title} · ${words.product}` }];

/** Tests that the bench can show: whatever has a colour or a cloud. */
const TESTS: readonly Method[] = TITRATION_KIT.methods.filter(
  ({ kind, quantity }) =>
    kind !== "meter" && quantity !== "acidDemand" && quantity !== "baseDemand" && quantity !== "bromine",
);

const isUnits = (value: unknown): value is UnitSystem => value === "us" || value === "metric";
const isWay = (value: unknown): value is Way => WAYS.some((way) => way === value);

type Shown =
  | { at: "menu" }
  | { at: "drill"; kind: DrillKind }
  | { at: "rehearsal"; method: Method }
  | { at: "bench"; begun: UnderWay }
  | { at: "score"; begun: UnderWay; score: Score };

/** Practice without a basin, a book or a network: what is made here stays on this device. */
export default function Practice() {
  const [units] = useStored<UnitSystem>("pelagon.units", "us", isUnits);
  const [way, setWay] = useStored<Way>("pelagon.practice.way", "guided", isWay);
  const [kept, setKept] = useState<Kept>(NOTHING_KEPT);
  const [shown, show] = useState<Shown>({ at: "menu" });
  const said = words.practice;
  // So that the next time it opens without a network, too.
  useNewBuild();
  useEffect(() => {
    setKept(readKept());
    // A test that was left in the middle goes on.
    const left = readUnderWay();
    if (left && left.events.length > 0 && methodOf(left.methodId)) show({ at: "bench", begun: left });
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
    show({ at: "bench", begun });
  };
  const done = (begun: UnderWay, score: Score) => {
    const method = methodOf(begun.methodId);
    if (!method) return;
    const session = kept.session + 1;
    const run: Run = {
      at: new Date().toISOString(),
      way: begun.way,
      methodId: begun.methodId,
      story: begun.story,
      error: score.error,
      step: stepOf(method, begun.line),
      truth: score.truth,
      slips: score.slips.map(({ code }) => code),
      trap: score.trap?.seen ?? null,
      seconds: score.seconds,
    };
    const name = cardName(method, score.trap?.story ?? null);
    const card = kept.cards.find((one) => one.name === name) ?? { name, gap: 0, due: session };
    const isRight = score.trap ? score.trap.seen : score.slips.length === 0 && score.inBracket;
    const next: Kept = {
      session,
      runs: [...kept.runs, run],
      cards: [...kept.cards.filter((one) => one.name !== name), answered(card, session, isRight)],
    };
    setKept(next);
    writeKept(next);
    show({ at: "score", begun, score });
  };
  const drilled = (kind: DrillKind, isRight: boolean) => {
    const now = readKept();
    const session = now.session + 1;
    const name = `drill/${kind}`;
    const card = now.cards.find((one) => one.name === name) ?? { name, gap: 0, due: session };
    const next: Kept = {
      ...now,
      session,
      cards: [...now.cards.filter((one) => one.name !== name), answered(card, session, isRight)],
    };
    setKept(next);
    writeKept(next);
  };
  const method = shown.at === "bench" || shown.at === "score" ? methodOf(shown.begun.methodId) : null;
  const menu = () => {
    writeUnderWay(null);
    show({ at: "menu" });
  };
  return (
    <UnitsContext value={units}>
      <header className="border-b border-rule">
        <div className="mx-auto flex max-w-6xl items-center gap-4 px-4 py-2">
          <Link to="/" aria-label={words.product}>
            <Mark className="h-7 w-7" />
          </Link>
          <h1 className="text-xl font-bold">{said.title}</h1>
          {shown.at === "menu" ? null : (
            <button type="button" className="link ml-auto min-h-[44px] cursor-pointer" onClick={menu}>
              {said.back}
            </button>
          )}
        </div>
      </header>
      <main id="page" className="mx-auto grid max-w-6xl gap-4 px-4 pt-4 pb-16">
        {shown.at === "menu" ? (
          <Menu
            kept={kept}
            way={way}
            setWay={setWay}
            begin={begin}
            drill={(kind) => show({ at: "drill", kind })}
            forget={() => {
              forgetPractice();
              setKept(NOTHING_KEPT);
            }}
          />
        ) : shown.at === "drill" ? (
          <Drills kind={shown.kind} answered={(isRight) => drilled(shown.kind, isRight)} />
        ) : shown.at === "rehearsal" ? (
          <>
            <h2 className="text-2xl font-bold">{shown.method.name}</h2>
            <Rehearsal
              method={shown.method}
              line={lineOf(shown.method)}
              begin={() => begin(shown.method, "guided", null)}
            />
          </>
        ) : shown.at === "bench" && method ? (
          <>
            <h2 className="text-2xl font-bold">
              {method.name} · {said.ways[shown.begun.way][0]}
            </h2>
            <PracticeBench
              key={shown.begun.id}
              begun={shown.begun}
              method={method}
              done={(score) => done(shown.begun, score)}
            />
          </>
        ) : shown.at === "score" && method ? (
          <ScoreView
            method={method}
            score={shown.score}
            again={() => begin(method, shown.begun.way, null)}
            back={menu}
          />
        ) : null}
      </main>
    </UnitsContext>
  );
}

const methodOf = (id: string): Method | null => TESTS.find((one) => one.id === id) ?? null;

const lineOf = (method: Method): number =>
  method.kind === "titration"
    ? (method.samples[0]?.millilitres ?? 25)
    : method.kind === "meter"
      ? 0
      : method.sample;

/** What a reading is rounded to: a drop, or the stretch between two marks. */
function stepOf(method: Method, line: number): number {
  if (method.kind === "titration")
    return method.samples.find(({ millilitres }) => millilitres === line)?.factor ?? 0;
  if (method.kind === "meter") return method.accuracy;
  const [first = 0, second = 0] = method.marks;
  return second - first;
}

/** A card is a trap of a test, or the test itself. */
const cardName = (method: Method, story: Story | null): string =>
  story ? `${method.id}/${story}` : method.id;

/** A trap that is due sets the story; else an ordinary water, now and then with a surprise. */
function storyFor(method: Method, { cards, session }: Kept, seed: number): Story {
  const traps = trapsIn(method.quantity);
  const [due] = dueCards(
    cards,
    traps.map((story) => cardName(method, story)),
    session + 1,
  );
  const isKnown = due && cards.some(({ name }) => name === due.name);
  if (due && (isKnown || seed % 3 === 0))
    return traps.find((story) => cardName(method, story) === due.name) ?? "ordinary";
  return "ordinary";
}

interface MenuProps {
  kept: Kept;
  way: Way;
  setWay: (way: Way) => void;
  begin: (method: Method, way: Way, story: Story | null) => void;
  drill: (kind: DrillKind) => void;
  forget: () => void;
}

/** What to practise, in which way, and how well it goes. */
function Menu({ kept, way, setWay, begin, drill, forget }: MenuProps) {
  const said = words.practice;
  const missed = dueCards(
    kept.cards,
    kept.cards.map(({ name }) => name),
    kept.session + 1,
  )
    .filter(({ gap }) => gap <= 1)
    .slice(0, 3);
  return (
    <>
      <p className="max-w-prose text-soft">{said.intro}</p>
      <fieldset className="flex flex-wrap gap-2">
        <legend className="mb-1 font-semibold">{said.how}</legend>
        {WAYS.map((one) => (
          <button
            key={one}
            type="button"
            aria-pressed={one === way}
            className={`${one === way ? "action" : "quiet-action"} grid! min-h-[64px] justify-start! gap-0! text-left`}
            onClick={() => setWay(one)}
          >
            <span className="font-semibold">{said.ways[one][0]}</span>
            <span className="text-sm">{said.ways[one][1]}</span>
          </button>
        ))}
      </fieldset>
      {missed.length > 0 ? (
        <section className="grid gap-2">
          <h2 className="text-xl font-semibold">{said.next}</h2>
          <div className="flex flex-wrap gap-2">
            {missed.map(({ name }) => {
              const [id = "", story = null] = name.split("/");
              const kind = id === "drill" ? DRILLS.find((one) => one === story) : undefined;
              if (kind)
                return (
                  <Button key={name} type="button" onClick={() => drill(kind)}>
                    {said.drillNames[kind]}
                  </Button>
                );
              const method = methodOf(id);
              return method ? (
                <Button
                  key={name}
                  type="button"
                  onClick={() => begin(method, "alone", story as Story | null)}
                >
                  {said.nextWhy(method.name, story)}
                </Button>
              ) : null;
            })}
          </div>
        </section>
      ) : null}
      <section className="grid gap-2">
        <h2 className="text-xl font-semibold">{said.tests}</h2>
        <div className="grid gap-2 wide:grid-cols-3">
          {TESTS.map((method) => (
            <button
              key={method.id}
              type="button"
              className="quiet-action grid! min-h-[64px] justify-start! gap-0! text-left"
              onClick={() => begin(method, way, null)}
            >
              <span className="font-semibold">{method.name}</span>
              <Own method={method} runs={kept.runs} />
            </button>
          ))}
        </div>
        <p className="text-sm text-soft">{said.ownNone}</p>
      </section>
      <section className="grid gap-2">
        <h2 className="text-xl font-semibold">{said.drills}</h2>
        <p className="text-soft">{said.drillsHint}</p>
        <div className="flex flex-wrap gap-2">
          {DRILLS.map((kind) => (
            <Button key={kind} type="button" quiet onClick={() => drill(kind)}>
              {said.drillNames[kind]}
            </Button>
          ))}
        </div>
      </section>
      {kept.session > 0 ? (
        <button type="button" className="link min-h-[44px] w-fit cursor-pointer" onClick={forget}>
          {said.forget}
        </button>
      ) : null}
    </>
  );
}

/** Bias and scatter of a test, from what was worked without help. */
function Own({ method, runs }: { method: Method; runs: readonly Run[] }) {
  const own = runs.filter(
    ({ methodId, way, trap }) => methodId === method.id && way === "alone" && trap === null,
  );
  const figures = ownFigures(own);
  if (!figures) return null;
  const share = (value: number) => `${value > 0 ? "+" : ""}${plain(100 * value, 1)} %`;
  const { unit } = QUANTITIES[method.quantity];
  return (
    <span className="text-sm text-soft" title={unit}>
      {words.practice.ownLine(
        figures.runs,
        `${share(figures.bias.value)} (${share(figures.bias.low)} … ${share(figures.bias.high)})`,
        `${plain(100 * figures.scatter.value, 1)} %`,
      )}
    </span>
  );
}
