/**
 * npm run bench:kills [-- NUMBER]: a Pelagon whose web server, postmaster, backends and start script are
 * killed by turns while somebody writes to it. Tells what was lost or doubled of what was acknowledged,
 * and how long it took by kind until a write went through again.
 */

import { execFileSync, spawn } from "node:child_process";
import { chmodSync, mkdtempSync, readFileSync, rmSync } from "node:fs";
import { tmpdir } from "node:os";
import { join } from "node:path";
import { setTimeout as delay } from "node:timers/promises";
import { sized } from "./lib/bench.mjs";
import { openCluster, portFree } from "./lib/cluster.mjs";
import { ensureBuild, ensureDebian, ensureModules, isRoot, ROOT } from "./lib/provision.mjs";
import { main } from "./lib/terminal.mjs";

const KINDS = ["backend", "postmaster", "web server", "start script"];
const KILLS = Number(process.argv[2] ?? sized(200, 5));
const PORT = 4600 + (process.pid % 300);
const ADDRESS = `http://127.0.0.1:${PORT}`;
/** A write that gets no answer is sent again after so long, under its key. Milliseconds */
const AGAIN_MS = 25;
const PATIENCE_MS = 4000;

main(async () => {
  await ensureDebian();
  await ensureModules();
  await ensureBuild();
  const folder = mkdtempSync(join(isRoot ? "/var/tmp" : tmpdir(), "pelagon-kills-"));
  chmodSync(folder, 0o755);
  const pelagon = starter(folder);
  try {
    await pelagon.start();
    const visit = await signedIn();
    const outcome = await killing(pelagon, visit);
    await pelagon.stop();
    await tell(folder, outcome);
  } finally {
    await pelagon.stop();
    rmSync(folder, { recursive: true, force: true });
  }
});

/** npm start in a folder of its own, as somebody would start it again who sees that it is gone. */
function starter(folder) {
  let child = null;
  const pids = (parent, name) =>
    execFileSync("sh", ["-c", `ps -o pid=,args= --ppid ${parent} | grep '${name}' | grep -v grep || true`], {
      encoding: "utf8",
    })
      .split("\n")
      .filter(Boolean)
      .map((line) => Number(line.trim().split(" ")[0]));
  const postmaster = () =>
    Number(readFileSync(join(folder, "cluster", "postmaster.pid"), "utf8").split("\n")[0]);
  return {
    async start() {
      child = spawn(process.execPath, [join(ROOT, "scripts", "start.mjs")], {
        cwd: ROOT,
        env: {
          ...process.env,
          PELAGON_DATA: folder,
          PORT: `${PORT}`,
          DATABASE_URL: "",
          PELAGON_DEMO: "1",
          JOBS: "off",
        },
        stdio: ["ignore", "pipe", "inherit"],
      });
      await new Promise((resolve, reject) => {
        let said = "";
        child.stdout.on("data", (chunk) => {
          said += chunk;
          if (said.includes(ADDRESS)) resolve();
        });
        child.once("exit", () => reject(new Error(`it did not start:\n${said}`)));
      });
    },
    web: () => pids(child.pid, "serve.mjs")[0],
    async kill(kind) {
      if (kind === "web server") process.kill(this.web(), "SIGKILL");
      if (kind === "postmaster") process.kill(postmaster(), "SIGKILL");
      if (kind === "backend") {
        const [pid] = pids(postmaster(), "pelagon_web");
        if (pid) process.kill(pid, "SIGKILL");
      }
      if (kind === "start script") {
        child.kill("SIGKILL");
        while (!(await portFree(PORT))) await delay(20);
        await this.start();
      }
    },
    async stop() {
      if (!child || child.exitCode !== null || child.signalCode !== null) return;
      const over = new Promise((resolve) => child.once("exit", resolve));
      child.kill("SIGTERM");
      await over;
    },
  };
}

let cookie = "";
const post = (path, body, type) =>
  fetch(ADDRESS + path, {
    method: "POST",
    redirect: "manual",
    headers: { Origin: ADDRESS, Cookie: cookie, ...(type ? { "Content-Type": type } : {}) },
    body,
    signal: AbortSignal.timeout(PATIENCE_MS),
  });

async function signedIn() {
  const form = new URLSearchParams({ email: "jory@fennmoor.example", password: "orrin-vale-demo" });
  const entry = await post("/sign-in", form);
  cookie = entry.headers.get("set-cookie").split(";")[0];
  const places = await (await fetch(`${ADDRESS}/places`, { headers: { Cookie: cookie } })).json();
  const start = await post(`/basins/${places[0].id}`, new URLSearchParams({ id: crypto.randomUUID() }));
  return start.headers.get("location");
}

/** Writes one reading after another, each until it is acknowledged, while what they are written to is killed. */
async function killing(pelagon, visit) {
  const acknowledged = [];
  const times = Object.fromEntries(KINDS.map((kind) => [kind, []]));
  let going = true;
  let outlived = 0;
  let fellWith = 0;
  const writer = (async () => {
    while (going) {
      const id = crypto.randomUUID();
      const body = JSON.stringify({
        id,
        methodId: "total-alkalinity",
        confirmed: ["unlikely-change", "other-sample-size", "chlorine-bleached", "indicator-bleached"],
        seen: { kind: "drops", count: 8, sample: 25 },
      });
      for (;;) {
        const answer = await post(`${visit}/totalAlkalinity`, body, "application/json").catch(() => null);
        if (answer?.status === 302 && !answer.headers.get("location").startsWith("/sign-in")) break;
        if (answer && answer.status < 500) throw new Error(`refused: ${answer.status}`);
        await delay(AGAIN_MS);
      }
      acknowledged.push({ id, at: performance.now() });
    }
  })();
  for (let turn = 0; turn < KILLS; turn++) {
    await delay(150 + Math.random() * 350);
    const kind = KINDS[turn % KINDS.length];
    const web = pelagon.web();
    const begun = performance.now();
    await pelagon.kill(kind);
    const killed = kind === "start script" ? performance.now() : begun;
    const before = acknowledged.length;
    // The first that was sent after the kill: one may have been answered on its way.
    while (acknowledged.length < before + 2) await delay(5);
    times[kind].push(acknowledged[before + 1].at - killed);
    if (kind === "backend" || kind === "postmaster") {
      if (pelagon.web() === web) outlived++;
      else fellWith++;
    }
  }
  going = false;
  await writer;
  return { acknowledged: acknowledged.map(({ id }) => id), times, outlived, fellWith };
}

async function tell(folder, { acknowledged, times, outlived, fellWith }) {
  const cluster = await openCluster(folder);
  const list = acknowledged.map((id) => `'${id}'`).join(",");
  const count = async (sql) => Number(await cluster.psql(sql, "pelagon"));
  const there = await count(`select count(*) from reading where id in (${list})`);
  const drawn = await count(
    `select count(*) from (select reading_id, reagent from reagent_use where reading_id in (${list}) group by 1, 2 having count(*) > 1) as twice`,
  );
  const used = await count(
    "select count(*) from (select visit_id, quantity, round from reading where used and superseded_at is null group by 1, 2, 3 having count(*) > 1) as twice",
  );
  await cluster.stop();
  console.log(`${KILLS} kills, ${acknowledged.length} writes acknowledged`);
  console.log(`lost ${acknowledged.length - there}, doubled ${drawn + used}`);
  console.log(`web server outlived its database ${outlived} times of ${outlived + fellWith}`);
  for (const kind of KINDS) {
    const sorted = times[kind].toSorted((a, b) => a - b);
    const at = (share) =>
      (sorted[Math.min(sorted.length - 1, Math.floor(share * sorted.length))] / 1000).toFixed(2);
    console.log(
      `${kind.padEnd(12)} writing again after median ${at(0.5)} s, p95 ${at(0.95)} s, most ${at(1)} s`,
    );
  }
}
