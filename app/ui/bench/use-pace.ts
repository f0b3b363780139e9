import { useCallback, useEffect, useRef, useState } from "react";
import { beatAfter, PACE_SECONDS } from "#core";
import { words } from "../../words";
import { useStored } from "../use-stored";
import { CALLS, type Call, callNumber, say, stopSpeaking, wakeSound } from "./sounds";

export interface Pace {
  running: boolean;
  /** Near the expected end the beat slows down by itself. */
  slow: boolean;
  seconds: number;
  setSeconds: (seconds: number) => void;
  call: Call;
  setCall: (call: Call) => void;
  start: () => void;
  stop: () => void;
}

interface Paced {
  drops: number;
  expected: number | null;
  /** Counts one drop; called on each beat. */
  drop: () => void;
}

/**
 * Beats at a chosen rate and calls each number, so that both hands stay on bottle and vessel. Any key
 * or tap stops it; the number called last is the count.
 */
export function usePace({ drops, expected, drop }: Paced): Pace {
  const [running, setRunning] = useState(false);
  const [seconds, setSeconds] = useStored("pelagon.pace", PACE_SECONDS.usual, isSeconds);
  const [call, setCall] = useStored<Call>("pelagon.call", "voice", isCall);
  const now = useRef({ drops, drop });
  now.current = { drops, drop };
  const { slow } = beatAfter(drops, expected, seconds);

  const stop = useCallback(() => {
    setRunning(false);
    stopSpeaking();
  }, []);
  const start = () => {
    wakeSound();
    setRunning(true);
  };

  useEffect(() => {
    if (!running) return;
    let due = performance.now();
    let wasSlow = false;
    let timer: ReturnType<typeof setTimeout>;
    const wait = () => {
      const beat = beatAfter(now.current.drops, expected, seconds);
      if (beat.slow && !wasSlow && call === "voice") say(words.bench.slowSpoken);
      wasSlow = beat.slow;
      due += beat.seconds * 1000;
      timer = setTimeout(beatNow, Math.max(0, due - performance.now()));
    };
    const beatNow = () => {
      // A device that slept through beats goes on from now instead of catching up.
      due = Math.max(due, performance.now() - 100);
      const called = now.current.drops + 1;
      now.current.drop();
      callNumber(called, call);
      now.current.drops = called;
      wait();
    };
    wait();
    return () => clearTimeout(timer);
  }, [running, expected, seconds, call]);

  // Before anything else on the page hears of it: the press that stops the beat does nothing more.
  useEffect(() => {
    if (!running) return;
    let swallow = false;
    const halt = (event: Event) => {
      if (event.type === "keydown" && (event as KeyboardEvent).repeat) return;
      event.preventDefault();
      event.stopPropagation();
      swallow = event.type === "pointerdown";
      stop();
    };
    const click = (event: Event) => {
      if (!swallow) return;
      event.preventDefault();
      event.stopPropagation();
      swallow = false;
    };
    window.addEventListener("keydown", halt, { capture: true });
    window.addEventListener("pointerdown", halt, { capture: true });
    window.addEventListener("click", click, { capture: true });
    return () => {
      window.removeEventListener("keydown", halt, { capture: true });
      window.removeEventListener("pointerdown", halt, { capture: true });
      // The click of the tap that stopped it is still to come, on a slow device late; the next tap's counts.
      window.addEventListener(
        "pointerdown",
        () => window.removeEventListener("click", click, { capture: true }),
        { capture: true, once: true },
      );
    };
  }, [running, stop]);

  return { running, slow, seconds, setSeconds, call, setCall, start, stop };
}

const isSeconds = (value: unknown): value is number =>
  typeof value === "number" && value >= PACE_SECONDS.fastest && value <= PACE_SECONDS.slowest;
const isCall = (value: unknown): value is Call => CALLS.some((call) => call === value);
