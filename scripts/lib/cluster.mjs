// A PostgreSQL cluster of Pelagon's own, on loopback, in its own folder with its own port.
import { createHash, randomBytes } from "node:crypto";
import {
  chownSync,
  existsSync,
  mkdirSync,
  readdirSync,
  readFileSync,
  readlinkSync,
  realpathSync,
  renameSync,
  rmSync,
  statSync,
  writeFileSync,
} from "node:fs";
import { createServer } from "node:net";
import { basename, join } from "node:path";
import { setTimeout as delay } from "node:timers/promises";
import { ensureSpace, isRoot, postgresPrograms, ROOT } from "./provision.mjs";
import { Plain, run, runAside, say } from "./terminal.mjs";

/** Who may do what: the first everything, the second owns the tables, the third serves pages and makes nothing. */
const SUPERUSER = "pelagon_cluster";
const OWNER = "pelagon";
const WEB = "pelagon_web";
/** Each has a secret of its own, in a file of the data folder. */
const SECRETS = { [SUPERUSER]: "password", [OWNER]: "password.owner", [WEB]: "password.web" };
const FIRST_PORT = 54380;
/** Ports that are tried one after the other where each is taken at the last moment. */
const MOST_PORTS = 5;

/**
 * Where the data lives. PostgreSQL refuses to run as root, so root's cluster runs as the account
 * `postgres`, in a folder that account can enter; a clone may lie where it cannot.
 */
export function dataFolder(environment = process.env) {
  if (environment.PELAGON_DATA) return environment.PELAGON_DATA;
  if (!isRoot) return join(ROOT, ".pelagon");
  const mark = createHash("sha256").update(realpathSync(ROOT)).digest("hex").slice(0, 8);
  return join("/var/lib/pelagon", `${basename(realpathSync(ROOT))}-${mark}`);
}

export function account() {
  if (!isRoot) return {};
  const uid = Number(run("id", ["-u", "postgres"]).out);
  const gid = Number(run("id", ["-g", "postgres"]).out);
  if (!Number.isInteger(uid) || !Number.isInteger(gid))
    throw new Plain("The account `postgres` is missing; reinstall Debian's package postgresql.");
  return { uid, gid };
}

export const portFree = (port, host = "127.0.0.1") =>
  new Promise((resolve) => {
    const probe = createServer();
    probe.once("error", () => resolve(false));
    probe.listen(port, host, () => probe.close(() => resolve(true)));
  });

async function freePort(wanted) {
  for (let port = wanted; port < wanted + 500; port++) if (await portFree(port)) return port;
  throw new Plain(`No free port from ${wanted} to ${wanted + 499} for the database.`);
}

const alive = (pid) => {
  try {
    process.kill(pid, 0);
    return true;
  } catch (fault) {
    return fault.code === "EPERM";
  }
};

const commandLine = (pid) => {
  try {
    return readFileSync(`/proc/${pid}/cmdline`, "utf8").replaceAll("\0", " ");
  } catch {
    return "";
  }
};

/** The running postmaster of this folder as { pid, port }, or null. */
function postmaster(cluster) {
  const file = join(cluster, "postmaster.pid");
  if (!existsSync(file)) return null;
  const [pid, , , port] = readFileSync(file, "utf8")
    .split("\n")
    .map((line) => Number(line));
  return pid > 0 && alive(pid) && commandLine(pid).includes(cluster) ? { pid, port } : null;
}

/** Whether processes of a cluster without a postmaster still work in its folder. */
function orphansOf(cluster) {
  if (!existsSync("/proc/self")) return false;
  return readdirSync("/proc").some((name) => {
    try {
      return /^\d+$/.test(name) && readlinkSync(`/proc/${name}/cwd`) === realpathSync(cluster);
    } catch {
      // It has ended meanwhile, or is somebody else's.
      return false;
    }
  });
}

/**
 * Removes a pid file whose number now belongs to another program. One whose process is gone is left to
 * PostgreSQL, which looks whether anything still holds the memory that it names.
 */
function clearForeignPid(cluster) {
  const file = join(cluster, "postmaster.pid");
  if (!existsSync(file)) return;
  const pid = Number(readFileSync(file, "utf8").split("\n")[0]);
  if (!(pid > 0) || !alive(pid) || commandLine(pid).includes(cluster)) return;
  say("Removing the pid file that a crash left behind.");
  rmSync(file);
}

const tail = (text) => text.trim().split("\n").slice(-6).join("\n");

/** Says what is wrong with a cluster that cannot start, before PostgreSQL says it in its own words. */
function inspect(cluster, as) {
  const owner = statSync(cluster).uid;
  if (as.uid !== undefined && owner !== as.uid)
    throw new Plain(
      `The cluster ${cluster} belongs to the user id ${owner}, and must belong to postgres (${as.uid}): chown -R postgres:postgres ${cluster}`,
    );
  for (const file of ["PG_VERSION", "global/pg_control", "postgresql.conf", "pg_hba.conf"])
    if (!existsSync(join(cluster, file)))
      throw new Plain(
        `The file ${join(cluster, file)} is missing: the cluster is not whole. Put the folder back from a copy, or move it aside and restore a backup: npm run restore -- FILE`,
      );
  const version = readFileSync(join(cluster, "PG_VERSION"), "utf8").trim();
  if (!postgresPrograms().includes(`/${version}/`))
    throw new Plain(
      `The cluster was made by PostgreSQL ${version}, and ${postgresPrograms()} is installed. Install PostgreSQL ${version}, or bring the data over by a backup.`,
    );
}

/** The lines of a start that went wrong which say why; those of earlier starts are not its own. */
function whyNot(log, from, said) {
  const text = existsSync(log) ? readFileSync(log, "utf8").slice(from) : "";
  const grave = text.split("\n").filter((line) => /\b(FATAL|PANIC|ERROR|HINT|DETAIL)\b/.test(line));
  return tail(grave.join("\n") || text || said);
}

/** What seals passwords that the database keeps: beside it and not in it, so that a backup holds none of them. */
export const secretsKey = (folder) => secretIn(join(folder, "secrets.key"));

const secretOf = (folder, role) => secretIn(join(folder, SECRETS[role]));

function secretIn(file) {
  if (!existsSync(file)) writeFileSync(file, `${randomBytes(24).toString("base64url")}\n`, { mode: 0o600 });
  return readFileSync(file, "utf8").trim();
}

async function makeCluster(folder, cluster, { tool, as, throwAway }) {
  // Made beside and renamed when whole: a first start that was cut short leaves nothing half made.
  const half = join(folder, "cluster.new");
  rmSync(half, { recursive: true, force: true });
  mkdirSync(half, { mode: 0o700 });
  const handed = join(folder, "password.initdb");
  writeFileSync(handed, `${secretOf(folder, SUPERUSER)}\n`, { mode: 0o600 });
  if (as.uid !== undefined) for (const path of [half, handed]) chownSync(path, as.uid, as.gid);
  say("Making the database cluster …");
  const made = await tool("initdb", [
    "-D",
    half,
    "-U",
    SUPERUSER,
    "--auth=scram-sha-256",
    `--pwfile=${handed}`,
    "--data-checksums",
    "--encoding=UTF8",
    "--locale=C.UTF-8",
    ...(throwAway ? ["--no-sync"] : []),
  ]);
  rmSync(handed, { force: true });
  if (made.code !== 0)
    throw new Plain(`The database cluster cannot be made in ${folder}:\n${tail(made.out)}`);
  renameSync(half, cluster);
}

/**
 * Makes the cluster when there is none, starts it when it does not run.
 * @returns addresses with passwords, how to stop it, start it again, and run a program of PostgreSQL on it
 */
export async function openCluster(folder, { throwAway = false, keeps = !throwAway } = {}) {
  const bin = postgresPrograms();
  const as = account();
  const cluster = join(folder, "cluster");
  const tool = (name, args, options = {}) => runAside(join(bin, name), args, { ...as, cwd: "/", ...options });

  mkdirSync(folder, { recursive: true });
  ensureSpace(folder, existsSync(cluster) ? 30 : 300);
  if (isRoot && run("test", ["-x", folder], as).code !== 0)
    throw new Plain(
      `The account postgres cannot enter ${folder}. Set PELAGON_DATA to a folder that it can, such as /var/lib/pelagon.`,
    );
  if (existsSync(cluster) && !existsSync(join(folder, SECRETS[SUPERUSER])))
    throw new Plain(
      `${join(folder, SECRETS[SUPERUSER])} is gone, but its cluster is there. Put the file back, or move ${folder} aside to start afresh.`,
    );
  if (existsSync(cluster)) inspect(cluster, as);
  else await makeCluster(folder, cluster, { tool, as, throwAway });

  const log = join(cluster, "pelagon.log");
  const quick = `${throwAway ? " -c fsync=off -c full_page_writes=off" : ""}${keeps ? "" : " -c synchronous_commit=off"}`;
  const found = postmaster(cluster);
  const portFile = join(folder, "port");
  const wanted = existsSync(portFile) ? Number(readFileSync(portFile, "utf8")) : FIRST_PORT;
  let port = found?.port ?? (await freePort(wanted || FIRST_PORT));
  writeFileSync(portFile, `${port}\n`);

  /** Starts the postmaster on its port; throws what keeps it from starting. */
  async function start() {
    // A postmaster that was killed leaves processes behind for a moment; none may work beside a new one.
    for (let tries = 0; tries < 200 && orphansOf(cluster); tries++) await delay(50);
    clearForeignPid(cluster);
    const from = existsSync(log) ? statSync(log).size : 0;
    const options = `-p ${port} -c listen_addresses=127.0.0.1 -c unix_socket_directories='' -c max_connections=60${quick}`;
    const { code, out } = await tool(
      "pg_ctl",
      ["start", "-D", cluster, "-w", "-t", "90", "-l", log, "-s", "-o", options],
      { leaves: true },
    );
    if (code !== 0)
      throw new Plain(`The database does not start:\n${whyNot(log, from, out)}\nIts log: ${log}`);
  }
  /** As `start`; another program that took the port between the look and the listening is given way to. */
  async function startFirst() {
    for (let left = MOST_PORTS; ; left--)
      try {
        return await start();
      } catch (fault) {
        if (left === 0 || !/could not create any TCP\/IP sockets/.test(fault.message)) throw fault;
        port = await freePort(port + 1);
        writeFileSync(portFile, `${port}\n`);
      }
  }
  if (found) say(`The database still runs from before, on port ${port}; going on with it.`);
  else await startFirst();

  const address = (role, database) =>
    `postgres://${role}:${encodeURIComponent(secretOf(folder, role))}@127.0.0.1:${port}/${database}`;
  /** Runs a program as the superuser; the secret is handed over where no list of processes shows it. */
  const program = (name, args, { database = OWNER, input } = {}) =>
    runAside(join(bin, name), args, {
      cwd: "/",
      input,
      env: {
        ...process.env,
        PGHOST: "127.0.0.1",
        PGPORT: `${port}`,
        PGUSER: SUPERUSER,
        PGPASSWORD: secretOf(folder, SUPERUSER),
        PGDATABASE: database,
      },
    });
  /** Runs statements past the walls; what they give, or a plain word of what went wrong. */
  async function psql(sql, database = "postgres") {
    const { code, out } = await program("psql", ["-X", "-q", "-v", "ON_ERROR_STOP=1", "-At", "-f", "-"], {
      database,
      input: sql,
    });
    if (code !== 0) throw new Plain(`The database refused:\n${tail(out)}`);
    return out;
  }
  await prepareRoles(psql, (role) => secretOf(folder, role), throwAway);

  return {
    /** For the web server. */
    url: address(WEB, OWNER),
    /** For what changes tables, at the start. */
    ownerUrl: address(OWNER, OWNER),
    /** Past the walls between firms: for tests of a backup and nothing else. */
    superuserUrl: (database = OWNER) => address(SUPERUSER, database),
    /** It ran before this process asked for it. */
    found: found !== null,
    running: () => postmaster(cluster) !== null,
    start,
    program,
    psql,
    /** Stops it; when it does not end its connections in time, at once: it recovers at its next start. */
    async stop({ atOnce = false } = {}) {
      for (const [mode, seconds] of atOnce
        ? [["immediate", "20"]]
        : [
            ["fast", "30"],
            ["immediate", "20"],
          ]) {
        if (!postmaster(cluster)) return;
        const { code } = await tool("pg_ctl", ["stop", "-D", cluster, "-m", mode, "-w", "-t", seconds, "-s"]);
        if (code === 0) return;
        say(`The database did not stop in ${seconds} s${mode === "fast" ? "; it is stopped at once" : ""}.`);
      }
    },
  };
}

/** The roles that Pelagon signs in by, each with its secret, and the database; told again, nothing changes. */
export async function prepareRoles(psql, secret, throwAway) {
  const role = (name, rights) =>
    `do $$ begin if not exists (select from pg_roles where rolname = '${name}') then create role ${name}; end if; end $$;
     alter role ${name} login nosuperuser nobypassrls ${rights} password '${secret(name)}';`;
  await psql(`
    ${role(OWNER, `createrole ${throwAway ? "createdb" : "nocreatedb"}`)}
    ${role(WEB, "noinherit nocreaterole nocreatedb")}
    grant ${WEB} to ${OWNER} with admin option;`);
  const there = await psql(`select 1 from pg_database where datname = '${OWNER}'`);
  if (there !== "1") await psql(`create database ${OWNER} owner ${OWNER}`);
}

const HOLDERS = /(start|restore|backup)\.mjs|new-firm\.ts|reset-password\.ts|firm\.ts/;

/** Who holds the folder now: a process that still lives and is one of ours; null when nobody does. */
function holderOf(file) {
  const pid = existsSync(file) ? Number(readFileSync(file, "utf8")) : 0;
  return pid > 0 && pid !== process.pid && alive(pid) && HOLDERS.test(commandLine(pid)) ? pid : null;
}

/** Takes the folder for this process; refuses while another holds it. Returns how to let go. */
export async function holdFolder(folder) {
  mkdirSync(folder, { recursive: true });
  const file = join(folder, "holder");
  // A backup that is about to stop the cluster it started lets go in a moment.
  for (let tries = 0; tries < 100; tries++) {
    const pid = holderOf(file);
    if (pid === null) break;
    if (/(start|restore)\.mjs/.test(commandLine(pid)) || tries === 99)
      throw new Plain(
        `Pelagon already runs on ${folder} (process ${pid}). Stop it first, or set PELAGON_DATA and PORT for a second one.`,
      );
    await delay(200);
  }
  writeFileSync(file, `${process.pid}\n`);
  return () => rmSync(file, { force: true });
}

/**
 * Closes a cluster that was opened beside, for a backup or a command: it is stopped only when this process
 * started it and nobody has taken it up since.
 */
export async function closeAfter(folder, cluster) {
  if (cluster.found || holderOf(join(folder, "holder")) !== null) return;
  const letGo = await holdFolder(folder);
  await cluster.stop();
  letGo();
}
