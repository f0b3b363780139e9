import { Slider } from "radix-ui";
import { memo, useEffect, useId, useRef, useState } from "react";
import { typedNumber } from "../../ui/number-text";

interface Props {
  name: string;
  label: string;
  /** In the canonical unit, as are the span and what is told. */
  start: number;
  low: number;
  high: number;
  step: number;
  /** How the value is shown and typed, where that is another unit. */
  shown?: { from: (value: number) => number; to: (shown: number) => number } | undefined;
  change: (name: string, value: number) => void;
}

/**
 * The thumb is drawn this much after it moved: the worker's answer is there by then, and both are
 * painted in one frame instead of two. Shorter than any key repeats.
 */
const TOGETHER_MS = 8;

/** Steps that a key moves the thumb. */
const STEPS: Record<string, number> = {
  ArrowRight: 1,
  ArrowUp: 1,
  ArrowLeft: -1,
  ArrowDown: -1,
  PageUp: 10,
  PageDown: -10,
};

const same = { from: (value: number) => value, to: (value: number) => value };

/**
 * A number that is slid or typed. It keeps itself, so that moving it draws nothing but itself; whoever
 * listens is told at once. A typed number may lie beyond the slider's span.
 */
export const SliderField = memo(function SliderField({
  name,
  label,
  start,
  low,
  high,
  step,
  shown = same,
  change,
}: Props) {
  const id = useId();
  const [value, setValue] = useState(start);
  const [text, setText] = useState(() => short(shown.from(start)));
  // Where the thumb is to be: it is drawn there a moment later.
  const latest = useRef(start);
  const drawing = useRef<ReturnType<typeof setTimeout>>(undefined);
  useEffect(() => () => clearTimeout(drawing.current), []);
  const slide = (to: number) => {
    const next = Math.min(high, Math.max(low, to));
    latest.current = next;
    change(name, next);
    clearTimeout(drawing.current);
    drawing.current = setTimeout(() => {
      setText(short(shown.from(next)));
      setValue(next);
    }, TOGETHER_MS);
  };
  return (
    <div className="grid grid-cols-[1fr_6.5rem] items-center gap-x-3">
      <label htmlFor={id} className="text-sm text-soft">
        {label}
      </label>
      <div className="row-span-2 h-11">
        <input
          id={id}
          inputMode="decimal"
          autoComplete="off"
          className="h-full w-full text-right font-semibold [contain:strict]"
          value={text}
          onChange={(event) => {
            setText(event.target.value);
            const typed = shown.to(typedNumber(event.target.value));
            if (!Number.isFinite(typed)) return;
            clearTimeout(drawing.current);
            latest.current = typed;
            setValue(typed);
            change(name, typed);
          }}
        />
      </div>
      <div className="h-9">
        <Slider.Root
          className="relative flex h-full touch-none items-center [contain:layout_size_style]"
          value={[Math.min(high, Math.max(low, value))]}
          min={low}
          max={high}
          step={step}
          onKeyDownCapture={(event) => {
            const steps = STEPS[event.key];
            const ends = { Home: low, End: high }[event.key];
            if (steps === undefined && ends === undefined) return;
            // Counted here, from where the thumb is to be: the slider itself counts from where it is drawn.
            event.preventDefault();
            slide(ends ?? latest.current + (steps ?? 0) * (event.shiftKey ? 10 : 1) * step);
          }}
          onValueChange={([next]) => {
            if (next !== undefined) slide(next);
          }}
        >
          <Slider.Track className="relative h-1 grow bg-rule">
            <Slider.Range className="absolute h-full bg-soft" />
          </Slider.Track>
          <Slider.Thumb
            aria-label={label}
            className="block h-8 w-5 cursor-grab rounded-sm border-2 border-ink bg-sheet"
          />
        </Slider.Root>
      </div>
    </div>
  );
});

const short = (value: number): string => String(Number(value.toPrecision(3)));
