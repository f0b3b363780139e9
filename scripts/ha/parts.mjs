// Starts, stops and looks after the parts of a cluster on this machine.
import { spawn } from "node:child_process";
import { chmodSync, chownSync, existsSync, mkdirSync, readFileSync, rmSync, writeFileSync } from "node:fs";
import { get } from "node:http";
import { get as getSafely } from "node:https";
import { join } from "node:path";
import { setTimeout as delay } from "node:timers/promises";
import { isRoot, postgresPrograms, ROOT } from "../lib/provision.mjs";
import { Plain, run, runAside } from "../lib/terminal.mjs";
import { etcdArguments, patroniCommand, patroniFile, proxyFile, webEnvironment } from "./files.mjs";
import { inNetwork } from "./networks.mjs";
import { OWNER, SUPERUSER, secretsOf } from "./plan.mjs";

/** A part that fell is started again after so long. Milliseconds */
const WAIT_MS = 1000;

const alive = (pid) => {
  try {
    process.kill(pid, 0);
    // What has ended and was not collected yet is no process any more.
    return !/^State:\s+Z/m.test(readFileSync(`/proc/${pid}/status`, "utf8"));
  } catch {
    return false;
  }
};

const pidIn = (file) => (existsSync(file) ? Number(readFileSync(file, "utf8")) || null : null);

/**
 * What a part answers: status, text, and the time that it names; null where nobody answers.
 * @param tls the certificates by which parts know each other; null where they go without
 */
export const ask = (host, port, path, tls = null) =>
  new Promise((resolve) => {
    const read = (file) => (existsSync(file) ? readFileSync(file) : undefined);
    const known = tls ? { ca: read(tls.ca), cert: read(tls.cert), key: read(tls.key) } : {};
    const request = (tls ? getSafely : get)(
      { host, port, path, timeout: 1500, agent: false, headers: { Host: tls ? host : "pelagon" }, ...known },
      (answer) => {
        let text = "";
        answer.on("data", (chunk) => (text += chunk));
        answer.on("end", () => resolve({ status: answer.statusCode, text, date: answer.headers.date }));
      },
    );
    request.on("timeout", () => request.destroy());
    request.on("error", () => resolve(null));
  });

export function partsOf(plan) {
  const { folder } = plan;
  const secrets = secretsOf(folder);
  // Root's database does not run as root.
  const as = isRoot
    ? { uid: Number(run("id", ["-u", "postgres"]).out), gid: Number(run("id", ["-g", "postgres"]).out) }
    : {};
  const place = (name) => {
    const path = join(folder, name);
    mkdirSync(path, { recursive: true, mode: 0o700 });
    if (as.uid !== undefined) chownSync(path, as.uid, as.gid);
    return path;
  };
  const written = (path, text) => {
    writeFileSync(path, text, { mode: 0o600 });
    if (as.uid !== undefined) chownSync(path, as.uid, as.gid);
    return path;
  };
  chmodSync(folder, 0o755);
  place("archive");
  const pids = place("pids");
  const logs = place("logs");
  const pidFile = (name) => join(pids, name);

  const part = (name, program, args, { network = null, ...options } = {}) => ({
    name,
    /** Process ids: of the one that keeps it up, and of itself. */
    pids: () =>
      [pidIn(pidFile(name)), pidIn(`${pidFile(name)}.child`)].filter((pid) => pid !== null && alive(pid)),
    pid: () => pidIn(`${pidFile(name)}.child`),
    start() {
      if (this.pids().length > 0) return;
      const own = typeof args === "function" ? args() : args;
      const [command, itsArgs] = network ? inNetwork(network, as, program, own) : [program, own];
      const keeper = [
        join(ROOT, "scripts", "ha", "keep.mjs"),
        pidFile(name),
        join(logs, `${name}.log`),
        `${WAIT_MS}`,
        command,
        ...itsArgs,
      ];
      const child = spawn(process.execPath, keeper, {
        detached: true,
        stdio: "ignore",
        cwd: "/",
        ...options,
        // Into a node's network only root may put somebody.
        ...(network ? { uid: undefined, gid: undefined } : {}),
      });
      // At once: whoever asks next finds it, however long it takes to come up.
      writeFileSync(pidFile(name), `${child.pid}\n`);
      rmSync(`${pidFile(name)}.child`, { force: true });
      if (as.uid !== undefined) chownSync(pidFile(name), as.uid, as.gid);
      child.unref();
    },
    async stop(seconds = 20) {
      const [keeper] = this.pids();
      if (keeper) process.kill(keeper, "SIGTERM");
      for (let tries = 0; tries < seconds * 10 && this.pids().length > 0; tries++) await delay(100);
      for (const pid of this.pids()) process.kill(pid, "SIGKILL");
    },
    /** As a power cut: it, and what would start it again. */
    kill() {
      for (const pid of this.pids()) process.kill(pid, "SIGKILL");
    },
  });

  const etcds = plan.nodes.map((node) => {
    place(node.name);
    return part(`etcd-${node.name}`, "/usr/bin/etcd", () => etcdArguments(plan, node), {
      ...as,
      network: node.network,
      // What the package's own service reads names another cluster.
      env: { PATH: process.env.PATH, ETCD_UNSUPPORTED_ARCH: process.arch === "arm64" ? "arm64" : "" },
    });
  });
  const patronis = plan.nodes.map((node) => {
    const file = join(place(node.name), "patroni.yml");
    const [program, args] = patroniCommand(plan, node, file);
    const made = () => {
      written(file, patroniFile(plan, node, secrets));
      return args;
    };
    return part(`patroni-${node.name}`, program, made, {
      ...as,
      network: node.network,
      env: { PATH: process.env.PATH, LC_ALL: "C.UTF-8", HOME: join(folder, node.name) },
    });
  });
  const proxy = part("haproxy", "/usr/sbin/haproxy", () => [
    "-db",
    "-f",
    written(join(folder, "haproxy.cfg"), proxyFile(plan)),
  ]);
  const webs = plan.web.map((web) =>
    part(web.name, process.execPath, [join(ROOT, "scripts", "serve.mjs")], {
      env: { ...process.env, ...webEnvironment(plan, web, secrets) },
    }),
  );
  // A place of their own for each node's log.
  for (const node of plan.nodes) mkdirSync(join(place(node.name), "log"), { recursive: true });
  if (as.uid !== undefined)
    for (const node of plan.nodes) chownSync(join(folder, node.name, "log"), as.uid, as.gid);

  /** Runs statements as the superuser on whichever node leads. */
  async function psql(sql, database = "postgres") {
    const { code, out } = await runAside(
      join(postgresPrograms(), "psql"),
      ["-X", "-q", "-v", "ON_ERROR_STOP=1", "-At", "-f", "-"],
      {
        input: sql,
        cwd: "/",
        env: {
          ...process.env,
          PGHOST: plan.proxy.host,
          PGPORT: `${plan.proxy.leader}`,
          PGUSER: SUPERUSER,
          PGPASSWORD: secrets[SUPERUSER],
          PGDATABASE: database,
          PGCONNECT_TIMEOUT: "5",
          ...(plan.tls ? { PGSSLMODE: "verify-full", PGSSLROOTCERT: plan.tls.ca } : {}),
        },
      },
    );
    if (code !== 0) throw new Plain(`The database refused:\n${out.split("\n").slice(-6).join("\n")}`);
    return out;
  }

  /**
   * Each node that answers, as it tells itself: what the others know of one that fell is some seconds old.
   * @returns name, role (leader, sync_standby or replica), state, and how many bytes a standby is behind
   */
  async function members() {
    const own = await Promise.all(
      plan.nodes.map(async ({ name, host, patroniPort }) => {
        const [told, leads, follows] = await Promise.all([
          ask(host, patroniPort, "/patroni", plan.tls),
          ask(host, patroniPort, "/primary", plan.tls),
          ask(host, patroniPort, "/synchronous", plan.tls),
        ]);
        if (!told?.text.startsWith("{")) return [];
        const { state, xlog } = JSON.parse(told.text);
        const role = leads?.status === 200 ? "leader" : follows?.status === 200 ? "sync_standby" : "replica";
        return [{ name, role, state, at: xlog?.location ?? xlog?.received_location ?? 0 }];
      }),
    );
    const there = own.flat();
    const most = Math.max(0, ...there.map(({ at }) => at));
    return there.map(({ at, ...one }) => ({ ...one, lag: most - at }));
  }

  return {
    plan,
    secrets,
    etcds,
    patronis,
    proxy,
    webs,
    all: [...etcds, ...patronis, proxy, ...webs],
    psql,
    members,
    /** The database's processes of a node, which outlive a killed Patroni. */
    postmaster: (node) => postmasterOf(folder, node),
    database: OWNER,
    forget: () => rmSync(folder, { recursive: true, force: true }),
  };
}

function postmasterOf(folder, node) {
  const file = join(folder, node.name, "data", "postmaster.pid");
  if (!existsSync(file)) return null;
  const pid = Number(readFileSync(file, "utf8").split("\n")[0]);
  return pid > 0 && alive(pid) ? pid : null;
}
