import { Slider } from "radix-ui";
import { memo } from "react";
import { PACE_SECONDS } from "#core";
import { words } from "../../words";
import { plain } from "../format";
import { CALLS } from "./sounds";
import type { Pace } from "./use-pace";

type Props = Pick<Pace, "seconds" | "setSeconds" | "call" | "setCall">;

/** How fast the beat goes and how it calls. */
export const PaceControls = memo(function PaceControls(pace: Props) {
  return (
    <details className="border-t border-rule pt-2">
      <summary className="min-h-[44px] cursor-pointer py-2 text-soft">
        {words.bench.pace({ seconds: plain(pace.seconds, 2), call: pace.call })}
      </summary>
      <div className="grid gap-3 pb-2">
        <Slider.Root
          min={PACE_SECONDS.fastest}
          max={PACE_SECONDS.slowest}
          step={0.25}
          value={[pace.seconds]}
          onValueChange={([seconds]) => seconds !== undefined && pace.setSeconds(seconds)}
          className="relative flex h-12 touch-none items-center select-none"
        >
          <Slider.Track className="relative h-1.5 grow rounded bg-rule">
            <Slider.Range className="absolute h-full rounded bg-action" />
          </Slider.Track>
          <Slider.Thumb
            aria-label={words.bench.paceSeconds}
            className="block h-8 w-8 rounded-full border-2 border-action bg-sheet"
          />
        </Slider.Root>
        <fieldset className="flex flex-wrap gap-2">
          <legend className="sr-only">{words.bench.callBy}</legend>
          {CALLS.map((call) => (
            <button
              key={call}
              type="button"
              aria-pressed={pace.call === call}
              className={pace.call === call ? "action" : "quiet-action"}
              onClick={() => pace.setCall(call)}
            >
              {words.bench.calls[call]}
            </button>
          ))}
        </fieldset>
      </div>
    </details>
  );
});
