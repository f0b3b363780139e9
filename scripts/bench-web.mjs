// npm run bench:web: server time of the main pages on the demo year, and the weight of the visit page.

import { readFileSync } from "node:fs";
import { join } from "node:path";
import { gzipSync } from "node:zlib";
import { sized } from "./lib/bench.mjs";
import { ensureBuild, ensureDebian, ensureModules, ROOT } from "./lib/provision.mjs";
import { main } from "./lib/terminal.mjs";
import { throwAwayCluster, webServer } from "./lib/world.mjs";

const TIMES = sized(200, 10);

main(async () => {
  await ensureDebian();
  await ensureModules();
  await ensureBuild();
  const cluster = await throwAwayCluster();
  const web = await webServer(cluster, { PELAGON_DEMO: "1" });
  try {
    await measure(web.address);
  } finally {
    await web.stop();
    await cluster.stop();
  }
});

async function measure(address) {
  const post = (path, body, cookie = "") =>
    fetch(address + path, {
      method: "POST",
      redirect: "manual",
      headers: { Origin: address, Cookie: cookie },
      body: new URLSearchParams(body),
    });
  const entry = await post("/sign-in", { email: "jory@fennmoor.example", password: "orrin-vale-demo" });
  const cookie = entry.headers.get("set-cookie").split(";")[0];
  const page = async (path) => (await fetch(address + path, { headers: { Cookie: cookie } })).text();
  const basin = (await page("/")).match(/\/basins\/[0-9a-f-]{36}/)[0];
  const start = await post(basin, { id: "01900000-0000-7000-8000-000000000001" }, cookie);
  const visit = start.headers.get("location");
  for (const path of ["/health", "/", basin, `${visit}/freeChlorine`]) {
    const times = [];
    for (let run = 0; run < TIMES + 20; run++) {
      const begun = performance.now();
      await page(path);
      if (run >= 20) times.push(performance.now() - begun);
    }
    times.sort((a, b) => a - b);
    const at = (share) => times[Math.floor(share * times.length)].toFixed(1);
    console.log(
      `${path.replace(/[0-9a-f-]{36}/, ":id").padEnd(28)} median ${at(0.5)} ms, p95 ${at(0.95)} ms`,
    );
  }
  const html = await page(`${visit}/freeChlorine`);
  const scripts = [...new Set(html.match(/\/assets\/[\w.-]+\.js/g))];
  const bytes = scripts.reduce(
    (sum, path) => sum + gzipSync(readFileSync(join(ROOT, "build", "client", path))).length,
    0,
  );
  console.log(`visit page: ${scripts.length} scripts, ${(bytes / 1000).toFixed(0)} kB gzip`);
}
