// npm run test:cluster: a cluster under a steady load while its parts are killed, paused and cut off, one after the
// other. What was acknowledged must be there, once; and never may two nodes both take writes.
import { existsSync, readdirSync, readFileSync, rmSync } from "node:fs";
import { setTimeout as delay } from "node:timers/promises";
import { ensureCluster, whatIsWrong } from "./ha/health.mjs";
import { technician } from "./ha/load.mjs";
import { apart, cutOff, joinAgain, makeNetworks, mayMakeNetworks, takeNetworksAway } from "./ha/networks.mjs";
import { ask, partsOf } from "./ha/parts.mjs";
import { planOf } from "./ha/plan.mjs";
import { dataFolder, prepareRoles } from "./lib/cluster.mjs";
import { ensureBuild, ensureDebian, ensureModules } from "./lib/provision.mjs";
import { main, Plain, say } from "./lib/terminal.mjs";
import { signedIn, TECHNICIANS } from "./lib/visitor.mjs";

/** How often each kind of fault is done. */
const ROUNDS = Number(process.env.ROUNDS ?? 2);
/** Which of them, as a pattern of their names. */
const ONLY = new RegExp(process.env.ONLY ?? "");
const folder = `${dataFolder()}-cluster-test`;
const PORT = 17_400;
/** A load runs so long before a fault and after. Milliseconds */
const BEFORE_MS = 3000;
const AFTER_MS = 3000;
/** How often each node is asked whether it takes a write. Milliseconds */
const PROBE_MS = 200;

/** All processes below these, themselves included. */
function treeOf(roots) {
  const parents = new Map();
  for (const name of readdirSync("/proc"))
    if (/^\d+$/.test(name))
      try {
        const stat = readFileSync(`/proc/${name}/stat`, "utf8");
        parents.set(Number(name), Number(stat.slice(stat.lastIndexOf(")") + 2).split(" ")[1]));
      } catch {
        // It has ended meanwhile.
      }
  const found = new Set(roots.filter(Boolean));
  for (let more = true; more; ) {
    more = false;
    for (const [pid, parent] of parents)
      if (found.has(parent) && !found.has(pid)) {
        found.add(pid);
        more = true;
      }
  }
  return [...found];
}

const signal = (pids, name) => {
  for (const pid of pids)
    try {
      process.kill(pid, name);
    } catch {
      // It has ended meanwhile.
    }
};

/** Asks every node at its own port, past haproxy, whether it takes a write; keeps who did when. */
async function probing({ plan, secrets }) {
  const { default: pg } = await import("pg");
  const taken = [];
  let going = true;
  let next = 0;
  const probe = async (node) => {
    let client = null;
    while (going) {
      const number = next++;
      const begun = Date.now();
      try {
        if (!client) {
          client = new pg.Client({
            host: node.host,
            port: node.postgresPort,
            user: "pelagon_cluster",
            password: secrets.pelagon_cluster,
            database: "postgres",
            ssl: plan.tls ? { ca: readFileSync(plan.tls.ca) } : false,
            connectionTimeoutMillis: 1000,
            query_timeout: 25_000,
          });
          client.on("error", () => {});
          await client.connect();
        }
        await client.query("insert into probe (number) values ($1)", [number]);
        taken.push({ node: node.name, number, begun, ended: Date.now() });
      } catch {
        void client?.end().catch(() => {});
        client = null;
      }
      await delay(PROBE_MS);
    }
    void client?.end().catch(() => {});
  };
  const all = plan.nodes.map(probe);
  return {
    taken,
    async stop() {
      going = false;
      await Promise.race([Promise.all(all), delay(30_000)]);
    },
  };
}

/** Writes that two nodes took in turns: one that was begun at one after the other had taken one, and back. */
function splitBrains(taken) {
  const inOrder = [...taken].sort((a, b) => a.ended - b.ended);
  const last = new Map();
  let leader = null;
  let splits = 0;
  for (const one of inOrder) {
    if (one.node !== leader) {
      // Whoever led before and takes a write again within the time that a handing over needs never stopped.
      const before = last.get(one.node);
      if (before !== undefined && one.begun - before < 4000) splits++;
      leader = one.node;
    }
    last.set(one.node, one.ended);
  }
  return splits;
}

/** Who took writes when, and how many of them are gone: for whoever looks for what went wrong. */
function turnsOf(taken, kept) {
  const turns = [];
  for (const one of [...taken].sort((a, b) => a.ended - b.ended)) {
    const last = turns.at(-1);
    if (last?.node === one.node) Object.assign(last, { until: one.ended, count: last.count + 1 });
    else turns.push({ node: one.node, from: one.ended, until: one.ended, count: 1, gone: 0 });
    if (!kept.has(one.number)) turns.at(-1).gone++;
  }
  const at = (ms) => new Date(ms).toISOString().slice(11, 23);
  return turns.map((t) => `${t.node} ${at(t.from)} to ${at(t.until)}: ${t.count}, ${t.gone} gone`).join("\n");
}

const median = (numbers) => [...numbers].sort((a, b) => a - b)[Math.floor(numbers.length / 2)] ?? 0;
const seconds = (ms) => (ms / 1000).toFixed(1);

main(async () => {
  await ensureDebian({ cluster: true });
  await ensureModules();
  await ensureBuild();
  rmSync(folder, { recursive: true, force: true });
  process.env.PELAGON_DEMO = "1";
  // As three machines with TLS between them, where this account may make networks.
  const areApart = process.env.APART !== "0" && mayMakeNetworks();
  if (!areApart)
    say("All nodes share one network: none is cut off from the others, and nothing goes by TLS.");
  const parts = partsOf(planOf(folder, PORT, areApart ? apart : undefined));
  const { plan } = parts;
  try {
    if (areApart) makeNetworks(plan);
    await ensureCluster(parts, { prepareRoles, say });
    process.exitCode = (await underLoad(parts)) ? 0 : 1;
  } finally {
    say("Stopping …");
    for (const part of [...parts.webs, parts.proxy, ...parts.patronis, ...parts.etcds]) part.kill();
    for (const node of plan.nodes) signal(treeOf([parts.postmaster(node)]), "SIGKILL");
    if (areApart) takeNetworksAway(plan);
    // What is looked into stays.
    if (existsSync(folder) && process.exitCode === 0 && !process.env.ONLY) parts.forget();
  }
});

async function underLoad(parts) {
  const { plan, psql, database } = parts;
  const address = `http://${plan.proxy.host}:${plan.proxy.web}`;
  await psql("create table probe (number integer primary key, at timestamptz default now())");
  const basins = (
    await psql("set row_security = off; select id from basin order by id limit 8", database)
  ).split("\n");
  if (basins.length < 4) throw new Plain("The demo is not there.");
  const people = [];
  for (const [index, basin] of basins.entries())
    people.push(
      technician(await signedIn(address, TECHNICIANS[index % TECHNICIANS.length]), basin, `load-${index}`),
    );
  const probes = await probing(parts);

  const results = new Map();
  const kinds = Object.entries(faultsOf(parts)).filter(([kind]) => ONLY.test(kind));
  for (const [kind, fault] of kinds)
    for (let round = 0; round < ROUNDS; round++) {
      await whole(parts);
      await delay(BEFORE_MS);
      const at = Date.now();
      const mend = await fault();
      await delay(AFTER_MS);
      await mend();
      await whole(parts);
      // Everybody has saved since.
      const mended = Date.now();
      while (!people.every(({ told }) => (told.waits.at(-1)?.begun ?? 0) > mended)) await delay(100);
      // The longest that any technician waited for one save.
      const waits = people.flatMap(({ told }) =>
        told.waits.filter(({ ended }) => ended > at).map(({ begun, ended }) => ended - Math.max(begun, at)),
      );
      const longest = Math.max(...waits);
      results.set(kind, [...(results.get(kind) ?? []), longest]);
      say(`${kind}: saving again after ${seconds(longest)} s`);
    }

  await Promise.all(people.map((one) => one.stop()));
  await probes.stop();
  await whole(parts);
  return verdict(parts, people, probes, results);
}

/** Each kind of fault: does it, and gives back how it is mended. */
function faultsOf(parts) {
  const { plan, etcds, patronis, proxy, webs } = parts;
  const nodeOf = async (...roles) => {
    const members = await parts.members();
    const found = members.find(({ role }) => roles.includes(role));
    if (!found) throw new Error(`nobody is ${roles}`);
    return plan.nodes.findIndex(({ name }) => name === found?.name);
  };
  /** A node whose database goes on without its Patroni is another fault than a node that is gone. */
  const databaseOf = (index) => {
    const pid = parts.postmaster(plan.nodes[index]);
    if (!pid) throw new Error(`the database of ${plan.nodes[index].name} is not there`);
    return pid;
  };
  const processesOf = (index) =>
    treeOf([...patronis[index].pids(), ...etcds[index].pids(), databaseOf(index)]);
  const killed =
    (...roles) =>
    async () => {
      const index = await nodeOf(...roles);
      signal(processesOf(index), "SIGKILL");
      return async () => {
        etcds[index].start();
        patronis[index].start();
      };
    };
  const nothing = async () => {};
  const cut = (role) => async () => {
    const node = plan.nodes[await nodeOf(role)];
    cutOff(node);
    return async () => {
      await delay(20_000 - AFTER_MS);
      joinAgain(node);
    };
  };
  const cuts = {
    "the leader's node cut off for 20 s": cut("leader"),
    "the synchronous standby's node cut off for 20 s": cut("sync_standby"),
  };
  return {
    "the leader's node killed": killed("leader"),
    "the synchronous standby's node killed": killed("sync_standby"),
    "the other standby's node killed": killed("replica"),
    "the leader's node paused for 20 s": async () => {
      const pids = processesOf(await nodeOf("leader"));
      signal(pids, "SIGSTOP");
      return async () => {
        await delay(20_000 - AFTER_MS);
        signal(pids, "SIGCONT");
      };
    },
    // Nothing tells the database any more whether it leads.
    "the leader's Patroni killed, its database alive": async () => {
      const index = await nodeOf("leader");
      signal(patronis[index].pids(), "SIGKILL");
      return async () => {
        await delay(20_000 - AFTER_MS);
        patronis[index].start();
      };
    },
    ...(plan.nodes[0].network ? cuts : {}),
    "etcd's leader killed": async () => {
      const index = await etcdLeader(plan);
      signal(etcds[index].pids(), "SIGKILL");
      return async () => etcds[index].start();
    },
    "every etcd gone for 15 s": async () => {
      for (const part of etcds) part.kill();
      return async () => {
        await delay(15_000 - AFTER_MS);
        for (const part of etcds) part.start();
      };
    },
    // What keeps it up starts it again.
    "a web server killed": async () => {
      signal([webs[0].pid()], "SIGKILL");
      return nothing;
    },
    "a web server told to end": async () => {
      signal([webs[1].pid()], "SIGTERM");
      return nothing;
    },
    "haproxy killed": async () => {
      signal([proxy.pid()], "SIGKILL");
      return nothing;
    },
  };
}

async function etcdLeader({ nodes, tls }) {
  for (const [index, { host, etcdPort }] of nodes.entries()) {
    const answer = await ask(host, etcdPort, "/v2/stats/self", tls);
    if (answer && JSON.parse(answer.text).state === "StateLeader") return index;
  }
  return 0;
}

async function whole(parts) {
  const until = Date.now() + 120_000;
  for (;;) {
    const wrong = await whatIsWrong(parts);
    if (wrong.length === 0) return;
    if (Date.now() > until) throw new Plain(`The cluster does not come back:\n${wrong.join("\n")}`);
    await delay(500);
  }
}

async function verdict(parts, people, probes, results) {
  const { psql, database } = parts;
  const acked = people.flatMap(({ told }) => told.acked);
  const have = async (sql) =>
    (await psql(`set row_security = off; ${sql}`, database)).split("\n").filter(Boolean);
  const events = await have("select id from basin_event where name like 'load-%'");
  const looks = await have("select id from command");
  const there = { event: new Set(events), look: new Set(looks) };
  const lost = acked.filter(({ kind, id }) => !there[kind].has(id));
  const doubled = events.length - new Set(events).size + looks.length - new Set(looks).size;
  const twice = (
    await have("select name from basin_event where name like 'load-%' group by name having count(*) > 1")
  ).length;
  const numbers = new Set((await psql("select number from probe")).split("\n").map(Number));
  const probesLost = probes.taken.filter(({ number }) => !numbers.has(number)).length;
  const splits = splitBrains(probes.taken);
  if (probesLost + splits > 0 || process.env.ONLY) say(turnsOf(probes.taken, numbers));
  const statuses = {};
  for (const { told } of people)
    for (const [status, count] of Object.entries(told.statuses))
      statuses[status] = (statuses[status] ?? 0) + count;
  const of500 = statuses[500] ?? 0;

  process.stdout.write(
    `\n| fault | times | saving again, median s | longest s |\n| --- | --- | --- | --- |\n`,
  );
  for (const [kind, waits] of results)
    process.stdout.write(
      `| ${kind} | ${waits.length} | ${seconds(median(waits))} | ${seconds(Math.max(...waits))} |\n`,
    );
  process.stdout.write(
    `\nAcknowledged saves: ${acked.length}, lost ${lost.length}, doubled ${doubled + twice}.\n` +
      `Writes taken by nodes themselves: ${probes.taken.length}, lost ${probesLost}; two that both took writes: ${splits}.\n` +
      `Answers: ${Object.entries(statuses)
        .map(([status, count]) => `${status}: ${count}`)
        .join(", ")} (none: the connection broke).\n`,
  );
  return (
    acked.length > 100 &&
    lost.length === 0 &&
    doubled + twice === 0 &&
    probesLost === 0 &&
    splits === 0 &&
    of500 === 0
  );
}
