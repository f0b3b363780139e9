import { MOST_DROPS } from "../titration";

/**
 * One titration's running count. Every tap makes a new state with the next sequence number. A count is
 * kept in three places (page, device, server); one screen at a time holds it, and its later state
 * always wins, so that sending a state twice, late or never does no harm.
 */
export interface CountState {
  /** Drops that count. */
  drops: number;
  /** Of these, titrant that went in ahead of the indicator. */
  ahead: number;
  /** Drops that changed nothing: not counted, but gone from the bottle. */
  idle: number;
  /** mL */
  sample: number;
  /** The screen that holds the count. */
  holder: string;
  /** How often it changed hands. */
  term: number;
  /** Taps so far, takebacks and changes of sample included. Never goes down. */
  sequence: number;
}

export type CountAction =
  | { kind: "drop" }
  | { kind: "take-back" }
  /** The last drop changed nothing: the one before it was the end. */
  | { kind: "no-change" }
  | { kind: "start-again" }
  | { kind: "sample"; millilitres: number }
  /** A new sample that begins with titrant ahead of the indicator. */
  | { kind: "ahead"; drops: number }
  | { kind: "add"; drops: number }
  | { kind: "restore"; state: Pick<CountState, "drops" | "ahead" | "idle" | "sample"> }
  | { kind: "take-over"; holder: string };

/** @example newCount(25, "a").drops // 0 */
export const newCount = (sample: number, holder: string): CountState => ({
  drops: 0,
  ahead: 0,
  idle: 0,
  sample,
  holder,
  term: 0,
  sequence: 0,
});

/**
 * The state after one action. A drop past the most that a vessel takes, and a take-back at zero,
 * change nothing and are not counted as taps. A new sample starts at zero.
 * @example countStep(newCount(25, "a"), { kind: "drop" }).drops // 1
 */
export function countStep(state: CountState, action: CountAction): CountState {
  const next = (change: Partial<CountState>): CountState => ({
    ...state,
    ...change,
    sequence: state.sequence + 1,
  });
  const afresh = { drops: 0, ahead: 0, idle: 0 };
  switch (action.kind) {
    case "drop":
      return state.drops >= MOST_DROPS ? state : next({ drops: state.drops + 1 });
    case "add":
      return next({ drops: Math.min(MOST_DROPS, state.drops + Math.max(0, action.drops)) });
    case "take-back":
      return state.drops === state.ahead ? state : next({ drops: state.drops - 1 });
    case "no-change":
      return state.drops === state.ahead ? state : next({ drops: state.drops - 1, idle: state.idle + 1 });
    case "start-again":
      return state.drops === 0 ? state : next(afresh);
    case "ahead":
      return next({ ...afresh, drops: action.drops, ahead: action.drops });
    case "restore":
      return next(action.state);
    case "sample":
      return action.millilitres === state.sample ? state : next({ ...afresh, sample: action.millilitres });
    case "take-over":
      return action.holder === state.holder ? state : next({ holder: action.holder, term: state.term + 1 });
  }
}

/**
 * Which of two copies stands. The holder's later copy does; another screen's only when it took the
 * count over since. A screen that lost the count can tap on: nothing of it gets in by itself, and it
 * is told (see `dropsNotIn`).
 *
 * @param stands the copy that is known
 * @param sent the copy that arrives
 * @example laterCount({ ...newCount(25, "a"), sequence: 4, drops: 4 }, { ...newCount(25, "a"), sequence: 5, drops: 5 }).drops // 5
 */
export function laterCount(stands: CountState, sent: CountState): CountState {
  if (sent.sequence <= stands.sequence) return stands;
  const goesOn = sent.term === stands.term && sent.holder === stands.holder;
  return goesOn || sent.term > stands.term ? sent : stands;
}

/**
 * Drops that this screen counted after another had taken over; they are not in what stands.
 * @example dropsNotIn({ ...newCount(25, "a"), drops: 7 }, { ...newCount(25, "b"), drops: 5, term: 1 }) // 2
 */
export const dropsNotIn = (mine: CountState, stands: CountState): number =>
  mine.holder !== stands.holder && mine.sample === stands.sample ? Math.max(0, mine.drops - stands.drops) : 0;
