// The second half of npm run bench:plan: plans over the next calls in a web worker of Chromium, where a phone makes them.
import { mkdtempSync, rmSync } from "node:fs";
import { tmpdir } from "node:os";
import { join } from "node:path";
import { build, preview } from "vite";
import { openBrowser } from "../lib/browser.mjs";
import { ensureDebian } from "../lib/provision.mjs";
import { main } from "../lib/terminal.mjs";

main(async () => {
  await ensureDebian({ browser: true });
  const outDir = mkdtempSync(join(tmpdir(), "pelagon-bench-"));
  const settings = {
    configFile: false,
    root: import.meta.dirname,
    logLevel: "warn",
    worker: { format: "es" },
    build: { outDir, emptyOutDir: true, target: "es2022" },
  };
  await build(settings);
  const server = await preview({ ...settings, preview: { host: "127.0.0.1", port: 0 } });
  const browser = await openBrowser();
  try {
    const page = await browser.page();
    page.on("pageerror", (fault) => console.error(fault));
    await page.goto(server.resolvedUrls.local[0]);
    const counted = await page.waitForFunction(() => window.times, { timeout: 300_000 });
    const times = (await counted.jsonValue()).sort((a, b) => a - b);
    const at = (share) => times[Math.floor(share * times.length)].toFixed(1);
    console.log(
      `in a worker of Chromium: ${times.length} plans over three calls: median ${at(0.5)} ms, p95 ${at(0.95)} ms, most ${at(0.999)} ms`,
    );
  } finally {
    await browser.close();
    await server.close();
    rmSync(outDir, { recursive: true, force: true });
  }
});
