import { useEffect, useMemo, useRef, useState } from "react";
import {
  type Called,
  type DoubtCode,
  endOf,
  type Method,
  type Next,
  NO_LOG,
  nextIn,
  type Observation,
  type Slip,
  slipsOf,
  stepsFor,
  TITRATION_KIT,
  type Vessel,
  type Worked,
} from "#core";
import { drip, wakeSound } from "../../ui/bench/sounds";
import { TestSheet } from "../../ui/bench/test-sheet";
import { Button } from "../../ui/button";
import { useKeys } from "../../ui/use-keys";
import { useStored } from "../../ui/use-stored";
import { slipText, stepSentence, words } from "../../words";
import { type Bottle, Controls, Holding } from "./controls";
import { countKeyOf, forgetCount, type UnderWay, writeUnderWay } from "./kept";
import { useHands } from "./use-hands";
import { labelOf, VesselView } from "./vessel-view";

interface Props {
  begun: UnderWay;
  method: Method;
  /** It was worked to its end; the score is whoever asked for it's to tell. */
  done: (worked: Worked, called: Called) => void;
}

const isFlag = (value: unknown): value is boolean => typeof value === "boolean";
const TILT_STEP = 5;

/** A sample under one's hands, and beside it the very sheet on which a real test is counted. */
export function PracticeBench({ begun, method, done }: Props) {
  const said = words.practice;
  const hands = useHands(begun, method);
  const droppedAt = useRef(Number.NEGATIVE_INFINITY);
  const [named, setNamed] = useStored("pelagon.practice.named", false, isFlag);
  const [weakEye, setWeakEye] = useStored("pelagon.practice.weak-eye", false, isFlag);
  const [sound, setSound] = useStored("pelagon.practice.sound", false, isFlag);
  const [setAside, putAside] = useState(false);
  const { vessel, events, line, angle, setAngle } = hands;

  const drop = () => {
    droppedAt.current = performance.now();
    hands.does({ kind: "drop", angle: hands.angle });
    if (sound) drip();
  };
  useKeys({
    "[": () => setAngle(Math.max(0, angle - TILT_STEP)),
    "]": () => setAngle(Math.min(70, angle + TILT_STEP)),
    d: method.kind === "titration" ? drop : undefined,
  });
  useSwirlKey(hands.hold, hands.release);
  useEffect(() => {
    if (sound) wakeSound();
  }, [sound]);

  const worked = (counted: number | null): Worked => ({
    method,
    water: vessel.water,
    line,
    events,
    counted,
    until: hands.since(),
  });
  const save = (seen: Observation, _confirmed: DoubtCode[]) => {
    const counted = seen.kind === "drops" ? seen.count + (seen.idle ?? 0) : null;
    // A scale's sheet asks for the dilution itself, and can be wrong; a count is told what the hands did.
    const diluted =
      seen.kind === "drops" && vessel.dilution > 1 ? { ...seen, dilution: vessel.dilution } : seen;
    writeUnderWay(null);
    forgetCount(begun);
    done(worked(counted), { seen: diluted, setAside });
  };
  // Guided, what is next stands out among what hands can take.
  const next = begun.way === "guided" ? nextIn({ method, line, events }, vessel) : null;
  const all = useMemo(() => bottlesFor(method, line, begun), [method, line, begun]);
  const label = labelOf(vessel);
  // On a phone what is next stands nearest to the vessel: the hands first, and the count once it has begun.
  const isCounting = vessel.fell > 0;
  return (
    <div className="grid items-start gap-4 wide:grid-cols-[26rem_1fr] wide:grid-rows-[auto_auto_auto_1fr]">
      <div className="sticky top-0 z-10 grid gap-2 bg-paper pb-1 wide:static wide:col-start-1 wide:row-start-1 wide:row-span-2">
        {hands.elsewhere ? (
          <p
            role="alert"
            className="flex flex-wrap items-center gap-3 border-l-4 border-below bg-below-wash p-3"
          >
            {said.elsewhere}
            <Button type="button" onClick={hands.takeOver}>
              {said.here}
            </Button>
          </p>
        ) : null}
        <VesselView
          hands={hands}
          standards={method.kind === "comparator" ? method.marks : []}
          droppedAt={droppedAt}
          weakEye={weakEye}
          label={label}
        />
        {named ? (
          <p role="status" className="text-lg font-semibold" data-colour>
            {label}
          </p>
        ) : null}
      </div>
      {next ? (
        <div className="order-1 wide:order-none wide:col-start-2 wide:row-start-1">
          <Guide worked={worked(null)} vessel={vessel} next={next} />
        </div>
      ) : null}
      <div
        className={`${isCounting ? "order-2" : "order-3"} grid gap-3 wide:order-none wide:col-start-2 wide:row-span-3`}
      >
        <TestSheet
          method={method}
          busy={hands.elsewhere}
          save={save}
          saved={null}
          last={null}
          range={undefined}
          log={NO_LOG}
          standing={[]}
          countKey={countKeyOf(begun)}
          keepCount={null}
          count={undefined}
          dropped={drop}
          anew={hands.anew}
        />
        <label className="flex min-h-[44px] items-center gap-3">
          <input
            type="checkbox"
            className="h-6 min-h-0 w-6"
            checked={setAside}
            onChange={(event) => putAside(event.target.checked)}
          />
          {said.setAside}
        </label>
      </div>
      <div className={`${isCounting ? "order-3" : "order-2"} grid gap-3 wide:order-none wide:col-start-1`}>
        {method.kind === "turbidity" ? <Tube hands={hands} /> : null}
        <Controls method={method} line={line} hands={hands} all={all} next={next} />
      </div>
      <fieldset className="order-4 flex flex-wrap items-center gap-2 wide:order-none wide:col-start-1">
        <legend className="float-left mr-3 py-3 text-soft">{said.aids}</legend>
        {(
          [
            [said.nameIt, named, setNamed],
            [said.weakEye, weakEye, setWeakEye],
            [said.sound, sound, setSound],
          ] as const
        ).map(([text, value, set]) => (
          <Button key={text} type="button" quiet={!value} aria-pressed={value} onClick={() => set(!value)}>
            {text}
          </Button>
        ))}
        <span className="w-full text-sm text-soft">{said.keysHint}</span>
      </fieldset>
    </div>
  );
}

/** W swirls as long as it is held. */
function useSwirlKey(hold: (how: "swirl") => void, release: () => void): void {
  const acts = useRef({ hold, release });
  acts.current = { hold, release };
  useEffect(() => {
    const isSwirl = (event: KeyboardEvent) =>
      event.key.toLowerCase() === "w" &&
      !event.ctrlKey &&
      !event.metaKey &&
      !(event.target instanceof Element && event.target.closest("input:not([type=range]), textarea, select"));
    const down = (event: KeyboardEvent) => {
      if (isSwirl(event) && !event.repeat) acts.current.hold("swirl");
    };
    const up = (event: KeyboardEvent) => {
      if (isSwirl(event)) acts.current.release();
    };
    window.addEventListener("keydown", down);
    window.addEventListener("keyup", up);
    return () => {
      window.removeEventListener("keydown", down);
      window.removeEventListener("keyup", up);
    };
  }, []);
}

/** The bottles on the bench: guided just those of the test, alone with others among them. */
function bottlesFor(method: Method, line: number, { way, seed }: UnderWay): Bottle[] {
  const own = stepsFor(method, line).map(({ reagent, measure, amount }) => ({ reagent, measure, amount }));
  if (way !== "alone") return own;
  const others = TITRATION_KIT.methods
    .flatMap(({ steps }) => steps)
    .filter(({ reagent }) => !own.some((one) => one.reagent === reagent))
    .map(({ reagent, measure, amount }) => ({ reagent, measure, amount }));
  const strange = [others[seed % others.length], others[(seed * 7 + 3) % others.length]].flatMap((one) =>
    one ? [one] : [],
  );
  return [...new Map([...own, ...strange].map((one) => [one.reagent, one])).values()].sort((a, b) =>
    a.reagent.localeCompare(b.reagent),
  );
}

/** What is next, and each slip as soon as it was made. */
function Guide({ worked, vessel, next }: { worked: Worked; vessel: Vessel; next: Next }) {
  const said = words.practice;
  const slips = slipsOf(worked).filter((slip) => isMade(slip, vessel));
  return (
    <div className="grid gap-2">
      <p className="border-l-4 border-action p-2 font-medium">{nextSentence(next, worked)}</p>
      <div role="status" className="grid gap-1">
        {slips.map((slip) => {
          const [what, why] = slipText(slip);
          return (
            <p key={slip.code + what} className="border-l-4 border-below bg-below-wash p-2">
              <b>
                {said.slipNow}: {what}
              </b>{" "}
              {why}
            </p>
          );
        })}
      </div>
    </div>
  );
}

function nextSentence(next: Next, { method }: Worked): string {
  const said = words.practice;
  switch (next.kind) {
    case "fill":
      return said.step({ sentence: words.bench.fill({ millilitres: next.millilitres }) });
    case "look":
      return method.kind === "titration"
        ? said.stepCount
        : method.kind === "turbidity"
          ? said.stepTube
          : said.stepPlace;
    default:
      return said.step({ sentence: stepSentence(next.step) });
  }
}

/** Slips that are already made; what may still be put right is none yet. */
function isMade(slip: Slip, vessel: Vessel): boolean {
  const { fell, level } = vessel;
  switch (slip.code) {
    case "over-filled":
    case "wrong-order":
    case "wrong-reagent":
    case "heaped":
    case "shaken":
    case "sun":
    case "tinted":
    case "waited":
      return true;
    case "wrong-amount":
      return slip.given > slip.amount || fell > 0 || level > 0;
    case "past-end":
    case "slanted":
      return fell > 0;
    // Far from the end nobody has to swirl each drop.
    case "not-swirled":
      return vessel.titrant + vessel.plume > endOf(vessel) - NEAR_END;
    case "short-of-end":
    case "miscounted":
      return false;
    default:
      return fell > 0 || level > 0;
  }
}

const NEAR_END = 3;

/** Share of the tube's height that a second of pouring fills. */
const TUBE_A_SECOND = 0.16;
const TUBE_MS = 40;

/** The viewing tube, filled as long as it is held, and poured back a little. */
function Tube({ hands }: { hands: ReturnType<typeof useHands> }) {
  const said = words.practice;
  const latest = useRef(hands);
  latest.current = hands;
  const timer = useRef<ReturnType<typeof setInterval>>(undefined);
  useEffect(() => () => clearInterval(timer.current), []);
  const move = (by: number) =>
    latest.current.does({ kind: "tube", level: Math.min(1, Math.max(0, latest.current.vessel.level + by)) });
  const stop = () => clearInterval(timer.current);
  return (
    <p className="flex flex-wrap gap-2">
      <Holding
        label={said.pourTube}
        down={() => {
          stop();
          timer.current = setInterval(() => move((TUBE_A_SECOND * TUBE_MS) / 1000), TUBE_MS);
        }}
        up={stop}
        pressed={() => move(0.03)}
      />
      <Button type="button" quiet onClick={() => move(-0.05)}>
        {said.pourBack}
      </Button>
    </p>
  );
}
