/**
 * npm run bench:hostile: what one firm feels of another that does all that a firm may do at once: pages by twenty
 * connections, plans and PDFs, an import, an export. Her pages alone first, then beside the other's; both in one run.
 */
import autocannon from "autocannon";
import pg from "pg";
import { sized, timesOf } from "./lib/bench.mjs";
import { copyFirm, firmTables } from "./lib/firms.mjs";
import { ensureBuild, ensureDebian, ensureModules } from "./lib/provision.mjs";
import { main } from "./lib/terminal.mjs";
import { basinsOf, page, roundRequest, saveCount, signedIn, startVisit } from "./lib/visitor.mjs";
import { throwAwayCluster, webServer } from "./lib/world.mjs";

const TIMES = sized(150, 10);
const CONNECTIONS = 20;

main(async () => {
  await ensureDebian();
  await ensureModules();
  await ensureBuild();
  const cluster = await throwAwayCluster();
  const db = new pg.Client({ connectionString: cluster.superuserUrl });
  let web;
  try {
    web = await webServer(cluster, { PELAGON_DEMO: "1", DATABASE_CONNECTIONS: "10", JOBS: "off" });
    await db.connect();
    await db.query("set session_replication_role = replica");
    await copyFirm(db, await firmTables(db), 1, 1);
    await db.query("analyze");
    const good = await signedIn(web.address, "jory@fennmoor.example");
    const visit = await startVisit(good, (await basinsOf(good))[0].id);
    const work = { Round: () => page(good, "/"), save: () => saveCount(good, visit) };
    const alone = await timed(work);
    const hostile = await hostileAt(web.address);
    const beside = await timed(work);
    const did = await hostile.stop();
    for (const name of Object.keys(work)) {
      const [a, b] = [alone[name], beside[name]];
      console.log(
        `${name.padEnd(6)} alone p50 ${a.p50.toFixed(0)} p99 ${a.p99.toFixed(0)} ms, beside p50 ${b.p50.toFixed(0)} p99 ${b.p99.toFixed(0)} ms, ratio p50 ${(b.p50 / a.p50).toFixed(2)} p99 ${(b.p99 / a.p99).toFixed(2)}`,
      );
    }
    console.log(`the other: ${did}`);
  } finally {
    await db.end();
    await web?.stop();
    await cluster.stop();
  }
});

async function timed(work) {
  const found = {};
  for (const [name, one] of Object.entries(work)) found[name] = await timesOf(TIMES, one);
  return found;
}

/** Somebody of another firm who asks for all there is, over and over. */
async function hostileAt(address) {
  const ask = await signedIn(address, "tamsin+1@fennmoor.example");
  const basins = await basinsOf(ask);
  const done = { pages: 0, exports: 0, refused: 0 };
  let going = true;
  const over = async (name, path) => {
    while (going)
      try {
        const answer = await ask(path);
        await answer.arrayBuffer();
        done[answer.status === 200 ? name : "refused"] += 1;
      } catch {
        done.refused += 1;
      }
  };
  const pages = autocannon({
    url: address,
    connections: CONNECTIONS,
    duration: 3600,
    requests: [
      roundRequest(ask),
      ...basins.slice(0, 5).map(({ id }) => ({ path: `/basins/${id}`, headers: ask.headers })),
    ],
  });
  const files = [over("exports", "/book/export.json"), over("exports", "/book/export.csv")];
  // Until it is under way.
  await new Promise((resolve) => setTimeout(resolve, 3000));
  return {
    async stop() {
      going = false;
      pages.stop();
      const run = await pages;
      await Promise.all(files);
      return `${run.requests.total} pages (${run.non2xx} refused), ${done.exports} exports, ${done.refused} of them refused`;
    },
  };
}
