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
import { ensureBuild, ensureDebian } from "./lib/provision.mjs";
import { throwAwayCluster, webServer } from "./lib/world.mjs";

/** Then come other visits: each answer carries its visits whole, and no call has as many readings as ten thousand batches. */
const AT_ONE_PLACE = 250;
const batches = Number(process.argv[2] ?? sized(10_000, 500));
const seed = Number(process.argv[3] ?? 1);
await ensureDebian();
await ensureBuild();
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
  const found: Record<string, number> = {};
  for (let done = 0; done < batches; done += AT_ONE_PLACE) {
    const place = await placeToFuzz(db, ours, theirs);
    const some = Math.min(AT_ONE_PLACE, batches - done);
    const more = await fuzzSync({ db, ours, senders, place }, seed + done, some);
    for (const [name, count] of Object.entries(more)) found[name] = (found[name] ?? 0) + count;
  }
  console.log(
    `seed ${seed}: ${JSON.stringify(found)} in ${((performance.now() - begun) / 1000).toFixed(0)} s`,
  );
  const wrong = ["broken", "underOthers", "lost", "doubled"].map((name) => found[name] ?? 0);
  if (wrong.some((count) => count > 0)) process.exitCode = 1;
} finally {
  await web.stop();
  await db.destroy();
  await cluster.stop();
}
