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
  ["Words", process.execPath, ["scripts/check-words.mjs"]],
  ["Walls", bin("depcruise"), ["core", "app", "server"]],
];

/** Where each lane looks for ports. */
const LANE_PORTS = [4390, 4690, 4990, 5290];
const SCREEN_PARTS = 3;
const SERVER_PARTS = 2;
/** Long, and alone for most of their time. */
const STARTS = ["start", "new-firm", "backup", "frozen"].map((name) => `tests/server/${name}.test.ts`);

/** As long as a part by itself: it walks every screen three times. */
const WALKS = "tests/browser/languages.test.ts";

/** The test files below a folder, the large ones first. */
const filesIn = (folder) =>
  readdirSync(join(ROOT, folder), { recursive: true })
    .filter((file) => file.endsWith(".test.ts"))
    .map((file) => `${folder}/${file}`)
    .sort((a, b) => statSync(join(ROOT, b)).size - statSync(join(ROOT, a)).size);

/** Files in turn, so that no large one shares its part with the next. */
const partsOf = (files, count) =>
  Array.from({ length: count }, (_, part) => files.filter((_, index) => index % count === part));

/** Runs tests of a project, all of them or some files; a run that ends badly without a failed test counts as one. */
async function tests(name, project, ports, results, files = []) {
  const report = join(results, `${name}.json`);
  const code = await check(
    `Tests, ${name}`,
    bin("vitest"),
    [
      "run",
      `--project=${project}`,
      ...files,
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
  // Made of packages that were not there a moment ago.
  const { compileMessages } = await import("./lib/messages.mjs");
  compileMessages(join(ROOT, "app", "messages"));
  const checks = [await check("Route types", bin("react-router"), ["typegen"])];
  // Beside the build, which keeps one core busy.
  const checking = (async () => {
    for (const [name, tool, args] of CHECKS) checks.push(await check(name, tool, args));
  })();
  await ensureBuild();

  const servers = [...filesIn("tests/server"), ...filesIn("server")].filter((file) => !STARTS.includes(file));
  const parts = (name, project, files, count) =>
    partsOf(files, count).map(
      (some, index) => (ports) => tests(`${name} ${index + 1}`, project, ports, results, some),
    );
  // The longest first, and before all what waits most of its time; what is left goes to whichever lane is free.
  const screens = filesIn("tests/browser").filter((file) => file !== WALKS);
  const jobs = [
    (ports) => tests("walks", "browser", ports, results, [WALKS]),
    (ports) => tests("starts", "server", ports, results, STARTS),
    ...parts("server", "server", servers, SERVER_PARTS),
    ...parts("browser", "browser", screens, SCREEN_PARTS),
    async (ports) => {
      await checking;
      return tests("core", "core", ports, results);
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
