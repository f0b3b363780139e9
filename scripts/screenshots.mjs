// npm run screenshots: remakes docs/screenshots/ from the demo data in headless Chromium.
import { mkdirSync } from "node:fs";
import { join } from "node:path";
import { openBrowser, PHONE, press, signIn, WIDE } from "./lib/browser.mjs";
import { ensureBuild, ensureDebian, ensureModules, ROOT } from "./lib/provision.mjs";
import { main, say } from "./lib/terminal.mjs";
import { throwAwayCluster, webServer } from "./lib/world.mjs";

const FOLDER = join(ROOT, "docs", "screenshots");

main(async () => {
  await ensureDebian({ browser: true });
  await ensureModules();
  await ensureBuild();
  mkdirSync(FOLDER, { recursive: true });
  const cluster = await throwAwayCluster();
  const web = await webServer(cluster.url, { PELAGON_DEMO: "1" });
  const browser = await openBrowser();
  try {
    await shoot(browser, web.address);
  } finally {
    await browser.close();
    await web.stop();
    cluster.stop();
  }
});

async function shoot(browser, address) {
  const page = await browser.page(WIDE);
  const keep = async (name) => {
    await page.waitForNetworkIdle({ idleTime: 300 });
    await page.screenshot({ path: join(FOLDER, `${name}.png`) });
    say(name);
  };
  const at = (ending) =>
    page
      .waitForFunction((wanted) => location.pathname.endsWith(wanted), {}, ending)
      .then(() => page.waitForNetworkIdle({ idleTime: 200 }));
  const drops = async (times) => {
    for (let time = 0; time < times; time++) await page.keyboard.press("Space");
  };

  await page.goto(`${address}/sign-in`, { waitUntil: "networkidle0" });
  await keep("sign-in");
  await signIn(page, address);
  await keep("round");
  await press(page, "Basins");
  await at("/basins");
  await press(page, "Terrace pool");
  await page.waitForSelector("h1 ::-p-text(Terrace pool)").catch(() => {});
  await keep("basin");

  await press(page, "Start a visit");
  await at("freeChlorine");
  await drops(3);
  await keep("count");
  await page.keyboard.press("s");
  await at("combinedChlorine");
  await drops(1);
  await page.keyboard.press("s");
  await at("ph");
  await press(page, "between 7.8 and 8.0");
  await keep("comparator");
  await press(page, "Save");
  await at("totalAlkalinity");
  await drops(7);
  await page.keyboard.press("s");
  await at("calciumHardness");
  await drops(23);
  await page.keyboard.press("s");
  await at("cyanuricAcid");
  await press(page, "between 40 and 50");
  await press(page, "Save");
  await at("temperature");
  await page.keyboard.type("81");
  await page.keyboard.press("Enter");
  await at("judge");
  await keep("judge");
  await page.keyboard.press("s");
  await at("dose");
  await press(page, "Added");
  await page.waitForSelector("::-p-text(Given:)");
  await keep("dose");
  const visit = page.url().split("/").at(-2);
  await page.setViewport(PHONE);
  await page.goto(`${address}/visits/${visit}/totalAlkalinity`, { waitUntil: "networkidle0" });
  await keep("count-phone");
  await page.emulateMediaFeatures([{ name: "prefers-color-scheme", value: "dark" }]);
  await page.goto(`${address}/visits/${visit}/judge`, { waitUntil: "networkidle0" });
  await keep("judge-phone-dark");
  await page.emulateMediaFeatures([]);
  await page.setViewport(WIDE);
  await page.goto(`${address}/visits/${visit}/close`, { waitUntil: "networkidle0" });
  await page.type("textarea", "Acid in four pours along the returns; retest pH on Wednesday.");
  await press(page, "Save the visit");
  await page.waitForFunction((id) => location.pathname.endsWith(id), {}, visit);
  await keep("visit-sheet");
  await page.goto(`${address}/settings`, { waitUntil: "networkidle0" });
  await keep("settings");
}
