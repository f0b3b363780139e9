// The demo world and a browser for a script that measures, from nothing to cleared away.
import { openBrowser } from "./browser.mjs";
import { ensureBuild, ensureDebian, ensureModules } from "./provision.mjs";
import { throwAwayCluster, webServer } from "./world.mjs";

/** Runs `work` with a browser and the address of a server that holds the demo year, and that server. */
export async function withDemo(work) {
  await ensureDebian({ browser: true });
  await ensureModules();
  await ensureBuild();
  const cluster = await throwAwayCluster();
  const web = await webServer(cluster, { PELAGON_DEMO: "1" });
  const browser = await openBrowser();
  try {
    await work(browser, web.address, web);
  } finally {
    await browser.close();
    await web.stop();
    await cluster.stop();
  }
}
