/**
 * npm run bench:growth [-- 1 10 100 1000]: the demo's firm, thirteen basins and a year, beside more and more firms like
 * it: what a page of one firm takes, what is saved a second, what lies on the disk, and how long one firm's file is in
 * the making. The last thousand take some minutes and some gigabytes.
 */
import { execFileSync } from "node:child_process";
import { mkdtempSync, rmSync, statSync } from "node:fs";
import { tmpdir } from "node:os";
import { join } from "node:path";
import pg from "pg";
import { sized, timesOf } from "./lib/bench.mjs";
import { copyFirm, firmTables } from "./lib/firms.mjs";
import { ensureBuild, ensureDebian, ensureModules, ROOT } from "./lib/provision.mjs";
import { main, Plain } from "./lib/terminal.mjs";
import { basinsOf, page, saveCount, signedIn, startVisit } from "./lib/visitor.mjs";
import { throwAwayCluster, webServer } from "./lib/world.mjs";

const asked = process.argv.slice(2).map(Number);
const STEPS = asked.length > 0 ? asked : sized([1, 10, 100, 1000], [1, 3]);
if (STEPS.some((one, index) => !Number.isInteger(one) || one < 1 || one <= (STEPS[index - 1] ?? 0)))
  throw new Plain("Numbers of firms, each larger than the one before.");
/** Firms that are made by one statement. */
const AT_ONCE = 25;
/** Pages and saves that are timed at each step. */
const TIMES = sized(60, 5);

main(async () => {
  await ensureDebian();
  await ensureModules();
  await ensureBuild();
  const cluster = await throwAwayCluster();
  const folder = mkdtempSync(join(tmpdir(), "pelagon-growth-"));
  let web;
  const db = new pg.Client({ connectionString: cluster.superuserUrl });
  try {
    web = await webServer(cluster, { PELAGON_DEMO: "1", JOBS: "off", DATABASE_CONNECTIONS: "10" });
    await db.connect();
    // Rows as they are, in any order: what holds between them held for the firm that they are made after.
    await db.query(
      "set session_replication_role = replica; set synchronous_commit = off; set work_mem = '256MB'",
    );
    const tables = await firmTables(db);
    let firms = 1;
    let alone = null;
    for (const step of STEPS) {
      const begun = Date.now();
      for (let next; firms < step; firms = next) {
        next = Math.min(firms + AT_ONCE, step);
        await copyFirm(db, tables, firms, next - 1);
      }
      if (step > 1) await db.query("analyze");
      await db.query("checkpoint");
      const made = (Date.now() - begun) / 1000;
      const found = await measured({ web, db, cluster, folder, firms: step });
      alone ??= found;
      console.log(
        `${String(step).padStart(5)} firms  Round p50 ${found.round.p50.toFixed(0)} ms (${(found.round.p50 / alone.round.p50).toFixed(2)}), p95 ${found.round.p95.toFixed(0)}` +
          `  Basin ${found.basin.p50.toFixed(0)} ms (${(found.basin.p50 / alone.basin.p50).toFixed(2)})` +
          `  save ${found.save.p50.toFixed(1)} ms (${(found.save.p50 / alone.save.p50).toFixed(2)})` +
          `  disk ${(found.bytes / step / 1e6).toFixed(1)} MB a firm` +
          `  file ${found.file.seconds.toFixed(1)} s, ${(found.file.bytes / 1e6).toFixed(1)} MB` +
          `  (made in ${made.toFixed(0)} s)`,
      );
    }
  } catch (fault) {
    process.stderr.write(`${web?.said() ?? ""}\n`);
    throw fault;
  } finally {
    await db.end();
    await web?.stop();
    await cluster.stop();
    rmSync(folder, { recursive: true, force: true });
  }
});

/** One firm among so many: its pages, a save, and its own file. */
async function measured({ web, db, cluster, folder, firms }) {
  const email = firms > 1 ? `jory+${Math.ceil(firms / 2)}@fennmoor.example` : "jory@fennmoor.example";
  const ask = await signedIn(web.address, email);
  const basins = await basinsOf(ask);
  const visit = await startVisit(ask, basins[0].id);
  const round = await timesOf(TIMES, () => page(ask, "/"));
  const basin = await timesOf(TIMES, () => page(ask, `/basins/${basins[1].id}`));
  const save = await timesOf(TIMES, () => saveCount(ask, visit));
  const { rows } = await db.query(
    "select pg_database_size(current_database())::float8 as bytes, (select firm_id from member where email = $1) as firm",
    [email],
  );
  const to = join(folder, `firm-${firms}.ndjson`);
  const begun = Date.now();
  execFileSync("npx", ["tsx", "scripts/firm.ts", "export", rows[0].firm, to], {
    cwd: ROOT,
    stdio: "ignore",
    env: { ...process.env, DATABASE_OWNER_URL: cluster.ownerUrl },
  });
  const seconds = (Date.now() - begun) / 1000;
  return { round, basin, save, bytes: rows[0].bytes, file: { seconds, bytes: statSync(to).size } };
}
