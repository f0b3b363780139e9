import { describe, expect, it } from "vitest";
import { jobOf, nextDayOf } from "./job";

describe("a job of several calls", () => {
  it("is begun by its recipe, and by no other", () => {
    expect(jobOf("green-pool")).toBe("green");
    expect(jobOf("closing")).toBe("closing");
    expect(jobOf("breakpoint")).toBeNull();
    expect(jobOf("toString")).toBeNull();
  });

  it("calls at a green pool in the evening again, and every morning", () => {
    const begun = "2026-06-08";
    expect(nextDayOf("green", { begun, last: begun, lastWasMorning: true })).toBe(begun);
    expect(nextDayOf("green", { begun, last: begun, lastWasMorning: false })).toBe("2026-06-09");
    expect(nextDayOf("green", { begun, last: "2026-06-30", lastWasMorning: false })).toBe("2026-07-01");
  });

  it("looks at an opened pool after a day and a week, and at a closed one after a week", () => {
    const at = (kind: "opening" | "closing", last: string) =>
      nextDayOf(kind, { begun: "2026-04-01", last, lastWasMorning: true });
    expect(at("opening", "2026-04-01")).toBe("2026-04-02");
    expect(at("opening", "2026-04-02")).toBe("2026-04-08");
    expect(at("opening", "2026-04-05")).toBe("2026-04-08");
    expect(at("opening", "2026-04-08")).toBeNull();
    expect(at("closing", "2026-04-01")).toBe("2026-04-08");
    expect(at("closing", "2026-04-10")).toBeNull();
  });
});
