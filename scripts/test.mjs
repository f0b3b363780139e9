// npm test: from a fresh clone through format, lint, types, walls and every test, to the counts.
import { spawn } from "node:child_process";
import { mkdtempSync, readFileSync, rmSync } from "node:fs";
import { tmpdir } from "node:os";
import { join } from "node:path";
import { ensureBuild, ensureDebian, ensureModules, ROOT } from "./lib/provision.mjs";
import { main, say } from "./lib/terminal.mjs";

const bin = (name) => join(ROOT, "node_modules", ".bin", name);

/** Runs a check with its output shown; returns its exit code. */
function check(name, command, args) {
  const begun = Date.now();
  return new Promise((resolve) => {
    const child = spawn(command, args, { cwd: ROOT, stdio: ["ignore", "inherit", "inherit"] });
    child.on("error", () => resolve(127));
    child.on("exit", (code) => {
      say(`${name}: ${code === 0 ? "fine" : "FAILED"} in ${((Date.now() - begun) / 1000).toFixed(1)} s`);
      resolve(code ?? 1);
    });
  });
}

main(async () => {
  const begun = Date.now();
  await ensureDebian({ browser: true });
  await ensureModules();
  await ensureBuild();

  const results = mkdtempSync(join(tmpdir(), "pelagon-results-"));
  const report = join(results, "vitest.json");
  const typegen = await check("Route types", bin("react-router"), ["typegen"]);
  const checks = [
    typegen,
    await check("Format and lint", bin("biome"), ["check", "--error-on-warnings", "."]),
    await check("Types", bin("tsc"), []),
    await check("Types of the core alone", bin("tsc"), ["-p", "core"]),
    await check("Walls", bin("depcruise"), ["core", "app", "server"]),
  ];
  const tests = await check("Tests", bin("vitest"), [
    "run",
    "--reporter=default",
    "--reporter=json",
    `--outputFile.json=${report}`,
  ]);

  let counted = { numPassedTests: 0, numFailedTests: 0 };
  try {
    counted = JSON.parse(readFileSync(report, "utf8"));
  } catch {
    say("The tests left no report.");
  }
  rmSync(results, { recursive: true, force: true });
  // The checks count as tests of their own, so that the closing line cannot be clean while one failed.
  const passed = counted.numPassedTests + checks.filter((code) => code === 0).length;
  const failed =
    counted.numFailedTests +
    checks.filter((code) => code !== 0).length +
    (tests !== 0 && counted.numFailedTests === 0 ? 1 : 0);
  say(`All in ${((Date.now() - begun) / 60_000).toFixed(1)} minutes`);
  process.stdout.write(`\n${passed} passed, ${failed} failed\n`);
  process.exitCode = failed > 0 || passed === 0 ? 1 : 0;
});
