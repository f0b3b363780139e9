/**
 * npm run test:restore: a book with an archive of every write, kept by Debian's pgBackRest, is brought back to the
 * moment before somebody destroyed it. It ends with 1 unless every row of that moment is there, and none later.
 */
import { existsSync, mkdirSync, mkdtempSync, rmSync, writeFileSync } from "node:fs";
import { tmpdir } from "node:os";
import { join } from "node:path";
import { setTimeout as delay } from "node:timers/promises";
import pg from "pg";
import { sized } from "./lib/bench.mjs";
import { openCluster, portFree } from "./lib/cluster.mjs";
import { copyFirm, firmTables } from "./lib/firms.mjs";
import { ensureBuild, ensureDebian, ensureModules, isRoot, postgresPrograms } from "./lib/provision.mjs";
import { main, Plain, run, runAside, say } from "./lib/terminal.mjs";
import { webServer } from "./lib/world.mjs";

const PGBACKREST = "/usr/bin/pgbackrest";
const SUPERUSER = "pelagon_cluster";
const DATABASE = "pelagon";
/** What is counted, as it stood and as it came back. */
const TABLES = ["firm", "visit", "reading", "dose", "finding", "bottle"];
const GB = 1e9;
const FIRMS = sized(40, 2);

main(async () => {
  await ensureDebian({ backup: true });
  await ensureModules();
  await ensureBuild();
  const folder = mkdtempSync(join(isRoot ? "/var/tmp" : tmpdir(), "pelagon-restore-"));
  const nodes = [];
  try {
    const as = isRoot
      ? { uid: Number(run("id", ["-u", "postgres"]).out), gid: Number(run("id", ["-g", "postgres"]).out) }
      : {};
    run("chmod", ["755", folder]);
    for (const name of ["repository", "log", "lock", "socket", "restored"]) {
      mkdirSync(join(folder, name), { mode: 0o700 });
      if (isRoot) run("chown", ["postgres:postgres", join(folder, name)]);
    }
    // A book to lose.
    const first = await openCluster(folder, { throwAway: true, keeps: true });
    const web = await webServer(
      { url: first.url, ownerUrl: first.ownerUrl },
      { PELAGON_DEMO: "1", JOBS: "off" },
    );
    await web.stop();
    await grown(first);
    const secret = new URL(first.superuserUrl()).password;
    await first.stop();

    const port = await freePort(5920);
    const config = join(folder, "pgbackrest.conf");
    writeFileSync(
      config,
      [
        "[global]",
        `repo1-path=${join(folder, "repository")}`,
        `log-path=${join(folder, "log")}`,
        `lock-path=${join(folder, "lock")}`,
        "start-fast=y",
        "process-max=2",
        "archive-async=n",
        "[pelagon]",
        `pg1-path=${join(folder, "cluster")}`,
        `pg1-port=${port}`,
        `pg1-socket-path=${join(folder, "socket")}`,
        `pg1-user=${SUPERUSER}`,
        "",
      ].join("\n"),
    );
    const environment = { ...process.env, PGPASSWORD: decodeURIComponent(secret) };
    const done = async (program, args, leaves = false) => {
      const { code, out } = await runAside(program, args, { ...as, cwd: "/", env: environment, leaves });
      if (code !== 0) throw new Plain(`${program} ${args.join(" ")}:\n${out}`);
      return out;
    };
    const backrest = (...args) => done(PGBACKREST, [`--config=${config}`, "--stanza=pelagon", ...args]);
    const start = async (data, more) => {
      nodes.push(data);
      const options = `-p ${port} -c listen_addresses=127.0.0.1 -c unix_socket_directories=${join(folder, "socket")} ${more}`;
      const log = join(folder, "log", "postgres.log");
      await done(
        join(postgresPrograms(), "pg_ctl"),
        ["start", "-D", data, "-w", "-t", "120", "-s", "-l", log, "-o", options],
        true,
      );
    };
    const stop = async (data) => {
      await done(join(postgresPrograms(), "pg_ctl"), ["stop", "-D", data, "-m", "fast", "-w", "-s"]);
      nodes.splice(nodes.indexOf(data), 1);
    };
    const asked = async (work) => {
      const client = new pg.Client({
        host: "127.0.0.1",
        port,
        user: SUPERUSER,
        password: environment.PGPASSWORD,
        database: DATABASE,
      });
      await client.connect();
      try {
        return await work(client);
      } finally {
        await client.end();
      }
    };
    const push = `${PGBACKREST} --config=${config} --stanza=pelagon archive-push %p`;
    await start(
      join(folder, "cluster"),
      `-c wal_level=replica -c archive_mode=on -c archive_command='${push}'`,
    );
    await backrest("stanza-create");
    await backrest("check");
    let begun = Date.now();
    await backrest("backup", "--type=full");
    const backedUp = (Date.now() - begun) / 1000;
    const size = await asked(async (client) =>
      Number((await client.query("select pg_database_size($1)", [DATABASE])).rows[0].pg_database_size),
    );

    // After the backup the work goes on: only the archive has this.
    const stood = await asked(async (client) => {
      await client.query(
        "update visit set note = 'after the backup' where id in (select id from visit order by id limit 100)",
      );
      return countsOf(client);
    });
    await delay(1100);
    const moment = await asked(async (client) => (await client.query("select now()::text as at")).rows[0].at);
    await delay(1100);
    await asked(async (client) => {
      await client.query("set session_replication_role = replica");
      await client.query("delete from reading");
      await client.query("update visit set note = 'destroyed', version = version + 1");
      await client.query("select pg_switch_wal()");
    });
    const destroyed = await asked(countsOf);
    await delay(1500);
    await stop(join(folder, "cluster"));
    say(`Destroyed at the last second: ${stood.reading} readings were, ${destroyed.reading} are.`);

    const restored = join(folder, "restored");
    begun = Date.now();
    await backrest(
      "restore",
      "--type=time",
      `--target=${moment}`,
      "--target-action=promote",
      `--pg1-path=${restored}`,
    );
    const copied = (Date.now() - begun) / 1000;
    await start(restored, "-c archive_mode=off");
    for (let tries = 0; ; tries++) {
      if (
        await asked(
          async (client) => !(await client.query("select pg_is_in_recovery()")).rows[0].pg_is_in_recovery,
        )
      )
        break;
      if (tries > 600) throw new Plain("It stays in recovery.");
      await delay(100);
    }
    const whole = (Date.now() - begun) / 1000;
    const found = await asked(countsOf);
    const wrong = Object.keys(stood).filter((name) => stood[name] !== found[name]);
    console.log(
      `Restored to ${moment}: ${TABLES.map((name) => `${name} ${found[name]} of ${stood[name]}`).join(", ")}, notes written after the backup ${found.later} of ${stood.later}, destroyed ${found.destroyed}.`,
    );
    console.log(
      `${(size / 1e6).toFixed(0)} MB: backup ${backedUp.toFixed(1)} s, restore ${copied.toFixed(1)} s, open again after ${whole.toFixed(1)} s.` +
        ` At this pace 10 GB are copied back in ${((copied * 10 * GB) / size / 60).toFixed(0)} minutes, and what the archive has since the backup comes on top.`,
    );
    if (wrong.length > 0 || found.destroyed !== 0) throw new Plain(`Not as it stood: ${wrong.join(", ")}`);
    say("Every row of that moment, and none of later.");
  } finally {
    for (const data of nodes.reverse())
      if (existsSync(join(data, "postmaster.pid")))
        run(
          "su",
          isRoot
            ? ["postgres", "-c", `${join(postgresPrograms(), "pg_ctl")} stop -D ${data} -m immediate -s`]
            : [],
        );
    rmSync(folder, { recursive: true, force: true });
  }
});

/** More firms like the first one: what is copied back is to take a while. */
async function grown(cluster) {
  const client = new pg.Client({ connectionString: cluster.superuserUrl() });
  await client.connect();
  await client.query("set session_replication_role = replica");
  await copyFirm(client, await firmTables(client), 1, FIRMS - 1);
  await client.end();
}

async function countsOf(client) {
  const parts = TABLES.map((name) => `(select count(*)::int from ${name}) as "${name}"`);
  const { rows } = await client.query(
    `select ${parts.join(", ")}, (select count(*)::int from visit where note = 'destroyed') as destroyed,
      (select count(*)::int from visit where note = 'after the backup') as later`,
  );
  return rows[0];
}

async function freePort(from) {
  let port = from;
  while (!(await portFree(port))) port++;
  return port;
}
