// Brings a cluster up in its order, and says in words what keeps it from being whole.
import { existsSync, readFileSync, statfsSync } from "node:fs";
import { join } from "node:path";
import { setTimeout as delay } from "node:timers/promises";
import { Plain } from "../lib/terminal.mjs";
import { ask } from "./parts.mjs";

/** Waits until something is so. @param seconds at most */
async function until(is, seconds, otherwise) {
  const end = Date.now() + seconds * 1000;
  for (;;) {
    const found = await is();
    if (found) return found;
    if (Date.now() > end) throw new Plain(await otherwise());
    await delay(200);
  }
}

const tail = (file) =>
  existsSync(file) ? readFileSync(file, "utf8").trim().split("\n").slice(-5).join("\n") : "(no log yet)";

export const hasQuorum = async ({ plan }) => {
  for (const { host, etcdPort } of plan.nodes)
    if ((await ask(host, etcdPort, "/health", plan.tls))?.text.includes('"true"')) return true;
  return false;
};

/** Whether somebody leads and a synchronous standby follows. */
async function isWhole(parts) {
  const members = await parts.members();
  const has = (...roles) =>
    members.some(({ role, state }) => roles.includes(role) && /running|streaming/.test(state));
  return has("leader") && has("sync_standby");
}

export async function ensureCluster(parts, { prepareRoles, say }) {
  const { plan, etcds, patronis, proxy, webs, secrets } = parts;
  const log = (name) => join(plan.folder, "logs", `${name}.log`);
  say("Starting etcd …");
  for (const part of etcds) part.start();
  await until(
    () => hasQuorum(parts),
    30,
    () =>
      `Two of three etcds must answer, and do not. The end of the first one's log:\n${tail(log(etcds[0].name))}`,
  );
  say("Starting the nodes …");
  // The first alone, so that a fresh cluster is made there; the others copy it.
  patronis[0].start();
  if (isFresh(plan))
    await until(
      async () => (await parts.members()).some(({ role }) => role === "leader"),
      90,
      () =>
        `The first node does not start. The end of its log:\n${tail(join(plan.folder, plan.nodes[0].name, "log", "patroni.log"))}`,
    );
  for (const part of patronis) part.start();
  proxy.start();
  await until(
    () => isWhole(parts),
    180,
    async () => `The nodes do not come together:\n${(await whatIsWrong(parts)).join("\n")}`,
  );
  await until(
    async () => (await parts.psql("select 1").catch(() => "")) === "1",
    30,
    () => `haproxy does not reach the leader. The end of its log:\n${tail(log(proxy.name))}`,
  );
  await prepareRoles(parts.psql, (role) => secrets[role], false);
  say("Starting the web servers …");
  for (const part of webs) part.start();
  await until(
    async () =>
      (await Promise.all(plan.web.map(({ host, port }) => ask(host, port, "/ready")))).every(
        (one) => one?.status === 200,
      ),
    180,
    () => `The web servers do not come up. The end of the first one's log:\n${tail(log(webs[0].name))}`,
  );
  await until(
    async () => (await ask(plan.proxy.host, plan.proxy.web, "/ready"))?.status === 200,
    30,
    () => `haproxy does not reach the web servers. The end of its log:\n${tail(log(proxy.name))}`,
  );
}

const isFresh = (plan) =>
  plan.nodes.every(({ name }) => !existsSync(join(plan.folder, name, "data", "PG_VERSION")));

/** A standby so far behind copies for long, or its disk is full. Bytes */
const FAR_BEHIND = 256_000_000;
/** Clocks that are apart by more than so much. Seconds */
const CLOCKS_APART = 5;

/** What is wrong with a cluster, each in words with what to do; nothing when it is whole. */
export async function whatIsWrong(parts) {
  const { plan, etcds, proxy, webs } = parts;
  const wrong = [];
  const gone = etcds.filter((part) => part.pids().length === 0).map(({ name }) => name);
  if (!(await hasQuorum(parts)))
    wrong.push(
      `etcd has lost its quorum: two of three must live${gone.length > 0 ? ` (not there: ${gone.join(", ")})` : ""}. The leader goes on while it reaches all nodes, but nobody can take over. Start them again: npm run cluster`,
    );
  else if (gone.length > 0)
    wrong.push(`${gone.join(" and ")} fell. One more and nobody can take over: npm run cluster`);
  const members = await parts.members();
  if (members.length === 0) wrong.push("No node answers. Start them: npm run cluster");
  else {
    if (!members.some(({ role }) => role === "leader"))
      wrong.push(
        "Nobody leads: nothing can be saved just now. Within ten seconds a standby takes over; if not, look at the nodes' logs.",
      );
    if (!members.some(({ role }) => role === "sync_standby"))
      wrong.push(
        "No standby has every write: saves go on, but if the leader falls now nobody takes over by itself. A standby that comes back is made one in a few seconds.",
      );
    for (const node of plan.nodes) {
      const member = members.find(({ name }) => name === node.name);
      if (!member) wrong.push(`The node ${node.name} is not there. Start it: npm run cluster`);
      else if (!/running|streaming/.test(member.state))
        wrong.push(
          `The node ${node.name} does not run: ${member.state}. Its log: ${join(plan.folder, node.name, "log")}`,
        );
      else if (Number(member.lag) > FAR_BEHIND)
        wrong.push(
          `The node ${node.name} is ${Math.round(member.lag / 1e6)} MB behind. It catches up by itself, unless its disk is full or its line too slow.`,
        );
    }
  }
  for (const { name } of plan.nodes) {
    const { bavail, bsize } = statfsSync(join(plan.folder, name));
    const megabytes = Math.floor((bavail * bsize) / 1e6);
    if (megabytes < 500)
      wrong.push(
        `Only ${megabytes} MB are free where the node ${name} writes. A node with a full disk stops: free some space, oldest first in ${join(plan.folder, "archive")} once a backup covers it.`,
      );
  }
  const clocks = await Promise.all(
    plan.nodes.map(async ({ name, host, patroniPort }) => {
      const before = Date.now();
      const { date } = (await ask(host, patroniPort, "/liveness", plan.tls)) ?? {};
      return date === undefined ? null : { name, apart: Math.abs(Date.parse(date) - before) / 1000 };
    }),
  );
  for (const clock of clocks)
    if (clock && clock.apart > CLOCKS_APART)
      wrong.push(
        `The clock of ${clock.name} is ${Math.round(clock.apart)} s off this one's. Sessions and waits go by the clock of whoever asks: set all of them by one time service.`,
      );
  if (plan.tls) wrong.push(...(await certificates(plan.tls)));
  if (proxy.pids().length === 0)
    wrong.push("haproxy fell: nobody reaches the pages. Start it: npm run cluster");
  for (const part of webs)
    if (part.pids().length === 0)
      wrong.push(`${part.name} fell. The others serve; start it: npm run cluster`);
  return wrong;
}

/** Certificates that ran out, or do within a month. */
async function certificates({ cert, ca }) {
  const { X509Certificate } = await import("node:crypto");
  return [cert, ca].flatMap((file) => {
    if (!existsSync(file)) return [`The certificate ${file} is missing.`];
    const { validTo } = new X509Certificate(readFileSync(file));
    const days = Math.floor((Date.parse(validTo) - Date.now()) / 86_400_000);
    if (days < 0)
      return [
        `The certificate ${file} ran out on ${validTo}: the parts refuse one another. Put a new one in its place, then restart etcd and Patroni node by node.`,
      ];
    return days < 30 ? [`The certificate ${file} runs out in ${days} days, on ${validTo}.`] : [];
  });
}
