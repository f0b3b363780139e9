import { describe, expect, it } from "vitest";
import { Crowded } from "./fair-queue";
import { shares } from "./shares";

/** A clock that goes on only as work and rests take their time. */
function bench() {
  let at = 0;
  const sleepers: { until: number; wake: () => void }[] = [];
  const rest = (seconds: number) =>
    new Promise<void>((wake) => void sleepers.push({ until: at + seconds, wake }));
  const pages = shares(() => at, rest);
  const settle = () => new Promise((resolve) => setImmediate(resolve));
  return {
    pages,
    /** Work of one firm, noted as it begins. */
    ask: (who: string, seconds: number, begun: string[]) =>
      pages.take(who, async () => {
        begun.push(`${who} ${at.toFixed(1)}`);
        await rest(seconds);
      }),
    async pass(seconds: number) {
      const end = at + seconds;
      for (;;) {
        await settle();
        sleepers.sort((a, b) => a.until - b.until);
        const [first] = sleepers;
        if (!first || first.until > end) break;
        sleepers.shift();
        at = Math.max(at, first.until);
        first.wake();
      }
      at = end;
      await settle();
    },
  };
}

describe("what firms take of a server's answering", () => {
  it("is as much as they ask for while nobody else is there", async () => {
    const { ask, pass } = bench();
    const begun: string[] = [];
    for (let turn = 0; turn < 3; turn++) {
      for (let one = 0; one < 20; one++) void ask("a", 1, begun);
      await pass(1);
    }
    expect(begun).toHaveLength(60);
    expect(new Set(begun)).toEqual(new Set(["a 0.0", "a 1.0", "a 2.0"]));
  });

  it("is one at a time with a rest after each, for who has taken too much beside others", async () => {
    const { ask, pass } = bench();
    const begun: string[] = [];
    for (let one = 0; one < 20; one++) void ask("a", 1, begun);
    await pass(1);
    begun.length = 0;
    // Somebody of another firm looks at a page each second, and never waits.
    for (let second = 0; second < 6; second++) {
      void ask("b", 0.2, begun);
      for (let one = 0; one < 4; one++) void ask("a", 0.5, begun);
      await pass(1);
    }
    expect(begun.filter((one) => one.startsWith("b"))).toEqual([1, 2, 3, 4, 5, 6].map((at) => `b ${at}.0`));
    const crowd = begun.filter((one) => one.startsWith("a")).map((one) => Number(one.slice(2)));
    expect(crowd.length).toBeGreaterThan(2);
    expect(crowd.length).toBeLessThanOrEqual(7);
    for (const [index, at] of crowd.entries())
      if (index > 1) expect(at - (crowd[index - 1] ?? 0)).toBeGreaterThanOrEqual(0.99);
  });

  it("is let off some seconds after it has stopped", async () => {
    const { ask, pass } = bench();
    const begun: string[] = [];
    for (let one = 0; one < 20; one++) void ask("a", 1, begun);
    await pass(14);
    begun.length = 0;
    void ask("b", 0.1, begun);
    for (let one = 0; one < 3; one++) void ask("a", 0.1, begun);
    await pass(0);
    expect(begun).toEqual(["b 14.0", "a 14.0", "a 14.0", "a 14.0"]);
    await pass(1);
  });

  it("is refused to whoever lets too much of it wait, and a fault of the work is told as it is", async () => {
    const { ask, pass, pages } = bench();
    const begun: string[] = [];
    for (let one = 0; one < 20; one++) void ask("a", 1, begun);
    await pass(1);
    void ask("b", 1, begun);
    const asked = Array.from({ length: 70 }, () =>
      ask("a", 0.1, begun).then(
        () => "done",
        (fault) => fault,
      ),
    );
    await pass(0);
    await expect(Promise.race([asked[69], Promise.resolve("waits")])).resolves.toBeInstanceOf(Crowded);
    // A file that was begun goes on behind them.
    let isWritten = false;
    const part = async () => {
      isWritten = true;
    };
    const written = pages.take("a", part, true);
    await pass(60);
    await written;
    expect(isWritten).toBe(true);
    await expect(
      pages.take("b", async () => {
        throw new Error("as it is");
      }),
    ).rejects.toThrow("as it is");
  });
});
