import { useCallback, useEffect, useMemo, useRef, useState } from "react";
import {
  afterHand,
  afterSeconds,
  type HandEvent,
  hiddenWater,
  type Method,
  type Mixing,
  newVessel,
  type Vessel,
} from "#core";
import { screenMark } from "../../ui/bench/screen";
import { NOW_KEY, readUnderWay, type UnderWay, writeUnderWay } from "./kept";

type Doing = HandEvent extends infer One ? (One extends HandEvent ? Omit<One, "after"> : never) : never;

export interface Hands {
  /** The line that the sample is poured to, mL. */
  line: number;
  /** Pours it out and begins again, with a sample of this size. */
  anew: (millilitres: number) => void;
  events: readonly HandEvent[];
  /** Another at each thing that is done, and by the sample: what chance has a hand in goes by it. */
  turn: number;
  vessel: Vessel;
  /** The vessel at this very moment, its plume spreading; for a picture. */
  now: () => { vessel: Vessel; swirling: boolean };
  does: (event: Doing) => void;
  /** Mixes as long as it is held. */
  hold: (how: Mixing) => void;
  release: () => void;
  holding: Mixing | null;
  /** Lets time pass at once. */
  pass: (seconds: number) => void;
  angle: number;
  setAngle: (angle: number) => void;
  /** Seconds since the last event. */
  since: () => number;
  /** Another tab works this test. */
  elsewhere: boolean;
  takeOver: () => void;
}

/** Nobody stands still for longer than this between two things: the clock of a test that was left waits. s */
const LONGEST_PAUSE = 90;

/** What hands do to one sample, written down as they do it. */
export function useHands(begun: UnderWay, method: Method): Hands {
  const [events, setEvents] = useState<HandEvent[]>(begun.events);
  const [line, setLine] = useState(begun.line);
  const [angle, setAngle] = useState(() => (begun.way === "alone" ? 15 + (begun.seed % 4) * 10 : 0));
  const [holding, setHolding] = useState<Mixing | null>(null);
  const [elsewhere, setElsewhere] = useState(false);
  const clock = useRef({ at: performance.now(), skipped: 0, heldFrom: 0 });
  const newest = useRef({ events, line });
  const water = useMemo(() => hiddenWater(begun.story, begun.seed), [begun.story, begun.seed]);
  const vessel = useMemo(
    () => events.reduce<Vessel>((before, event) => afterHand(before, event), newVessel(method, water, line)),
    [events, method, water, line],
  );
  const standing = useRef(vessel);
  standing.current = vessel;

  const since = useCallback(
    () => Math.min(LONGEST_PAUSE, (performance.now() - clock.current.at) / 1000) + clock.current.skipped,
    [],
  );
  const does = useCallback(
    (event: Doing) => {
      const next = [...newest.current.events, { ...event, after: since() } as HandEvent];
      clock.current = { ...clock.current, at: performance.now(), skipped: 0 };
      newest.current.events = next;
      setEvents(next);
      writeUnderWay({ ...begun, line: newest.current.line, events: next, holder: screenMark() });
    },
    [begun, since],
  );
  const release = useCallback(() => {
    setHolding((how) => {
      if (how !== null) {
        const seconds = (performance.now() - clock.current.heldFrom) / 1000;
        // The time of mixing is the event's own.
        clock.current.at += seconds * 1000;
        queueMicrotask(() => does({ kind: "mix", how, seconds: Math.max(0.2, seconds) }));
      }
      return null;
    });
  }, [does]);

  useEffect(() => {
    // Another tab that works the same test wrote last: here it waits.
    const hear = (event: StorageEvent) => {
      if (event.key !== NOW_KEY) return;
      const there = readUnderWay();
      setElsewhere(there !== null && there.id === begun.id && there.holder !== screenMark());
    };
    window.addEventListener("storage", hear);
    return () => window.removeEventListener("storage", hear);
  }, [begun.id]);

  return {
    line,
    anew: (millilitres) => {
      newest.current = { events: [], line: millilitres };
      setLine(millilitres);
      setEvents([]);
      writeUnderWay({ ...begun, line: millilitres, events: [], holder: screenMark() });
    },
    events,
    turn: begun.seed + events.length,
    vessel,
    now: () => {
      const swirling = holding !== null;
      const still = since();
      return { vessel: afterSeconds(standing.current, still, swirling), swirling };
    },
    does,
    hold: (how) => {
      clock.current.heldFrom = performance.now();
      setHolding(how);
    },
    release,
    holding,
    pass: (seconds) => {
      clock.current.skipped += seconds;
      does({ kind: "light", light: standing.current.light });
    },
    angle,
    setAngle,
    since,
    elsewhere,
    takeOver: () => {
      const there = readUnderWay();
      if (there?.id === begun.id) {
        newest.current = { events: there.events, line: there.line };
        setEvents(there.events);
        setLine(there.line);
      }
      writeUnderWay({ ...begun, ...newest.current, holder: screenMark() });
      setElsewhere(false);
    },
  };
}
