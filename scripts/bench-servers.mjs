/**
 * npm run bench:servers: one web server, two and four behind haproxy on one database, with fifty at once on the Round,
 * a basin and counts of drops; what the load and haproxy take of the processor is told, for they run here too.
 */
import { spawn } from "node:child_process";
import { mkdtempSync, readFileSync, rmSync, writeFileSync } from "node:fs";
import { cpus, tmpdir } from "node:os";
import { join } from "node:path";
import autocannon from "autocannon";
import { sized } from "./lib/bench.mjs";
import { portFree } from "./lib/cluster.mjs";
import { ensureBuild, ensureDebian, ensureModules } from "./lib/provision.mjs";
import { main } from "./lib/terminal.mjs";
import { basinsOf, countRequest, roundRequest, signedIn, startVisit } from "./lib/visitor.mjs";
import { throwAwayCluster, webServer } from "./lib/world.mjs";

const CONNECTIONS = 50;
const SECONDS = sized(10, 2);
const SERVERS = sized([1, 2, 4], [1, 2]);
const PROXY_PORT = 5890;
/** Clock ticks of the kernel in a second. */
const TICKS = 100;

main(async () => {
  await ensureDebian({ cluster: true });
  await ensureModules();
  await ensureBuild();
  const cluster = await throwAwayCluster();
  const folder = mkdtempSync(join(tmpdir(), "pelagon-servers-"));
  const webs = [];
  try {
    console.log(`${cpus().length} processors, ${CONNECTIONS} at once, ${SECONDS} s each`);
    for (const count of SERVERS) {
      while (webs.length < count)
        webs.push(await webServer(cluster, { PELAGON_DEMO: "1", JOBS: "off", DATABASE_CONNECTIONS: "10" }));
      const proxy = await proxyTo(webs, folder);
      try {
        await measured(count, proxy);
      } finally {
        await proxy.stop();
      }
    }
  } finally {
    for (const web of webs) await web.stop();
    await cluster.stop();
    rmSync(folder, { recursive: true, force: true });
  }
});

async function measured(count, proxy) {
  const ask = await signedIn(proxy.address);
  const basins = await basinsOf(ask);
  const visits = [];
  for (const { id } of basins.slice(0, 13)) visits.push(await startVisit(ask, id));
  const kinds = {
    Round: [roundRequest(ask)],
    Basin: [{ method: "GET", path: `/basins/${basins[1].id}`, headers: ask.headers }],
    save: visits.map((visit) => countRequest(ask, visit)),
  };
  for (const [name, requests] of Object.entries(kinds)) {
    const shares = { load: process.pid, haproxy: proxy.pid };
    const before = taken(shares);
    const whole = allTaken();
    const run = await autocannon({
      url: proxy.address,
      connections: CONNECTIONS,
      duration: SECONDS,
      requests,
    });
    const all = allTaken() - whole;
    const share = (who) => `${who} ${((100 * (taken(shares)[who] - before[who])) / all).toFixed(0)} %`;
    console.log(
      `${count} servers  ${name.padEnd(6)} ${run.requests.average.toFixed(0)} a second, p50 ${run.latency.p50} ms, p99 ${run.latency.p99} ms,` +
        ` ${run.non2xx + run.errors + run.timeouts} not answered well; of the processor in use: ${share("load")}, ${share("haproxy")}`,
    );
  }
}

/** haproxy in front of web servers, as the cluster has it. */
async function proxyTo(webs, folder) {
  let port = PROXY_PORT;
  while (!(await portFree(port))) port++;
  const file = join(folder, `haproxy-${port}.cfg`);
  const servers = webs.map(
    ({ address }, index) => `  server web${index + 1} ${address.slice("http://".length)}`,
  );
  writeFileSync(
    file,
    `defaults\n  mode http\n  timeout connect 2s\n  timeout client 60s\n  timeout server 60s\nfrontend web\n  bind 127.0.0.1:${port}\n  default_backend webs\nbackend webs\n  balance roundrobin\n${servers.join("\n")}\n`,
  );
  const child = spawn("/usr/sbin/haproxy", ["-f", file], { stdio: "inherit" });
  while (await portFree(port)) await new Promise((resolve) => setTimeout(resolve, 50));
  return {
    address: `http://127.0.0.1:${port}`,
    pid: child.pid,
    stop: () =>
      new Promise((resolve) => {
        child.once("exit", resolve);
        child.kill();
      }),
  };
}

/** Seconds of the processor that each of these processes has taken. */
const taken = (pids) =>
  Object.fromEntries(
    Object.entries(pids).map(([name, pid]) => {
      const fields = readFileSync(`/proc/${pid}/stat`, "utf8").split(") ")[1].split(" ");
      return [name, (Number(fields[11]) + Number(fields[12])) / TICKS];
    }),
  );

/** And all together. */
function allTaken() {
  const [user, nice, system, , , irq, softirq] = readFileSync("/proc/stat", "utf8")
    .split("\n")[0]
    .split(/\s+/)
    .slice(1)
    .map(Number);
  return (user + nice + system + irq + softirq) / TICKS;
}
