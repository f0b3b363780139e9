import { describe, expect, it } from "vitest";
import { helpFor } from "./help";
import { words } from "./language";

/** The bench beside a count of drops in a visit. */
const SAME = 1;

describe("what `?` says", () => {
  it("is ten lines at most for every screen that is signed in to", () => {
    for (const { lines } of Object.values(words.help)) {
      expect(lines.length).toBeGreaterThan(2);
      expect(lines.length).toBeLessThanOrEqual(10);
      for (const line of lines) expect(line.length).toBeLessThan(130);
    }
    const id = "0190c1d2-0000-7000-8000-000000000000";
    const visit = `/visits/${id}`;
    const titles = new Map(
      [
        "/",
        "/basins",
        "/basins/new",
        "/basins/held",
        `/basins/${id}`,
        `/basins/${id}/facts`,
        `/basins/${id}/volume`,
        `/basins/${id}/judgement`,
        `/basins/${id}/what-if`,
        `/basins/${id}/season`,
        `/basins/${id}/compare`,
        "/book",
        "/book/import",
        "/book/month",
        "/shelf",
        "/shelf/products",
        "/shelf/trucks",
        "/shelf/kits",
        "/settings",
        "/settings/team",
        "/settings/ranges",
        "/settings/audit",
        "/settings/health",
        "/settings/calendar",
        "/settings/api",
        "/settings/webhooks",
        "/settings/practice",
        "/settings/work",
        "/bench",
        visit,
        `${visit}/incident`,
        `${visit}/customer`,
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
    expect(titles.get(`${visit}/close`)).toBe("Close the visit");
    expect(titles.get(`${visit}/totalAlkalinity`)).toBe("A count of drops");
    // Each page has its own: none of these is told what another is for.
    expect(new Set(titles.values()).size).toBe(titles.size - SAME);
    expect(helpFor("/nowhere")).toBeNull();
  });
});
