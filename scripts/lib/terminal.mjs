// What the scripts say, and how they run other programs. Plain Node.js: this works before npm ci has run.
import { spawn, spawnSync } from "node:child_process";

/** A failure that the person at the terminal can do something about; printed without a stack. */
export class Plain extends Error {}

const steps = process.stdout.isTTY ? "\u001b[2m" : "";
const plain = process.stdout.isTTY ? "\u001b[0m" : "";
export const say = (text) => process.stdout.write(`${steps}·${plain} ${text}\n`);

/** Runs a long step with its name and the seconds it takes; its output is kept and shown when it fails. */
export function step(name, command, args, options = {}) {
  return new Promise((resolve, reject) => {
    const begun = Date.now();
    say(`${name} …`);
    const child = spawn(command, args, { stdio: ["ignore", "pipe", "pipe"], ...options });
    let tail = "";
    const keep = (chunk) => {
      tail = (tail + chunk).slice(-6000);
    };
    child.stdout?.on("data", keep);
    child.stderr?.on("data", keep);
    const beat = setInterval(() => say(`${name}: ${Math.round((Date.now() - begun) / 1000)} s`), 15_000);
    const done = (fault) => {
      clearInterval(beat);
      if (fault) reject(fault);
      else {
        say(`${name}: done in ${((Date.now() - begun) / 1000).toFixed(1)} s`);
        resolve();
      }
    };
    child.on("error", (fault) => done(new Plain(`${name}: ${command} cannot be run (${fault.code}).`)));
    child.on("exit", (code, signal) =>
      done(code === 0 ? null : new Plain(`${name} failed (${signal ?? `exit ${code}`}).\n${tail.trim()}`)),
    );
  });
}

/** Runs a short command; returns { code, out }. */
export function run(command, args, options = {}) {
  const { status, stdout, stderr, error } = spawnSync(command, args, { encoding: "utf8", ...options });
  if (error) return { code: 127, out: error.message };
  return { code: status ?? 1, out: `${stdout ?? ""}${stderr ?? ""}`.trim() };
}

/**
 * As `run`, while this process goes on hearing signals. `input` is handed to it; what `leaves` something
 * running behind is not waited for longer than it lives itself.
 */
export function runAside(command, args, { input, leaves = false, ...options } = {}) {
  return new Promise((resolve) => {
    const child = spawn(command, args, {
      stdio: [input === undefined ? "ignore" : "pipe", "pipe", "pipe"],
      ...options,
    });
    let out = "";
    for (const stream of [child.stdout, child.stderr]) stream.on("data", (chunk) => (out += chunk));
    child.on("error", (fault) => resolve({ code: 127, out: fault.message }));
    child.on(leaves ? "exit" : "close", (code) => resolve({ code: code ?? 1, out: out.trim() }));
    if (input !== undefined) {
      child.stdin.on("error", () => {});
      child.stdin.end(input);
    }
  });
}

/** Runs a script's main function; a Plain failure prints its words, anything else its stack. Exit 1. */
export function main(work) {
  work().catch((fault) => {
    const full = fault?.code === "ENOSPC" ? "The disk is full. Free some space and start again." : null;
    process.stderr.write(`\n${full ?? (fault instanceof Plain ? fault.message : (fault?.stack ?? fault))}\n`);
    process.exit(1);
  });
}
