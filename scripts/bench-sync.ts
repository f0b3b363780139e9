/**
 * npm run bench:sync [-- BATCHES SEED]: batches of commands as broken devices and people who mean ill send them, to
 * the real server; ends with 1 when one breaks it, is lost, is doubled, or stands under another's name.
 */
import { openDatabase } from "#server/db/connection";
import { prepareDatabase } from "#server/db/migrate";
import { clientOf } from "../tests/client";
import { newFirm } from "../tests/firm";
import { fuzzSync, placeToFuzz } from "../tests/sync-fuzz";
import { sized } from "./lib/bench.mjs";
import { throwAwayCluster, webServer } from "./lib/world.mjs";

const batches = Number(process.argv[2] ?? sized(10_000, 500));
const seed = Number(process.argv[3] ?? 1);
const cluster = await throwAwayCluster();
await prepareDatabase(cluster.ownerUrl, cluster.url);
const db = openDatabase(cluster.ownerUrl, 3);
const web = await webServer(cluster, { JOBS: "off" });
try {
  const ours = await newFirm(db, "ours");
  const theirs = await newFirm(db, "theirs");
  const as = async (email: string) => {
    const client = clientOf(web.address);
    await client.as(email);
    return client;
  };
  const senders = [
    { memberId: ours.memberId, http: await as(ours.email) },
    { memberId: ours.ownerId, http: await as(ours.ownerEmail) },
  ];
  const begun = performance.now();
  const found = await fuzzSync(
    { db, ours, senders, place: await placeToFuzz(db, ours, theirs) },
    seed,
    batches,
  );
  console.log(
    `seed ${seed}: ${JSON.stringify(found)} in ${((performance.now() - begun) / 1000).toFixed(0)} s`,
  );
  if (found.broken + found.underOthers + found.lost + found.doubled > 0) process.exitCode = 1;
} finally {
  await web.stop();
  await db.destroy();
  await cluster.stop();
}
