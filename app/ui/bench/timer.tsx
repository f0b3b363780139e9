import { Timer as Clock } from "lucide-react";
import { useEffect, useRef, useState } from "react";
import { words } from "../../words";
import { chime, wakeSound } from "./sounds";

/**
 * A step that is timed. The end is kept on this device, so that a reload goes on with it; a clock that
 * was set meanwhile can shorten or end it, never make it longer than it is.
 */
export function Timer({ name, seconds }: { name: string; seconds: number }) {
  const [left, setLeft] = useState<number | null>(null);
  const key = `pelagon.timer.${name}`;
  const ends = useRef<number | null>(null);

  useEffect(() => {
    const kept = Number(sessionStorage.getItem(key));
    if (kept > Date.now()) {
      ends.current = Math.min(kept, Date.now() + seconds * 1000);
      setLeft(secondsTo(ends.current));
    }
  }, [key, seconds]);

  const running = left !== null && left > 0;
  useEffect(() => {
    if (!running) return;
    const tick = setInterval(() => {
      const rest = secondsTo(ends.current ?? 0);
      setLeft(rest);
      if (rest > 0) return;
      chime();
      navigator.vibrate?.([80, 60, 80]);
      sessionStorage.removeItem(key);
    }, 200);
    return () => clearInterval(tick);
  }, [running, key]);

  const start = () => {
    wakeSound();
    ends.current = Date.now() + seconds * 1000;
    sessionStorage.setItem(key, String(ends.current));
    setLeft(seconds);
  };
  return (
    <button type="button" className="quiet-action ml-2 min-h-[44px] px-3 py-1" onClick={start}>
      <Clock size={18} aria-hidden="true" />
      <span role="timer" aria-live={left === 0 ? "polite" : "off"}>
        {left === null
          ? shortSeconds(seconds)
          : left > 0
            ? words.bench.timerLeft({ time: words.durations.shortSeconds({ count: left }) })
            : words.bench.timerDone}
      </span>
    </button>
  );
}

/** How long a wait is: "30 s", "2 min". */
const shortSeconds = (seconds: number): string =>
  seconds < 60
    ? words.durations.shortSeconds({ count: seconds })
    : words.durations.shortMinutes({ count: Math.round(seconds / 60) });

const secondsTo = (end: number): number => Math.max(0, Math.ceil((end - Date.now()) / 1000));
