import { existsSync, readFileSync } from "node:fs";
import { describe, expect, it } from "vitest";
import { SHORTEST_PASSWORD } from "#server/auth/password-length";
import { guideIn } from "./pages.server";

describe("the guide", () => {
  it.each(["en", "es"])(
    "is six short pages in their order, with pictures that are there, in %s",
    (language) => {
      const guide = guideIn(language);
      expect(guide.map(({ title }) => title.slice(0, 2))).toEqual(["1.", "2.", "3.", "4.", "5.", "6."]);
      for (const { name, html } of guide) {
        const text = readFileSync(`docs/guide/${language}/${name}.md`, "utf8");
        expect(text.split(/\s+/).length, name).toBeLessThan(450);
        const pictures = [...text.matchAll(/!\[[^\]]+\]\(\.\.\/\.\.\/(screenshots\/[\w-]+\.png)\)/g)];
        expect(pictures.length, name).toBeGreaterThan(0);
        for (const [, path] of pictures) expect(existsSync(`docs/${path}`), `${name}: ${path}`).toBe(true);
        // Served, none of them points into the folder of the documents any more.
        expect(html.match(/<img /g)?.length).toBe(pictures.length);
        expect(html).not.toContain("../");
      }
    },
  );

  it("tells the rules of a password as they are", () => {
    expect(SHORTEST_PASSWORD).toBe(12);
    expect(guideIn("en")[0]?.html).toContain("twelve characters or more");
    expect(guideIn("es-MX")[0]?.html).toContain("doce caracteres o más");
  });

  it("is in English where a language has none of its own", () => {
    expect(guideIn("xx")).toBe(guideIn("en"));
    expect(guideIn("en-GB")).toBe(guideIn("en"));
  });
});
