import {
  type Card,
  dueCards,
  type Method,
  ownFigures,
  type Score,
  STORIES,
  type Story,
  TITRATION_KIT,
  trapsIn,
} from "#core";
import type { PractisedTest } from "#server/db/practised";
import type { Answer, Kept, Run, Way } from "./kept";

/** The tests that are practised, the cards that bring them back, and what is kept of a run. */

/** Tests that the bench can show: whatever has a colour or a cloud. */
export const TESTS: readonly Method[] = TITRATION_KIT.methods.filter(
  ({ kind, quantity }) =>
    kind !== "meter" && quantity !== "acidDemand" && quantity !== "baseDemand" && quantity !== "bromine",
);

export const methodOf = (id: string): Method | null => TESTS.find((one) => one.id === id) ?? null;

export const lineOf = (method: Method): number =>
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
export function storyFor(method: Method, { cards, session }: Kept, seed: number): Story {
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

/** Of a whole sheet: the story of a trap that was missed somewhere, else any. */
export function storyForSheet({ cards, session }: Kept, seed: number): Story {
  const due = cards.find(({ gap, due }) => gap <= 1 && due <= session + 1);
  const missed = STORIES.find((story) => due?.name.endsWith(`/${story}`));
  return (
    missed ?? (seed % 3 === 0 ? "ordinary" : (STORIES[Math.floor(seed / 3) % STORIES.length] ?? "ordinary"))
  );
}

/** What is kept of a test that was worked to its end. */
export const runOf = (
  method: Method,
  { way, story, line }: { way: Way; story: Story; line: number },
  score: Score,
): Run => ({
  at: new Date().toISOString(),
  way,
  methodId: method.id,
  story,
  error: score.error,
  step: stepOf(method, line),
  truth: score.truth,
  slips: score.slips.map(({ code }) => code),
  trap: score.trap?.seen ?? null,
  seconds: score.seconds,
});

export const answerOf = (method: Method, score: Score): Answer => ({
  name: cardName(method, score.trap?.story ?? null),
  isRight: score.trap ? score.trap.seen : score.slips.length === 0 && score.inBracket,
});

/** Missed of late, and to be met again. */
export const missedOf = ({ cards, session }: Kept): Card[] =>
  dueCards(
    cards,
    cards.map(({ name }) => name),
    session + 1,
  )
    .filter(({ gap }) => gap <= 1)
    .slice(0, 3);

/** Runs of a test that say how well somebody reads: worked alone, without a trap. */
export const ownRuns = (runs: readonly Run[], methodId: string): Run[] =>
  runs.filter((run) => run.methodId === methodId && run.way === "alone" && run.trap === null);

/** What was worked alone, by test. @example toldOf([]) // [] */
export const toldOf = (runs: readonly Run[]): PractisedTest[] =>
  TESTS.flatMap(({ id }): PractisedTest[] => {
    const alone = runs.filter(({ methodId, way }) => methodId === id && way === "alone");
    const last = alone.at(-1);
    if (!last) return [];
    const figures = ownFigures(ownRuns(alone, id));
    const within = (share: number) => Math.min(1, Math.max(-1, share));
    return [
      {
        methodId: id,
        runs: alone.length,
        trapsSeen: alone.filter(({ trap }) => trap === true).length,
        trapsMissed: alone.filter(({ trap }) => trap === false).length,
        lastOn: last.at.slice(0, 10),
        bias: figures ? within(figures.bias.value) : null,
        scatter: figures ? within(figures.scatter.value) : null,
      },
    ];
  });
