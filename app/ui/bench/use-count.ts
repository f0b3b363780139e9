import { useCallback, useEffect, useRef, useState } from "react";
import { type CountAction, type CountState, countStep, dropsNotIn, laterCount, newCount } from "#core";
import type { CountKept } from "../../device/count";
import { draftCount } from "../../device/drafts";
import { screenMark } from "./screen";

/**
 * A titration's count. Every tap is on the page and in this device's storage before anything else happens, so
 * that a reload takes none; the newest state is then handed on to be kept and sent. Which copy stands is decided
 * by `laterCount`.
 */
export interface Count {
  state: CountState;
  act: (action: CountAction) => void;
  /** How the server stands to it: it has the count, it does not answer, or it will not take it. */
  server: "has" | "silent" | "refuses";
  /** Where else the count is under way, so that a tap here would count twice. */
  elsewhere: "tab" | "device" | null;
  /** Drops counted here after another screen had taken over; they are not in what stands. */
  notIn: number;
  takeOver: () => void;
  addLost: () => void;
  leaveLost: () => void;
}

export interface CountPlace {
  /** Names the count on this device. */
  key: string;
  /** Keeps it in its visit; null on a bench without one. It must stay the same from one drawing to the next. */
  keep: ((state: CountState) => Promise<CountKept>) | null;
  sample: number;
  onServer: (CountState & { keptAt: Date }) | undefined;
}

/** How it stands is asked anew this often while the server has not taken it. */
const RETRY_MS = 1500;
const REFUSED_RETRY_MS = 10_000;
/** From here on nobody is told that the server has the count. */
const LATE_MS = 1000;
/** Taps that follow one another are kept together; the page has each at once. */
const GATHER_MS = 120;
/** Another device that was heard of within this time is still counting. */
const FRESH_MS = 120_000;
const CHANNEL = "pelagon.counts";

function toDevice(key: string, state: CountState): void {
  try {
    localStorage.setItem(key, JSON.stringify(state));
  } catch {
    // Storage may be full or forbidden; the server copy still stands.
  }
}

const channelOf = () => (typeof BroadcastChannel === "undefined" ? null : new BroadcastChannel(CHANNEL));

export function useCount({ key, keep, sample, onServer }: CountPlace): Count {
  const [state, setState] = useState<CountState>(onServer ?? newCount(sample, ""));
  const [server, setServer] = useState<Count["server"]>("has");
  const [elsewhere, setElsewhere] = useState<Count["elsewhere"]>(null);
  const [notIn, setNotIn] = useState(0);
  const atFirst = useRef(onServer);
  const newest = useRef(state);
  const sending = useRef(false);
  const mounted = useRef(true);
  const channel = useRef<BroadcastChannel | null>(null);

  const adopt = useCallback(
    (next: CountState) => {
      newest.current = next;
      toDevice(key, next);
      setState(next);
    },
    [key],
  );

  /** Another screen holds the count: what it has stands, and what was tapped here since is told. */
  const yieldCount = useCallback(
    (stands: CountState, where: "tab" | "device") => {
      setNotIn(dropsNotIn(newest.current, stands));
      adopt(stands);
      setElsewhere(where);
    },
    [adopt],
  );

  const send = useCallback(async () => {
    if (sending.current || keep === null) return;
    sending.current = true;
    try {
      for (;;) {
        await pause(GATHER_MS);
        const sent = newest.current;
        const late = setTimeout(() => setServer("silent"), LATE_MS);
        const { server: how, stands } = await keep(sent).finally(() => clearTimeout(late));
        setServer(how);
        if (stands && stands.holder !== sent.holder && newest.current.holder === sent.holder)
          return yieldCount(stands, "device");
        if (stands && stands.sequence > newest.current.sequence) adopt(laterCount(newest.current, stands));
        if (newest.current.sequence > sent.sequence) continue;
        if (how === "has") return;
        // What is refused may be taken later, by another rule or after another sign-in; it need not be soon.
        await pause(how === "refuses" ? REFUSED_RETRY_MS : RETRY_MS);
        if (!mounted.current) return;
      }
    } finally {
      sending.current = false;
    }
  }, [adopt, yieldCount, keep]);

  useEffect(() => {
    mounted.current = true;
    const mine = screenMark();
    const here = draftCount(key);
    const known = atFirst.current;
    if (here) {
      // This device wrote down every tap; the server may be behind, or another device ahead.
      const later = known && known.sequence > here.sequence ? known : here;
      if (later !== newest.current) adopt(later);
      if (later.sequence > (known?.sequence ?? -1)) {
        setServer("silent");
        void send();
      }
    }
    const isStrange = known && known.holder !== "" && known.holder !== mine && known.holder !== here?.holder;
    if (isStrange && known.sequence > 0 && Date.now() - known.keptAt.getTime() < FRESH_MS)
      setElsewhere("device");

    const talk = channelOf();
    channel.current = talk;
    if (talk) {
      talk.onmessage = ({ data }) => {
        if (data?.key !== key) return;
        const holds = newest.current.holder === mine && newest.current.sequence > 0;
        if (data.kind === "who" && holds) talk.postMessage({ kind: "here", key, state: newest.current });
        if (data.kind === "here") {
          adopt(data.state);
          setElsewhere("tab");
        }
        if (data.kind === "took") yieldCount(data.state, "tab");
      };
      talk.postMessage({ kind: "who", key });
    }
    return () => {
      mounted.current = false;
      talk?.close();
    };
  }, [key, adopt, yieldCount, send]);

  // What is kept of it changed elsewhere: counted on, taken over, or discarded.
  useEffect(() => {
    const mine = newest.current;
    if (!onServer || onServer.sequence <= mine.sequence) return;
    if (mine.sequence > 0 && mine.holder === screenMark() && onServer.holder !== mine.holder)
      yieldCount(onServer, "device");
    else adopt(onServer);
  }, [onServer, adopt, yieldCount]);

  /** The count is this screen's from here on; the others hear of it. */
  const hold = useCallback(() => {
    const taken = countStep(newest.current, { kind: "take-over", holder: screenMark() });
    if (taken === newest.current) return;
    adopt(taken);
    channel.current?.postMessage({ kind: "took", key, state: taken });
  }, [adopt, key]);

  const act = useCallback(
    (action: CountAction) => {
      const next = countStep(newest.current, action);
      if (next === newest.current) return;
      hold();
      adopt(countStep(newest.current, action));
      void send();
    },
    [adopt, hold, send],
  );

  return {
    state,
    act: elsewhere ? ignore : act,
    server,
    elsewhere,
    notIn,
    takeOver: () => {
      hold();
      setElsewhere(null);
      void send();
    },
    addLost: () => {
      hold();
      adopt(countStep(newest.current, { kind: "add", drops: notIn }));
      setElsewhere(null);
      setNotIn(0);
      void send();
    },
    leaveLost: () => setNotIn(0),
  };
}

const pause = (milliseconds: number) => new Promise((done) => setTimeout(done, milliseconds));

const ignore = () => {};
