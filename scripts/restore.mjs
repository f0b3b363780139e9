// npm run restore -- FILE: puts a backup in place of what is there; what was there is kept beside it.
// npm run restore -- --back NAME: puts what was kept back in its place.
import { existsSync } from "node:fs";
import { resolve } from "node:path";
import { dataFolder, holdFolder, openCluster } from "./lib/cluster.mjs";
import { ensureDebian } from "./lib/provision.mjs";
import { main, Plain, say } from "./lib/terminal.mjs";

/** Roles stand outside a database, so that no backup of one holds them; see the migrations. */
const ROLES = [
  "pelagon_app",
  "pelagon_gate",
  "pelagon_reader",
  "pelagon_card",
  "pelagon_broom",
  "pelagon_eraser",
];
const RESTORED = "pelagon_restored";
const KEPT = /^pelagon_before_\d{17}$/;
/** A name for what is put aside now. */
const keptName = () => `pelagon_before_${new Date().toISOString().replace(/\D/g, "")}`;

main(async () => {
  const [file, back] = process.argv.slice(2);
  if (!file) throw new Plain("Say which backup: npm run restore -- pelagon.backup");
  if (process.env.DATABASE_URL)
    throw new Plain("DATABASE_URL names a database of your own: restore it with its pg_restore.");
  const source = resolve(process.env.INIT_CWD ?? ".", file);
  if (file !== "--back" && !existsSync(source)) throw new Plain(`There is no file ${source}.`);
  await ensureDebian();
  const folder = dataFolder();
  // Refused while Pelagon runs on this folder.
  const letGo = await holdFolder(folder);
  const cluster = await openCluster(folder);
  try {
    if (file === "--back") await putBack(cluster, back);
    else await restore(cluster, source);
  } finally {
    if (!cluster.found) await cluster.stop();
    letGo();
  }
});

async function restore(cluster, source) {
  await check(cluster, source);
  for (const role of ROLES)
    await cluster.psql(
      `do $$ begin if not exists (select from pg_roles where rolname = '${role}') then create role ${role} nologin nosuperuser nobypassrls noinherit; end if; end $$`,
    );
  await cluster.psql(`grant ${ROLES.join(", ")} to pelagon with admin option`);
  await cluster.psql(`drop database if exists ${RESTORED}`);
  await cluster.psql(`create database ${RESTORED} owner pelagon`);
  const { code, out } = await cluster.program(
    "pg_restore",
    ["--exit-on-error", "--single-transaction", `--dbname=${RESTORED}`, source],
    { database: RESTORED },
  );
  if (code !== 0) {
    await cluster.psql(`drop database ${RESTORED}`);
    throw new Plain(
      `${source} cannot be restored; nothing was changed:\n${out.split("\n").slice(-6).join("\n")}`,
    );
  }
  // Whoever was signed in when the backup was made may have been shut out since.
  await cluster.psql(
    `update session set revoked_at = now() where revoked_at is null;
     do $$ begin if to_regclass('password_reset') is not null then
       update password_reset set withdrawn_at = now() where withdrawn_at is null and used_at is null;
     end if; end $$`,
    RESTORED,
  );
  const kept = keptName();
  await swap(cluster, kept, RESTORED);
  say(`Restored from ${source}; everybody signs in anew. What was there is kept in the database ${kept}.`);
  say(`To go back to it: npm run restore -- --back ${kept}`);
}

/** Looks into the file before anything is touched: it must be a whole backup of a Pelagon. */
async function check(cluster, source) {
  const { code, out } = await cluster.program("pg_restore", ["--list", source]);
  if (code !== 0)
    throw new Plain(
      `${source} is not a backup; nothing was changed:\n${out.split("\n").slice(-3).join("\n")}`,
    );
  const missing = ["firm", "member", "session", "visit", "reading", "kysely_migration"].filter(
    (table) => !new RegExp(`TABLE DATA public ${table} `).test(out),
  );
  if (missing.length > 0)
    throw new Plain(
      `${source} is a backup of something else: it has no table ${missing.join(", ")}. Nothing was changed.`,
    );
}

/** Puts another database in the place of the one that is served, in one step: there is always one. */
const swap = (cluster, kept, next) =>
  cluster.psql(
    `begin; alter database pelagon rename to ${kept}; alter database ${next} rename to pelagon; commit;`,
  );

async function putBack(cluster, name) {
  const kept = (await cluster.psql("select datname from pg_database order by 1"))
    .split("\n")
    .filter((one) => KEPT.test(one));
  if (!kept.includes(name))
    throw new Plain(
      kept.length === 0
        ? "Nothing was kept here by a restore."
        : `Say which: npm run restore -- --back ${kept.at(-1)}\nKept are ${kept.join(", ")}.`,
    );
  const now = keptName();
  await swap(cluster, now, name);
  say(`${name} is back in its place. What was there is kept in the database ${now}.`);
}
