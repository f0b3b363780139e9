/**
 * Work that waits its turn: of many who want the same few hands, each gets one in turn, however much any of them asks
 * for.
 *
 * @param hands how much is done at a time
 * @param most how much of one may wait; more is refused
 * @example
 * const queue = fairQueue(2, 64);
 * await queue.take("firm one", () => plan(problem));
 */
export function fairQueue(hands: number, most: number) {
  /** Who waits, in the order of their turns. */
  const waiting = new Map<string, (() => void)[]>();
  let busy = 0;

  const next = () => {
    const [first] = waiting;
    if (busy >= hands || !first) return;
    const [who, own] = first;
    const begin = own.shift();
    // Behind all who wait besides.
    waiting.delete(who);
    if (own.length > 0) waiting.set(who, own);
    busy++;
    begin?.();
  };

  return {
    /** How much waits. */
    size: (): number => [...waiting.values()].reduce((sum, own) => sum + own.length, 0),
    /** @throws Crowded where too much of this one waits already */
    async take<Made>(who: string, work: () => Promise<Made>): Promise<Made> {
      const own = waiting.get(who) ?? [];
      if (own.length >= most) throw new Crowded();
      await new Promise<void>((begin) => {
        own.push(begin);
        waiting.set(who, own);
        next();
      });
      try {
        return await work();
      } finally {
        busy--;
        next();
      }
    },
  };
}

/** Too much of one waits already: later. */
export class Crowded extends Error {
  constructor() {
    super("too much of one firm waits already");
  }
}
