// npm run restore -- FILE: puts a backup in place of what is there; what was there is kept beside it.
import { existsSync } from "node:fs";
import { join, resolve } from "node:path";
import { dataFolder, holdFolder, openCluster } from "./lib/cluster.mjs";
import { ensureDebian, postgresPrograms } from "./lib/provision.mjs";
import { main, Plain, run, say } from "./lib/terminal.mjs";

/** Roles stand outside a database, so that no backup of one holds them; see the migrations. */
const ROLES = ["pelagon_app", "pelagon_gate", "pelagon_reader"];

main(async () => {
  const [file] = process.argv.slice(2);
  if (!file) throw new Plain("Say which backup: npm run restore -- pelagon.backup");
  if (process.env.DATABASE_URL)
    throw new Plain("DATABASE_URL names a database of your own: restore it with its pg_restore.");
  const source = resolve(process.env.INIT_CWD ?? ".", file);
  if (!existsSync(source)) throw new Plain(`There is no file ${source}.`);
  await ensureDebian();
  const folder = dataFolder();
  // Refused while Pelagon runs on this folder.
  const letGo = holdFolder(folder);
  const cluster = await openCluster(folder);
  const program = (name, args) => run(join(postgresPrograms(), name), args, { cwd: "/" });
  const psql = (sql) => {
    const { code, out } = program("psql", [
      "-X",
      "-q",
      "-v",
      "ON_ERROR_STOP=1",
      "-At",
      "-c",
      sql,
      cluster.superuserUrl("postgres"),
    ]);
    if (code !== 0) throw new Plain(`The database refused:\n${out}`);
    return out;
  };
  try {
    for (const role of ROLES)
      psql(
        `do $$ begin if not exists (select from pg_roles where rolname = '${role}') then create role ${role} nologin nosuperuser nobypassrls noinherit; end if; end $$`,
      );
    psql(`grant ${ROLES.join(", ")} to pelagon`);
    psql("drop database if exists pelagon_restored");
    psql("create database pelagon_restored owner pelagon");
    const { code, out } = program("pg_restore", [
      "--exit-on-error",
      "--single-transaction",
      `--dbname=${cluster.superuserUrl("pelagon_restored")}`,
      source,
    ]);
    if (code !== 0) {
      psql("drop database pelagon_restored");
      throw new Plain(
        `${source} cannot be restored; nothing was changed:\n${out.split("\n").slice(-6).join("\n")}`,
      );
    }
    const kept = `pelagon_before_${new Date().toISOString().replace(/\D/g, "").slice(0, 14)}`;
    psql(`alter database pelagon rename to ${kept}`);
    psql("alter database pelagon_restored rename to pelagon");
    say(`Restored from ${source}. What was there is kept in the database ${kept}.`);
  } finally {
    if (!cluster.found) cluster.stop();
    letGo();
  }
});
