import { type ReactNode, useEffect, useState } from "react";
import { chime } from "./bench/sounds";
import { leftText } from "./format";

/**
 * Seconds until a moment that the server has written down: the same on every device and after every
 * reload. `now` is the server's clock at the last read, so that a wrong clock here does not matter.
 */
export function useSecondsLeft(until: Date | null, now: Date): number {
  const end = until?.getTime() ?? 0;
  const server = now.getTime();
  const [left, setLeft] = useState(Math.max(0, (end - server) / 1000));
  useEffect(() => {
    const begun = performance.now();
    const rest = () => Math.max(0, (end - server - (performance.now() - begun)) / 1000);
    setLeft(rest());
    if (rest() <= 0) return;
    const tick = setInterval(() => {
      const now = rest();
      setLeft(now);
      if (now > 0) return;
      clearInterval(tick);
      chime();
      navigator.vibrate?.([80, 60, 80]);
    }, 250);
    return () => clearInterval(tick);
  }, [end, server]);
  return left;
}

/** A wait that runs, told in a sentence; another once it is over. */
export function Countdown({
  until,
  now,
  says,
  over,
}: {
  until: Date | null;
  now: Date;
  says: (values: { left: string }) => string;
  over: ReactNode;
}) {
  const left = useSecondsLeft(until, now);
  if (!until) return null;
  return (
    <span role="timer" aria-live="off">
      {left > 0 ? says({ left: leftText(left) }) : over}
    </span>
  );
}
