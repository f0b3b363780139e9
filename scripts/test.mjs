// npm test: from a fresh clone through format, lint, types, walls and every test, to the counts.
import { spawn } from "node:child_process";
import { mkdtempSync, readdirSync, readFileSync, rmSync, statSync } from "node:fs";
import { tmpdir } from "node:os";
import { join, relative } from "node:path";
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

/** The compiler that is a program of its own: a fifth of the work of the one that the other tools are written for. */
const TSC = join(ROOT, "node_modules", "typescript-native", "bin", "tsc");
const CHECKS = [
  ["Format and lint", bin("biome"), ["check", "--error-on-warnings", "."]],
  ["Types", TSC, []],
  ["Types of the core alone", TSC, ["-p", "core"]],
  ["Types of the service worker", TSC, ["-p", "app/sw"]],
  ["Walls", bin("depcruise"), ["core", "app", "server"]],
];

/** Where each lane looks for ports. */
const LANE_PORTS = [4390, 4690, 4990, 5290];
const SCREEN_PARTS = 3;
/** Long, and alone for most of their time. */
const STARTS = ["start", "new-firm", "backup", "frozen"].map((name) => `tests/server/${name}.test.ts`);

/** Runs the tests of some projects; a run that ends badly without a failed test counts as one. */
async function tests(name, projects, ports, results, files = [], without = []) {
  const report = join(results, `${name}.json`);
  const code = await check(
    `Tests, ${name}`,
    bin("vitest"),
    [
      "run",
      ...projects.map((project) => `--project=${project}`),
      ...files,
      ...without.map((file) => `--exclude=${file}`),
      "--reporter=default",
      "--reporter=json",
      `--outputFile.json=${report}`,
    ],
    { PELAGON_TEST_PORTS: `${ports}` },
  );
  try {
    const { numPassedTests: passed, numFailedTests, testResults } = JSON.parse(readFileSync(report, "utf8"));
    return {
      passed,
      failed: numFailedTests || (code === 0 ? 0 : 1),
      said: testResults.filter(({ status }) => status === "failed").map(whatFailed),
    };
  } catch {
    return { passed: 0, failed: 1, said: [`The tests of ${name} left no report.`] };
  }
}

/** A file's failed tests with the head of what each said: told again at the end, where they are found. */
function whatFailed({ name, message, assertionResults }) {
  const failed = assertionResults
    .filter(({ status }) => status === "failed")
    .map(({ fullName, failureMessages }) => `  ${fullName}\n${failureMessages.join("\n").slice(0, 1500)}`);
  return [`FAILED ${relative(ROOT, name)}`, ...(failed.length > 0 ? failed : [message])].join("\n");
}

main(async () => {
  const begun = Date.now();
  await ensureDebian({ browser: true });
  await ensureModules();
  const results = mkdtempSync(join(tmpdir(), "pelagon-results-"));
  const checks = [await check("Route types", bin("react-router"), ["typegen"])];
  // Beside the build, which keeps one core busy.
  const checking = (async () => {
    for (const [name, tool, args] of CHECKS) checks.push(await check(name, tool, args));
  })();
  await ensureBuild();

  const filesIn = (folder) =>
    readdirSync(join(ROOT, folder))
      .filter((file) => file.endsWith(".test.ts"))
      .map((file) => `${folder}/${file}`);
  // The large ones first, so that none shares its part with another.
  const screens = filesIn("tests/browser").sort(
    (a, b) => statSync(join(ROOT, b)).size - statSync(join(ROOT, a)).size,
  );
  const part = (of) => screens.filter((_, index) => index % SCREEN_PARTS === of);
  // The longest first, and before all what waits most of its time; what is left goes to whichever lane is free.
  const jobs = [
    (ports) => tests("starts", ["server"], ports, results, STARTS),
    (ports) => tests("server", ["server"], ports, results, [], STARTS),
    ...Array.from(
      { length: SCREEN_PARTS },
      (_, index) => (ports) => tests(`browser ${index + 1}`, ["browser"], ports, results, part(index)),
    ),
    async (ports) => {
      await checking;
      return tests("core", ["core"], ports, results);
    },
  ];
  const done = [];
  // More lanes than processors: servers and browsers wait for databases and screens much of their time.
  await Promise.all(
    LANE_PORTS.map(async (ports) => {
      for (let job = jobs.shift(); job; job = jobs.shift()) done.push(await job(ports));
    }),
  );
  rmSync(results, { recursive: true, force: true });
  // The checks count as tests of their own, so that the closing line cannot be clean while one failed.
  const wrong = checks.filter((code) => code !== 0).length;
  const sum = (of) => done.reduce((total, one) => total + one[of], 0);
  const passed = sum("passed") + checks.length - wrong;
  const failed = sum("failed") + wrong;
  for (const failure of done.flatMap(({ said }) => said)) say(failure);
  say(`All in ${((Date.now() - begun) / 60_000).toFixed(1)} minutes`);
  process.stdout.write(`\n${passed} passed, ${failed} failed\n`);
  process.exitCode = failed > 0 || passed === 0 ? 1 : 0;
});
