// npm run backup -- FILE: everything of every firm in one file, while Pelagon runs or not.
import { existsSync, renameSync, rmSync } from "node:fs";
import { dirname, join, resolve } from "node:path";
import { closeAfter, dataFolder, openCluster } from "./lib/cluster.mjs";
import { ensureDebian } from "./lib/provision.mjs";
import { main, Plain, say } from "./lib/terminal.mjs";

main(async () => {
  const [file] = process.argv.slice(2);
  if (!file) throw new Plain("Say where the backup goes: npm run backup -- pelagon.backup");
  if (process.env.DATABASE_URL)
    throw new Plain(
      "DATABASE_URL names a database of your own: back it up with its pg_dump, by a role that sees the rows of all firms.",
    );
  const target = resolve(process.env.INIT_CWD ?? ".", file);
  if (!existsSync(dirname(target))) throw new Plain(`There is no folder ${dirname(target)}.`);
  if (existsSync(target)) throw new Plain(`${target} is there already; nothing is overwritten.`);
  await ensureDebian();
  const folder = dataFolder();
  if (!existsSync(join(folder, "cluster"))) throw new Plain(`There is no database in ${folder} yet.`);
  const cluster = await openCluster(folder);
  // It holds what every firm wrote: for nobody's eyes but its owner's, from its first byte on.
  process.umask(0o077);
  // Written beside and renamed when whole.
  const half = `${target}.part`;
  try {
    const { code, out } = await cluster.program("pg_dump", ["--format=custom", `--file=${half}`]);
    if (code !== 0) throw new Plain(`The backup failed:\n${out}`);
    renameSync(half, target);
    say(`Backed up to ${target}`);
  } finally {
    rmSync(half, { force: true });
    await closeAfter(folder, cluster);
  }
});
