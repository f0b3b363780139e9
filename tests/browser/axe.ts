import { readFileSync } from "node:fs";
import { createRequire } from "node:module";
import type { Page } from "puppeteer-core";

const axe = readFileSync(createRequire(import.meta.url).resolve("axe-core/axe.min.js"), "utf8");

/** Every rule in the light theme; in the dark one those that a theme can break: its colours. */
export async function violations(page: Page): Promise<string[]> {
  // biome-ignore lint/suspicious/noExplicitAny: put there by the script
  if (!(await page.evaluate(() => "axe" in (window as any)))) await page.evaluate(axe);
  const all: string[] = [];
  for (const theme of ["light", "dark"] as const) {
    await page.emulateMediaFeatures([{ name: "prefers-color-scheme", value: theme }]);
    const found = await page.evaluate(
      (only) =>
        // biome-ignore lint/suspicious/noExplicitAny: put there by the script above
        (window as any).axe.run(document, {
          resultTypes: ["violations"],
          ...(only ? { runOnly: ["color-contrast"] } : {}),
        }),
      theme === "dark",
    );
    all.push(
      ...found.violations
        .filter((one: { impact: string }) => one.impact === "serious" || one.impact === "critical")
        .map((one: { id: string; nodes: { html: string }[] }) => `${theme} ${one.id}: ${one.nodes[0]?.html}`),
    );
  }
  return all;
}
