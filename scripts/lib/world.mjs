// A whole Pelagon to try things on: a throw-away cluster and the web server from the build, on free ports.
import { spawn } from "node:child_process";
import { appendFileSync, chmodSync, mkdtempSync, readFileSync, rmSync } from "node:fs";
import { tmpdir } from "node:os";
import { join } from "node:path";
import { account, openCluster, portFree } from "./cluster.mjs";
import { isRoot, postgresPrograms, ROOT } from "./provision.mjs";
import { Plain, runAside } from "./terminal.mjs";

/**
 * A cluster that leaves nothing behind; `keeps` what was committed when it is killed, and is slower for it.
 * Its folder is one that the account postgres can enter.
 */
export async function throwAwayCluster({ keeps = false } = {}) {
  const base = isRoot ? "/var/tmp" : tmpdir();
  const folder = mkdtempSync(join(base, "pelagon-try-"));
  chmodSync(folder, 0o755);
  const cluster = await openCluster(folder, { throwAway: true, keeps });
  return {
    url: cluster.url,
    ownerUrl: cluster.ownerUrl,
    superuserUrl: cluster.superuserUrl(),
    postmaster: () => Number(readFileSync(join(folder, "cluster", "postmaster.pid"), "utf8").split("\n")[0]),
    startAgain: cluster.start,
    standby: (delayMs) => standbyIn(folder, cluster.superuserUrl("postgres"), delayMs),
    async stop() {
      await cluster.stop({ atOnce: true });
      rmSync(folder, { recursive: true, force: true });
    },
  };
}

/**
 * A standby of a throw-away cluster, in its folder: it goes with it, but is stopped before.
 * @param delayMs it replays what was committed only so long after
 * @returns how to say an address of the cluster as one of the standby
 */
async function standbyIn(folder, superuserUrl, delayMs = 0) {
  const data = join(folder, "standby");
  const port = await freePort(54_900);
  const tool = async (name, args, options = {}) => {
    const { code, out } = await runAside(join(postgresPrograms(), name), args, {
      ...account(),
      cwd: "/",
      ...options,
    });
    if (code !== 0) throw new Plain(`${name} of a standby went wrong:\n${out}`);
  };
  await runAside("install", ["-d", "-m", "700", ...(isRoot ? ["-o", "postgres"] : []), data]);
  await tool("pg_basebackup", ["-d", superuserUrl, "-D", data, "-R", "-c", "fast", "--no-sync"]);
  appendFileSync(join(data, "postgresql.auto.conf"), `recovery_min_apply_delay = ${delayMs}\n`);
  const options = `-p ${port} -c listen_addresses=127.0.0.1 -c unix_socket_directories='' -c max_connections=60 -c fsync=off`;
  await tool(
    "pg_ctl",
    ["start", "-D", data, "-w", "-t", "90", "-l", join(data, "standby.log"), "-s", "-o", options],
    { leaves: true },
  );
  return {
    at: (address) => Object.assign(new URL(address), { port }).href,
    stop: () => tool("pg_ctl", ["stop", "-D", data, "-m", "immediate", "-w", "-s"]),
  };
}

async function freePort(from) {
  for (let port = from; port < from + 300; port++) if (await portFree(port)) return port;
  throw new Plain(`No free port from ${from} on.`);
}

/**
 * Tests that run side by side look for ports in places of their own: a server that is killed to be started
 * again must find its port free.
 */
const FIRST_WEB_PORT = Number(process.env.PELAGON_TEST_PORTS ?? 4390);

/** The web server on a database; `kill` and `start` again keep its address. */
export async function webServer(database, environment = {}) {
  for (let from = FIRST_WEB_PORT; ; ) {
    const port = await freePort(from);
    try {
      return await serverAt(port, database, environment);
    } catch (fault) {
      // Another program took the port between the look and the listening.
      if (!/EADDRINUSE/.test(fault.message)) throw fault;
      from = port + 1;
    }
  }
}

async function serverAt(port, { url, ownerUrl }, environment) {
  const address = `http://127.0.0.1:${port}`;
  let child;
  let said;
  const start = () =>
    new Promise((resolve, reject) => {
      said = "";
      child = spawn(process.execPath, [join(ROOT, "scripts", "serve.mjs")], {
        cwd: ROOT,
        env: {
          ...process.env,
          DATABASE_URL: url,
          DATABASE_OWNER_URL: ownerUrl,
          HOST: "127.0.0.1",
          PORT: `${port}`,
          NODE_ENV: "production",
          ...environment,
        },
        stdio: ["ignore", "pipe", "pipe"],
      });
      const hear = (chunk) => {
        said += chunk;
        if (said.includes(address)) resolve();
      };
      child.stdout.on("data", hear);
      child.stderr.on("data", hear);
      child.once("exit", (code) =>
        reject(new Error(`the web server ended (${code}) before it listened:\n${said}`)),
      );
    });
  const end = (signal) =>
    new Promise((resolve) => {
      if (child.exitCode !== null || child.signalCode !== null) return resolve();
      child.once("exit", resolve);
      child.kill(signal);
    });
  await start();
  return {
    address,
    start,
    pid: () => child.pid,
    said: () => said,
    kill: () => end("SIGKILL"),
    stop: () => end("SIGTERM"),
  };
}
