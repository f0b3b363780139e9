// Brings a bare Debian machine with Node.js to where Pelagon can run: system packages, npm packages, build.
import { existsSync, readdirSync, statSync, writeFileSync } from "node:fs";
import { join } from "node:path";
import { Plain, run, say, step } from "./terminal.mjs";

export const ROOT = join(import.meta.dirname, "..", "..");
export const isRoot = process.getuid?.() === 0;

/** The newest PostgreSQL's folder of programs, or null. */
export function postgresPrograms() {
  const base = "/usr/lib/postgresql";
  if (!existsSync(base)) return null;
  const found = readdirSync(base)
    .sort((a, b) => Number(b) - Number(a))
    .map((version) => join(base, version, "bin"))
    .find((bin) => existsSync(join(bin, "initdb")) && existsSync(join(bin, "pg_ctl")));
  return found ?? null;
}

export const CHROMIUM = "/usr/bin/chromium-headless-shell";

/** Programs of a cluster, and the packages that they come with. */
const CLUSTER = {
  "/usr/bin/etcd": "etcd-server",
  "/usr/bin/patroni": "patroni",
  "/usr/sbin/haproxy": "haproxy",
};

/** Installs the Debian packages that are missing when root; else says the command and stops. */
export async function ensureDebian({ browser = false, cluster = false, backup = false } = {}) {
  const missing = [];
  if (cluster) {
    for (const [program, name] of Object.entries(CLUSTER)) if (!existsSync(program)) missing.push(name);
    // Patroni speaks to etcd by it, and only recommends it.
    if (!existsSync("/usr/lib/python3/dist-packages/etcd")) missing.push("python3-etcd");
  }
  if (backup && !existsSync("/usr/bin/pgbackrest")) missing.push("pgbackrest");
  if (!postgresPrograms()) missing.push("postgresql");
  if (browser && !existsSync(CHROMIUM)) missing.push("chromium-headless-shell");
  if (missing.length === 0) return;
  const command = `apt-get update && apt-get install -y --no-install-recommends ${missing.join(" ")}`;
  if (!isRoot)
    throw new Plain(
      `Missing: ${missing.join(", ")}. Run this once, then start again:\n  sudo sh -c '${command}'`,
    );
  const env = { ...process.env, DEBIAN_FRONTEND: "noninteractive" };
  await step(`Installing ${missing.join(" and ")}`, "sh", ["-c", command], { env });
}

const modified = (path) => (existsSync(path) ? statSync(path).mtimeMs : 0);

/** Runs npm ci when node_modules is missing, half made, or older than the lock. */
export async function ensureModules() {
  const [major, minor] = process.versions.node.split(".").map(Number);
  if (major < 20 || (major === 20 && minor < 19))
    throw new Plain(`Node.js 20.19 or later is needed; this is ${process.version}.`);
  // npm writes this file last, so a half-made folder does not have it.
  const made = modified(join(ROOT, "node_modules", ".package-lock.json"));
  if (made > 0 && made >= modified(join(ROOT, "package-lock.json"))) return;
  await step("Installing npm packages", "npm", ["ci", "--include=dev"], { cwd: ROOT });
}

const SOURCES = [
  "app",
  "core",
  "server",
  "public",
  "package-lock.json",
  "vite.config.ts",
  "vite.worker.config.ts",
  "react-router.config.ts",
  "tsconfig.json",
];

function newest(path) {
  if (!existsSync(path)) return 0;
  const stat = statSync(path);
  if (!stat.isDirectory()) return stat.mtimeMs;
  return readdirSync(path).reduce((latest, name) => Math.max(latest, newest(join(path, name))), stat.mtimeMs);
}

/** Builds when a source is newer than the last build that ran to its end. */
export async function ensureBuild() {
  const stamp = join(ROOT, "build", "complete");
  const changed = Math.max(...SOURCES.map((name) => newest(join(ROOT, name))));
  if (modified(stamp) > changed) return;
  const begun = new Date();
  const env = { ...process.env, NODE_ENV: "production" };
  const bin = (name) => join(ROOT, "node_modules", ".bin", name);
  await step("Building", bin("react-router"), ["build"], { cwd: ROOT, env });
  const worker = ["build", "--config", "vite.worker.config.ts", "--logLevel", "warn"];
  await step("Building the service worker", bin("vite"), worker, { cwd: ROOT, env });
  writeFileSync(stamp, `${begun.toISOString()}\n`);
}

/** Says so and stops when the disk is nearly full: a database that cannot write is worse than none. */
export function ensureSpace(folder, megabytes) {
  const { code, out } = run("df", ["-Pm", folder]);
  const free = Number(out.split("\n")[1]?.split(/\s+/)[3]);
  if (code !== 0 || !Number.isFinite(free)) return say(`Cannot tell how much disk is free at ${folder}.`);
  if (free < megabytes)
    throw new Plain(
      `Only ${free} MB are free at ${folder}; Pelagon needs ${megabytes} MB. Free some space and start again.`,
    );
}
