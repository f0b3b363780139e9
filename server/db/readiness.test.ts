import { describe, expect, it } from "vitest";
import type { Database } from "./connection";
import { noteFull, writable } from "./readiness";

/** A database that says whether it was asked. */
const db = {
  transaction() {
    throw new Error("asked");
  },
} as unknown as Database;
const full = Object.assign(new Error("could not extend file"), { code: "53100" });
const at = (seconds: number) => new Date(Date.UTC(2026, 5, 1) + seconds * 1000);
/** As whoever sends people here asks: what it is told is noted, as every fault is. */
async function ask(seconds: number): Promise<unknown> {
  try {
    await writable(db, at(seconds));
    return null;
  } catch (fault) {
    noteFull(fault, at(seconds));
    return fault;
  }
}

describe("a disk that was full a moment ago", () => {
  it("is taken to be full for a minute, and tried again then, however often somebody asks", async () => {
    expect(await ask(0)).toMatchObject({ message: "asked" });
    noteFull(full, at(1));
    for (const seconds of [2, 20, 40, 60]) expect(await ask(seconds)).toBe(full);
    expect(await ask(62)).toMatchObject({ message: "asked" });
  });

  it("is full once more where a statement finds it so", async () => {
    noteFull(Object.assign(new Error("again"), { code: "53100" }), at(70));
    expect(await ask(72)).toMatchObject({ message: "again" });
    noteFull(new Error("something else"), at(75));
    expect(await ask(131)).toMatchObject({ message: "asked" });
  });
});
