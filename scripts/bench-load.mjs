/**
 * npm run bench:load [-- --against FOLDER]: fifty at once on the Round and on counts of drops, on the demo
 * year. With another checkout named, both are measured by turns in this one run and their ratio is told.
 */

import { resolve } from "node:path";
import { pathToFileURL } from "node:url";
import autocannon from "autocannon";
import { sized } from "./lib/bench.mjs";
import { ensureBuild, ensureDebian, ensureModules, ROOT } from "./lib/provision.mjs";
import { main } from "./lib/terminal.mjs";
import { basinsOf, countRequest, roundRequest, signedIn, startVisit } from "./lib/visitor.mjs";

const CONNECTIONS = 50;
const SECONDS = sized(10, 2);
const TURNS = sized(3, 1);
/** Visits that are counted at: one for each of as many technicians. */
const VISITS = 13;

const against = process.argv.indexOf("--against");
const folders = against > 0 ? [ROOT, resolve(process.argv[against + 1])] : [ROOT];

main(async () => {
  await ensureDebian();
  await ensureModules();
  await ensureBuild();
  const versions = [];
  try {
    for (const folder of folders) versions.push(await open(folder));
    const found = versions.map(() => ({ round: [], counts: [] }));
    for (let turn = 0; turn < TURNS; turn++)
      for (const [index, version] of versions.entries()) {
        found[index].round.push(await load(version, version.round));
        found[index].counts.push(await load(version, version.counts));
      }
    for (const what of ["round", "counts"]) {
      const told = found.map((one) => middle(one[what]));
      for (const [index, { rate, p50, p99, bad }] of told.entries())
        console.log(
          `${what.padEnd(7)} ${index === 0 ? "here   " : "against"} ${rate.toFixed(0)} a second, p50 ${p50} ms, p99 ${p99} ms, ${bad} not answered well`,
        );
      if (told[1]) console.log(`${what.padEnd(7)} ratio   ${(told[0].rate / told[1].rate).toFixed(2)}`);
    }
  } finally {
    for (const version of versions.reverse()) await version.close();
  }
});

/** The run with the middle rate. */
const middle = (runs) => runs.toSorted((a, b) => a.rate - b.rate)[Math.floor(runs.length / 2)];

/** A version of Pelagon from its own folder, with the demo year and as many visits under way. */
async function open(folder) {
  const { throwAwayCluster, webServer } = await import(pathToFileURL(`${folder}/scripts/lib/world.mjs`).href);
  const cluster = await throwAwayCluster();
  const web = await webServer(cluster.ownerUrl ? cluster : cluster.url, { PELAGON_DEMO: "1", JOBS: "off" });
  const ask = await signedIn(web.address);
  const visits = [];
  for (const { id } of (await basinsOf(ask)).slice(0, VISITS)) visits.push(await startVisit(ask, id));
  return {
    address: web.address,
    round: [roundRequest(ask)],
    counts: visits.map((visit) => countRequest(ask, visit)),
    async close() {
      await web.stop();
      await cluster.stop();
    },
  };
}

async function load({ address }, requests) {
  const run = await autocannon({
    url: address,
    connections: CONNECTIONS,
    duration: SECONDS,
    requests,
  });
  return {
    rate: run.requests.average,
    p50: run.latency.p50,
    p99: run.latency.p99,
    bad: run.non2xx + run.errors + run.timeouts,
  };
}
