// npm test: from a fresh clone through format, lint, types, walls and every test, to the counts.
import { spawn } from "node:child_process";
import { mkdtempSync, readdirSync, readFileSync, rmSync } from "node:fs";
import { tmpdir } from "node:os";
import { join } from "node:path";
import { ensureBuild, ensureDebian, ensureModules, ROOT } from "./lib/provision.mjs";
import { main, say } from "./lib/terminal.mjs";

const bin = (name) => join(ROOT, "node_modules", ".bin", name);

/** Runs a check with its output shown; returns its exit code. */
function check(name, command, args, environment = {}) {
  const begun = Date.now();
  return new Promise((resolve) => {
    const child = spawn(command, args, {
      cwd: ROOT,
      stdio: ["ignore", "inherit", "inherit"],
      env: { ...process.env, ...environment },
    });
    child.on("error", () => resolve(127));
    child.on("exit", (code) => {
      say(`${name}: ${code === 0 ? "fine" : "FAILED"} in ${((Date.now() - begun) / 1000).toFixed(1)} s`);
      resolve(code ?? 1);
    });
  });
}

const CHECKS = [
  ["Format and lint", "biome", ["check", "--error-on-warnings", "."]],
  ["Types", "tsc", []],
  ["Types of the core alone", "tsc", ["-p", "core"]],
  ["Types of the service worker", "tsc", ["-p", "app/sw"]],
  ["Walls", "depcruise", ["core", "app", "server"]],
];

/** Runs the tests of some projects; a run that ends badly without a failed test counts as one. */
async function tests(name, projects, ports, results, files = []) {
  const report = join(results, `${name}.json`);
  const code = await check(
    `Tests, ${name}`,
    bin("vitest"),
    [
      "run",
      ...projects.map((project) => `--project=${project}`),
      ...files,
      "--reporter=default",
      "--reporter=json",
      `--outputFile.json=${report}`,
    ],
    { PELAGON_TEST_PORTS: `${ports}` },
  );
  try {
    const { numPassedTests: passed, numFailedTests } = JSON.parse(readFileSync(report, "utf8"));
    return { passed, failed: numFailedTests || (code === 0 ? 0 : 1) };
  } catch {
    say(`The tests of ${name} left no report.`);
    return { passed: 0, failed: 1 };
  }
}

main(async () => {
  const begun = Date.now();
  await ensureDebian({ browser: true });
  await ensureModules();
  await ensureBuild();

  const results = mkdtempSync(join(tmpdir(), "pelagon-results-"));
  const checks = [await check("Route types", bin("react-router"), ["typegen"])];
  const screens = readdirSync(join(ROOT, "tests/browser"))
    .filter((file) => file.endsWith(".test.ts"))
    .map((file) => `tests/browser/${file}`);
  // Every third file of the screens' tests goes into the lane of the core, which is done long before them.
  const some = screens.filter((_, index) => index % 3 === 2);
  const rest = screens.filter((file) => !some.includes(file));
  // Three lanes: servers and browsers wait for databases and screens most of their time.
  const lanes = await Promise.all([
    (async () => {
      for (const [name, tool, args] of CHECKS) checks.push(await check(name, bin(tool), args));
      const core = await tests("core", ["core"], 4990, results);
      const more = await tests("browser, some", ["browser"], 4990, results, some);
      return { passed: core.passed + more.passed, failed: core.failed + more.failed };
    })(),
    tests("server", ["server"], 4390, results),
    tests("browser, the rest", ["browser"], 4690, results, rest),
  ]);
  rmSync(results, { recursive: true, force: true });
  // The checks count as tests of their own, so that the closing line cannot be clean while one failed.
  const wrong = checks.filter((code) => code !== 0).length;
  const sum = (of) => lanes.reduce((total, lane) => total + lane[of], 0);
  const passed = sum("passed") + checks.length - wrong;
  const failed = sum("failed") + wrong;
  say(`All in ${((Date.now() - begun) / 60_000).toFixed(1)} minutes`);
  process.stdout.write(`\n${passed} passed, ${failed} failed\n`);
  process.exitCode = failed > 0 || passed === 0 ? 1 : 0;
});
