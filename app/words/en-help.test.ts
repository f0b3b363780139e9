import { describe, expect, it } from "vitest";
import { helpFor, SCREEN_HELP } from "./en-help";

describe("what `?` says", () => {
  it("is ten lines at most for every screen that is signed in to", () => {
    for (const { lines } of SCREEN_HELP) {
      expect(lines.length).toBeGreaterThan(2);
      expect(lines.length).toBeLessThanOrEqual(10);
      for (const line of lines) expect(line.length).toBeLessThan(130);
    }
    const visit = "/visits/0190c1d2-0000-7000-8000-000000000000";
    const titles = new Map(
      [
        "/",
        "/basins",
        "/basins/new",
        "/book",
        "/shelf/products",
        "/settings/team",
        "/bench",
        "/practice",
        `${visit}/look`,
        `${visit}/ph`,
        `${visit}/totalAlkalinity`,
        `${visit}/judge`,
        `${visit}/dose`,
        `${visit}/close`,
      ].map((path) => [path, helpFor(path)?.title]),
    );
    expect([...titles.values()].every((title) => title !== undefined)).toBe(true);
    expect(titles.get(`${visit}/close`)).toBe("Close");
    expect(titles.get(`${visit}/totalAlkalinity`)).toBe("A count of drops");
    expect(helpFor("/nowhere")).toBeNull();
  });
});
