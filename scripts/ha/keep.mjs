// Keeps one part of a cluster on this machine up: started again when it falls. On machines of their own systemd does it.
import { spawn } from "node:child_process";
import { openSync, writeFileSync } from "node:fs";
import { setTimeout as delay } from "node:timers/promises";

const [pidFile, logFile, wait, program, ...args] = process.argv.slice(2);
let ending = false;
let child = null;
const end = () => {
  ending = true;
  if (!child || child.exitCode !== null || child.signalCode !== null) process.exit(0);
  child.kill("SIGTERM");
};
process.on("SIGTERM", end);
process.on("SIGINT", () => {});
process.on("SIGHUP", () => {});

for (;;) {
  const log = openSync(logFile, "a");
  child = spawn(program, args, { stdio: ["ignore", log, log], cwd: "/" });
  writeFileSync(`${pidFile}.child`, `${child.pid ?? ""}\n`);
  await new Promise((over) => {
    child.once("exit", over);
    child.once("error", over);
  });
  if (ending) process.exit(0);
  await delay(Number(wait));
  if (ending) process.exit(0);
}
