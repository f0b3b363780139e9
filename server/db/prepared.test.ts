import { beforeEach, describe, expect, it, vi } from "vitest";

/** A module of its own: what other tests of this process asked for fills the names too. */
let statementName: typeof import("./prepared")["statementName"];
beforeEach(async () => {
  vi.resetModules();
  ({ statementName } = await import("./prepared"));
});

describe("a prepared statement", () => {
  it("has one name for one text, and others for others", () => {
    const name = statementName("select 1 as one");
    expect(name).toMatch(/^pelagon_\d+$/);
    expect(statementName("select 1 as one")).toBe(name);
    expect(statementName("select 2 as two")).not.toBe(name);
    expect(statementName("\n  with given as (select 1) select * from given")).toBeDefined();
  });

  it("is made of reading only", () => {
    for (const text of [
      "begin",
      "commit",
      "set local role pelagon_gate",
      "insert into visit values ($1)",
      "selection",
    ])
      expect(statementName(text), text).toBeUndefined();
  });

  it("is not made without end: a list of every length is a text of its own", () => {
    const texts = Array.from({ length: 1000 }, (_, index) => `select ${index} as many`);
    const named = texts.filter((text) => statementName(text) !== undefined);
    expect(named.length).toBeLessThanOrEqual(300);
    expect(statementName(named[0] ?? "")).toBe(statementName(named[0] ?? ""));
    // Those that found no room stay without.
    expect(statementName("select 1000 as many")).toBeUndefined();
  });
});
