// npm run cluster: three nodes of etcd, Patroni and PostgreSQL, haproxy and two web servers, on this machine.
import { existsSync } from "node:fs";
import { join } from "node:path";
import { setTimeout as delay } from "node:timers/promises";
import { ensureCluster, whatIsWrong } from "./ha/health.mjs";
import { ask, partsOf } from "./ha/parts.mjs";
import { planOf } from "./ha/plan.mjs";
import { dataFolder, portFree, prepareRoles } from "./lib/cluster.mjs";
import { ensureBuild, ensureDebian, ensureModules, ensureSpace } from "./lib/provision.mjs";
import { main, Plain, say } from "./lib/terminal.mjs";

const HELP = `npm run cluster              start it; it goes on when this command has ended
npm run cluster -- --status  what each part is
npm run cluster -- --stop    stop it; what it holds stays

Its folder: PELAGON_CLUSTER, else beside the one of npm start. Its first port: CLUSTER_PORT, else 15400.`;

const folder = process.env.PELAGON_CLUSTER ?? `${dataFolder()}-cluster`;
const base = Number(process.env.CLUSTER_PORT ?? 15_400);

main(async () => {
  const asked = process.argv.slice(2);
  const [command = "--start", ...more] = asked;
  if (more.length > 0 || !["--start", "--status", "--stop"].includes(command)) {
    process.stdout.write(`${HELP}\n`);
    process.exitCode = asked.includes("--help") ? 0 : 2;
    return;
  }
  if (!Number.isInteger(base) || base < 1024 || base > 65_000)
    throw new Plain(
      `CLUSTER_PORT is ${process.env.CLUSTER_PORT}; it must be a whole number from 1024 to 65000.`,
    );
  if (command !== "--start" && !existsSync(join(folder, "cluster.json")))
    throw new Plain(`There is no cluster in ${folder}.`);
  if (command === "--stop") return stop();
  if (command === "--status") return status();
  await start();
});

async function start() {
  await ensureDebian({ cluster: true });
  await ensureModules();
  await ensureBuild();
  const plan = planOf(folder, base);
  ensureSpace(folder, 600);
  const parts = partsOf(plan);
  await freeOrOurs(parts);
  await ensureCluster(parts, { prepareRoles, say });
  process.stdout.write(`\n  Pelagon is at http://${plan.proxy.host}:${plan.proxy.web}\n`);
  const setup = await setupCode(parts);
  process.stdout.write(
    `${setup ? `  Your own firm: /setup with the code ${setup}\n` : ""}  Figures of haproxy: http://127.0.0.1:${plan.proxy.figures}\n  Stop it: npm run cluster -- --stop\n\n`,
  );
}

/** The code with which a fresh instance is set up, while no firm is there. */
async function setupCode({ psql, database }) {
  return psql(
    "set role pelagon_gate; select setup_code from instance where not exists (select from firm where not demo)",
    database,
  ).catch(() => "");
}

/** A port that somebody else holds is told before anything starts. */
async function freeOrOurs({ plan, all }) {
  if (all.some((part) => part.pids().length > 0)) return;
  const ports = [
    ...plan.nodes.flatMap((node) => [node.etcdPort, node.etcdPeerPort, node.patroniPort, node.postgresPort]),
    plan.proxy.web,
    plan.proxy.leader,
    plan.proxy.replicas,
    plan.proxy.figures,
    ...plan.web.flatMap(({ port, metricsPort }) => [port, metricsPort]),
  ];
  for (const port of ports)
    if (!(await portFree(port)))
      throw new Plain(
        `Port ${port} is taken by another program. Stop that one, or make the cluster elsewhere: PELAGON_CLUSTER=FOLDER CLUSTER_PORT=16400 npm run cluster`,
      );
}

async function stop() {
  const { webs, proxy, patronis, etcds } = partsOf(planOf(folder, base));
  say("Stopping the web servers and haproxy …");
  await Promise.all(webs.map((part) => part.stop()));
  await proxy.stop();
  say("Stopping the nodes …");
  await Promise.all(patronis.map((part) => part.stop(40)));
  await Promise.all(etcds.map((part) => part.stop()));
  say("Stopped. Everything stays in the folder.");
}

async function status() {
  const parts = partsOf(planOf(folder, base));
  const { plan, webs } = parts;
  const members = await parts.members();
  const rows = [];
  for (const [index, node] of plan.nodes.entries()) {
    const member = members.find(({ name }) => name === node.name);
    const etcd = await ask(node.host, node.etcdPort, "/health", plan.tls);
    rows.push([
      node.name,
      member
        ? `${member.role}, ${member.state}${member.lag ? `, ${member.lag} bytes behind` : ""}`
        : "not there",
      `etcd ${etcd?.text.includes('"true"') ? "healthy" : parts.etcds[index].pids().length > 0 ? "without a quorum" : "not there"}`,
    ]);
  }
  for (const [index, web] of plan.web.entries()) {
    const answer = await ask(web.host, web.port, "/ready");
    rows.push([
      web.name,
      webs[index].pids().length === 0 ? "not there" : answer?.status === 200 ? "ready" : "not ready",
    ]);
  }
  rows.push([
    "haproxy",
    parts.proxy.pids().length > 0 ? `http://${plan.proxy.host}:${plan.proxy.web}` : "not there",
  ]);
  for (const row of rows) process.stdout.write(`  ${row[0].padEnd(8)} ${row.slice(1).join(" · ")}\n`);
  const wrong = await whatIsWrong(parts);
  for (const one of wrong) process.stdout.write(`\n  ${one}\n`);
  process.exitCode = wrong.length > 0 ? 1 : 0;
  await delay(0);
}
