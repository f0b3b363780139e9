import { setTimeout as delay } from "node:timers/promises";
import { Crowded } from "./fair-queue";

/** Seconds of answering that a firm may take at once, and that it gets back each second. */
const SAVED_UP = 8;
const A_SECOND = 1;
/** No firm owes more: it is let off after some seconds. */
const MOST_OWED = 4;
/** A firm that asked within this is there. Seconds */
const THERE = 2;
/** Between two of one firm that takes too much: so many times what the last took, and no longer than this. Seconds */
const RESTS = 1;
const MOST_REST = 1;
/** So many of one firm may wait. */
const MOST_WAITING = 64;
/** Firms that nobody of has asked for so long are forgotten. Seconds */
const FORGOTTEN = 60;

interface Account {
  left: number;
  counted: number;
  asked: number;
  waiting: number;
  /** Until the one before has had its turn and its rest. */
  turn: Promise<unknown>;
}

/**
 * What firms take of a server's answering. A firm that takes more than its share while others are there is answered one
 * at a time, with a rest after each; whoever is alone, or asks for as much as people do, waits for nothing.
 *
 * @param now seconds
 * @param rest waits for so many seconds
 * @example
 * const pages = shares();
 * await pages.take("firm one", () => next());
 */
export function shares(
  now: () => number = () => performance.now() / 1000,
  rest: (seconds: number) => Promise<unknown> = (seconds) => delay(seconds * 1000),
) {
  const accounts = new Map<string, Account>();

  function accountOf(who: string): Account {
    const at = now();
    let own = accounts.get(who);
    if (!own) {
      for (const [other, { asked, waiting }] of accounts)
        if (waiting === 0 && at - asked > FORGOTTEN) accounts.delete(other);
      own = { left: SAVED_UP, counted: at, asked: at, waiting: 0, turn: Promise.resolve() };
      accounts.set(who, own);
    }
    own.left = Math.min(SAVED_UP, own.left + (at - own.counted) * A_SECOND);
    own.counted = at;
    return own;
  }

  const isAlone = (own: Account): boolean => {
    const at = now();
    return ![...accounts.values()].some((one) => one !== own && at - one.asked <= THERE);
  };

  async function charged<Made>(who: string, work: () => Promise<Made>): Promise<Made> {
    const begun = now();
    try {
      return await work();
    } finally {
      const own = accountOf(who);
      own.left = Math.max(-MOST_OWED, own.left - (now() - begun));
    }
  }

  return {
    /**
     * @param isBegun it is part of something that was begun: it waits behind however many, for half a file is none
     * @throws Crowded where too much of this one waits already
     */
    async take<Made>(who: string, work: () => Promise<Made>, isBegun = false): Promise<Made> {
      const own = accountOf(who);
      own.asked = now();
      // Behind those of its own who wait: else they would all come at once whenever something is saved up again.
      if (isAlone(own) || (own.left > 0 && own.waiting === 0)) return charged(who, work);
      if (own.waiting >= MOST_WAITING && !isBegun) throw new Crowded();
      own.waiting++;
      const before = own.turn;
      let over = () => {};
      own.turn = new Promise<void>((resolve) => {
        over = resolve;
      });
      await before;
      own.waiting--;
      const begun = now();
      try {
        return await charged(who, work);
      } finally {
        void rest(isAlone(own) ? 0 : Math.min(MOST_REST, RESTS * (now() - begun))).then(over);
      }
    },
  };
}

export type Shares = ReturnType<typeof shares>;
