import { setTimeout as delay } from "node:timers/promises";
import { expect, it } from "vitest";
import { Crowded, fairQueue } from "./fair-queue";

/** Work that ends when it is told to, and who began in which order. */
function desk() {
  const begun: string[] = [];
  const ends: (() => void)[] = [];
  const work = (who: string) => () => {
    begun.push(who);
    return new Promise<string>((end) => ends.push(() => end(who)));
  };
  const endOne = async () => {
    ends.shift()?.();
    await delay(1);
  };
  return { begun, work, endOne };
}

it("gives each a hand in turn, however much one of them asks for", async () => {
  const queue = fairQueue(2, 64);
  const { begun, work, endOne } = desk();
  const greedy = Array.from({ length: 6 }, () => queue.take("greedy", work("greedy")));
  const modest = [queue.take("one", work("one")), queue.take("two", work("two"))];
  await delay(1);
  expect(begun).toEqual(["greedy", "greedy"]);
  expect(queue.size()).toBe(6);
  for (let end = 0; end < 3; end++) await endOne();
  // The next in turn is the greedy one once more, then each of the others before its third.
  expect(begun).toEqual(["greedy", "greedy", "greedy", "one", "two"]);
  for (let end = 0; end < 6; end++) await endOne();
  expect(await Promise.all([...greedy, ...modest])).toHaveLength(8);
  expect(queue.size()).toBe(0);
});

it("refuses more of one than may wait, and of nobody else", async () => {
  const queue = fairQueue(1, 2);
  const { work, endOne } = desk();
  const taken = ["a", "a", "a"].map((who) => queue.take(who, work(who)));
  await expect(queue.take("a", work("a"))).rejects.toThrow(Crowded);
  const other = queue.take("b", work("b"));
  for (let end = 0; end < 4; end++) await endOne();
  expect(await Promise.all([...taken, other])).toEqual(["a", "a", "a", "b"]);
});

it("goes on after work that failed", async () => {
  const queue = fairQueue(1, 8);
  await expect(queue.take("a", async () => Promise.reject(new Error("broke")))).rejects.toThrow("broke");
  expect(await queue.take("b", async () => "done")).toBe("done");
});
