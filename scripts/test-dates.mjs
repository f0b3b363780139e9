// npm run test:dates [-- NAME …]: the core's and the server's tests on days that catch people out, the clock of the
// tests, the web server and the database moved together by Debian's faketime. A run takes some minutes a day.
import { spawn } from "node:child_process";
import { existsSync, readdirSync } from "node:fs";
import { join } from "node:path";
import { ensureBuild, ensureDebian, ensureModules, isRoot, ROOT } from "./lib/provision.mjs";
import { main, Plain, say, step } from "./lib/terminal.mjs";

/** Moments, UTC, and the zone of the machine where that is not UTC. */
const DAYS = {
  "eve-of-a-month": { at: "2027-04-30T22:40:00Z" },
  "eve-of-a-year": { at: "2026-12-31T20:15:00Z" },
  "new-year": { at: "2027-01-01T00:20:00Z" },
  // Two in the morning is not there in New York, and is there twice in autumn.
  "clocks-forward": { at: "2027-03-14T06:40:00Z", zone: "America/New_York" },
  "clocks-back": { at: "2027-11-07T05:40:00Z", zone: "America/New_York" },
  "leap-day": { at: "2028-02-29T12:30:00Z" },
  // Sunday near midnight, fourteen hours before Greenwich.
  "sunday-a-day-ahead": { at: "2027-05-02T09:30:00Z", zone: "Pacific/Kiritimati" },
};
const PROJECTS = ["core", "server"];

/** The library that moves the clock of a program; installed where it is missing. */
async function faketime() {
  const find = () =>
    ["/usr/lib/x86_64-linux-gnu", "/usr/lib/aarch64-linux-gnu", "/usr/lib"]
      .map((folder) => join(folder, "faketime"))
      .filter((folder) => existsSync(folder))
      .flatMap((folder) => readdirSync(folder).map((name) => join(folder, name)))
      .find((path) => path.includes("libfaketimeMT"));
  const found = find();
  if (found) return found;
  const command = "apt-get update && apt-get install -y --no-install-recommends faketime";
  if (!isRoot)
    throw new Plain(`Missing: faketime. Run this once, then start again:\n  sudo sh -c '${command}'`);
  await step("Installing faketime", "sh", ["-c", command]);
  return find();
}

/** Runs the tests of a project at a moment; null where they pass. */
function runAt(library, project, { at, zone }) {
  const seconds = Math.round((Date.parse(at) - Date.now()) / 1000);
  const child = spawn(
    join(ROOT, "node_modules", ".bin", "vitest"),
    ["run", `--project=${project}`, "--reporter=dot"],
    {
      cwd: ROOT,
      stdio: ["ignore", "pipe", "pipe"],
      env: {
        ...process.env,
        LD_PRELOAD: library,
        FAKETIME: `${seconds < 0 ? "" : "+"}${seconds}s`,
        // Limits and waits go by the machine's own clock.
        FAKETIME_DONT_FAKE_MONOTONIC: "1",
        NO_FAKE_STAT: "1",
        ...(zone ? { TZ: zone } : {}),
      },
    },
  );
  let said = "";
  for (const stream of [child.stdout, child.stderr]) stream.on("data", (chunk) => (said += chunk));
  return new Promise((resolve) => child.on("exit", (code) => resolve(code === 0 ? null : said)));
}

main(async () => {
  await ensureDebian();
  await ensureModules();
  await ensureBuild();
  const library = await faketime();
  const asked = process.argv.slice(2);
  const unknown = asked.filter((name) => !(name in DAYS));
  if (unknown.length > 0)
    throw new Plain(`Unknown: ${unknown.join(", ")}. Known are ${Object.keys(DAYS).join(", ")}.`);
  for (const [name, day] of Object.entries(DAYS)) {
    if (asked.length > 0 && !asked.includes(name)) continue;
    for (const project of PROJECTS) {
      const failed = await runAt(library, project, day);
      say(`${name} (${day.at}${day.zone ? `, ${day.zone}` : ""}), ${project}: ${failed ? "FAILED" : "fine"}`);
      if (!failed) continue;
      process.stdout.write(failed.split("\n").slice(-120).join("\n"));
      process.exitCode = 1;
    }
  }
});
