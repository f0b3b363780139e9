import { Metronome } from "lucide-react";
import { memo, type ReactNode } from "react";
import type { SampleAdvice, TitrationMethod } from "#core";
import { sampleWhy, words } from "../../words";
import { Button } from "../button";
import { plain, valueText } from "../format";
import { useUnits } from "../units";
import { Endpoint } from "./endpoint";
import { LostCount } from "./lost-count";
import { PaceControls } from "./pace-controls";
import { Preparation } from "./preparation";
import type { Count } from "./use-count";
import type { Pace } from "./use-pace";

/** What can be done with a count besides one drop more. */
export interface CountActs {
  finish: () => void;
  takeBack: () => void;
  changedNothing: () => void;
  startPace: () => void;
  afresh: (millilitres: number) => void;
  withTitrantAhead: () => void;
}

interface Props extends Pick<Pace, "seconds" | "setSeconds" | "call" | "setCall"> {
  method: TitrationMethod;
  /** pH of the standard that demand drops are matched to. */
  target: number | null;
  sample: number;
  last: number | null;
  advice: SampleAdvice;
  /** What the count comes to so far. */
  value: number;
  drops: number;
  ahead: number;
  /** Who has the count that is shown. */
  keeping: "nothing" | Count["server"];
  busy: boolean;
  mind: ReactNode;
  acts: CountActs;
  children?: ReactNode;
}

/** The message of each way that a count is kept. */
const KEPT = { has: "kept", silent: "keptHere", refuses: "keptRefused" } as const;

/** Beside the number: save, take back, the beat, the colours, the preparation, the sample. */
export const CountSide = memo(
  function CountSide({
    method,
    target,
    sample,
    last,
    advice,
    value,
    drops,
    ahead,
    keeping,
    busy,
    mind,
    acts,
    children,
    ...pace
  }: Props) {
    const units = useUnits();
    const none = drops === ahead;
    return (
      <div className="grid content-start gap-3">
        {/* Of one height whatever it says: nothing moves under a thumb that is on its way to a button. */}
        <p
          role="status"
          className={`min-h-16 border-l-4 p-2 leading-tight ${
            keeping === "silent" || keeping === "refuses"
              ? "border-below bg-below-wash font-medium text-below"
              : "border-transparent text-sm text-soft"
          }`}
        >
          {keeping === "nothing" ? "" : words.bench[KEPT[keeping]]}
        </p>
        <div className="grid grid-cols-2 gap-2">
          <Button
            type="button"
            className="min-h-[64px] wide:col-span-2"
            shortcut="S"
            busy={busy}
            onClick={acts.finish}
          >
            {words.bench.save} {valueText(method.quantity, value, units)}
          </Button>
          <Button
            type="button"
            quiet
            className="min-h-[64px]"
            shortcut="⌫"
            disabled={none}
            onClick={acts.takeBack}
          >
            {words.bench.takeBack}
          </Button>
          <Button
            type="button"
            quiet
            className="min-h-[64px] leading-tight"
            shortcut="X"
            disabled={none}
            onClick={acts.changedNothing}
          >
            {words.bench.changedNothing}
          </Button>
          <Button
            type="button"
            quiet
            className="min-h-[64px] wide:col-span-2"
            shortcut="P"
            onClick={acts.startPace}
          >
            <Metronome size={20} aria-hidden="true" />
            {words.bench.paceStart({ seconds: plain(pace.seconds, 2) })}
          </Button>
        </div>
        {children}
        <Endpoint method={method} target={target} />
        <div className={drops === 0 ? "hidden wide:block" : ""}>
          <Preparation method={method} sample={sample} mind={mind} />
        </div>
        <PaceControls {...pace} />
        {method.samples.length > 1 ? (
          <fieldset className="flex flex-wrap gap-2">
            <legend className="mb-1 text-soft">{sampleWhy(advice)}</legend>
            {method.samples.map(({ millilitres }) => (
              <Button
                key={millilitres}
                type="button"
                quiet={millilitres !== sample}
                aria-pressed={millilitres === sample}
                onClick={() => millilitres !== sample && acts.afresh(millilitres)}
              >
                {words.milliliters({ amount: plain(millilitres, 1) })}
              </Button>
            ))}
          </fieldset>
        ) : null}
        <LostCount
          method={method}
          sample={sample}
          begun={drops > 0}
          last={last}
          afresh={acts.afresh}
          fading={method.traps?.includes("metals") ? acts.withTitrantAhead : null}
        />
      </div>
    );
  },
  // The acts do what the newest ones do, whichever object they come in.
  (before, after) =>
    (Object.keys(after) as (keyof Props)[]).every((name) => name === "acts" || before[name] === after[name]),
);
