// npm run screenshots: remakes docs/screenshots/ from the demo data in headless Chromium.
import { mkdirSync } from "node:fs";
import { join } from "node:path";
import { open, openBrowser, PHONE, press, signIn, still, WIDE } from "./lib/browser.mjs";
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
  const web = await webServer(cluster, { PELAGON_DEMO: "1" });
  const browser = await openBrowser();
  try {
    await shoot(browser, web.address);
  } finally {
    await browser.close();
    await web.stop();
    await cluster.stop();
  }
});

async function shoot(browser, address) {
  const page = await browser.page(WIDE);
  const keep = async (name) => {
    await still(page);
    // Fonts and the worker's answer come a moment later.
    await new Promise((done) => setTimeout(done, 700));
    await page.screenshot({ path: join(FOLDER, `${name}.png`) });
    say(name);
  };
  const at = (ending) => still(page, ending);
  const drops = async (times) => {
    for (let time = 0; time < times; time++) await page.keyboard.press("Space");
  };

  await practised(page, address);
  await keep("practice");
  await signIn(page, address);
  await learned(page, address);
  await open(page, address);
  await keep("round");
  await open(page, `${address}/week`);
  await keep("week");
  await open(page, address);
  await press(page, "Basins");
  await at("/basins");
  await press(page, "Terrace pool");
  await page.waitForSelector("h1 ::-p-text(Terrace pool)").catch(() => {});
  await keep("basin");
  await page.waitForSelector("canvas");
  await page.$eval("#habits", (title) => scrollTo(0, title.getBoundingClientRect().top - 20));
  await keep("habits");
  await page.evaluate(() => scrollTo(0, 0));

  await press(page, "Start visit");
  await at("look");
  await press(page, "cloudy");
  await press(page, "gate or fence does not close and latch by itself");
  await keep("look");
  await page.keyboard.press("s");
  await at("sample");
  const visitAt = (stop) => open(page, page.url().replace(/[^/]+$/, stop));
  const next = () =>
    page.waitForFunction((here) => location.pathname !== here, {}, new URL(page.url()).pathname);
  /** Answers what is asked before a result is saved, as somebody would who has checked it. */
  const settle = async (save) => {
    const left = next();
    await save?.();
    for (;;) {
      const done = await Promise.race([
        left.then(() => true),
        page.waitForSelector("[role=alertdialog] button:last-of-type").then(() => false),
      ]);
      if (done) break;
      await page.click("[role=alertdialog] button:last-of-type");
      await new Promise((done) => setTimeout(done, 250));
    }
    await still(page);
  };
  await page.keyboard.press("s");
  await at("temperature");
  await page.keyboard.type("81");
  await page.keyboard.press("Enter");
  await at("freeChlorine");
  await drops(7);
  await keep("count");
  await settle(() => page.keyboard.press("s"));
  await visitAt("combinedChlorine");
  await drops(1);
  await settle(() => page.keyboard.press("s"));
  await visitAt("ph");
  await press(page, "7.8 to 8.0");
  await settle(() => press(page, "Save"));
  await visitAt("acidDemand");
  await drops(5);
  await settle(() => page.keyboard.press("s"));
  await visitAt("totalAlkalinity");
  await drops(7);
  await settle(() => page.keyboard.press("s"));
  await visitAt("calciumHardness");
  await drops(47);
  await page.keyboard.press("s");
  await page.waitForSelector("[role=alertdialog]");
  await keep("asked");
  await settle();
  await visitAt("cyanuricAcid");
  await press(page, "40 to 50");
  await settle(() => press(page, "Save"));
  await visitAt("judge");
  await keep("judge");
  await page.keyboard.press("s");
  await at("dose");
  await page.waitForSelector("::-p-text(Start this plan)");
  await keep("dose");
  await press(page, "Start this plan");
  await page.waitForSelector("::-p-text(Plan in progress)");
  const visit = page.url().split("/").at(-2);
  await open(page, `${address}/visits/${visit}/incident`);
  await press(page, "Diarrhea in the water");
  await keep("incident");
  await page.setViewport(PHONE);
  await open(page, `${address}/visits/${visit}/dose`);
  await page.waitForSelector("li[aria-current=step]");
  await page.$eval("li[aria-current=step]", (step) => scrollTo(0, step.getBoundingClientRect().top - 60));
  await keep("steps");
  await open(page, `${address}/visits/${visit}/totalAlkalinity`);
  await keep("count-phone");
  await page.emulateMediaFeatures([{ name: "prefers-color-scheme", value: "dark" }]);
  await open(page, `${address}/visits/${visit}/work`);
  await press(page, "Done");
  await keep("work-phone-dark");
  await page.emulateMediaFeatures([]);
  await page.setViewport(WIDE);
  const basin = await page.evaluate(() => document.querySelector("h1 a")?.getAttribute("href"));
  await open(page, `${address}${basin}/what-if`);
  await page.waitForSelector("[data-outcome]");
  const acid = await page.waitForSelector("[role=slider][aria-label^='Hydrochloric']");
  await acid.focus();
  for (let press = 0; press < 25; press++) await page.keyboard.press("ArrowRight");
  await page.evaluate(() => scrollTo(0, 0));
  await keep("what-if");
  await open(page, `${address}/visits/${visit}/close`);
  await page.type("textarea", "Acid in four pours along the returns; retest pH on Wednesday.");
  await press(page, "Save the visit");
  await page.waitForFunction((id) => location.pathname.endsWith(id), {}, visit);
  await keep("visit-sheet");
  await open(page, `${address}/shelf`);
  await keep("shelf");
  await open(page, `${address}/visits/${visit}/customer`);
  await keep("customer");
  await open(page, `${address}/book`);
  await keep("book");
}

/** Waits until the demo year was learned: some seconds after the first start. */
async function learned(page, address) {
  await open(page, `${address}/basins`);
  const basin = await page.$eval('main a[href^="/basins/"]:not([href$="new"])', (link) => link.href);
  for (;;) {
    await open(page, basin);
    if (await page.$("#habits")) return;
    await new Promise((done) => setTimeout(done, 1000));
  }
}

/** A hardness sample at the practice bench, some drops on its way. */
async function practised(page, address) {
  await open(page, `${address}/practice`);
  await press(page, "Guided");
  await press(page, "Calcium hardness");
  await page.waitForSelector("canvas");
  await page.evaluate(async () => {
    const tap = async (start, times) => {
      for (let time = 0; time < times; time++) {
        [...document.querySelectorAll("button")]
          .find((one) => one.textContent?.startsWith(start))
          ?.dispatchEvent(new MouseEvent("click", { bubbles: true, detail: 0 }));
        await new Promise((done) => setTimeout(done, 30));
      }
    };
    await tap("Pour (", 10);
    await tap("calcium buffer", 20);
    await tap("Swirl", 1);
    await tap("hardness indicator", 5);
    await tap("Swirl", 1);
    document.activeElement?.blur();
  });
  for (let drop = 0; drop < 6; drop++) {
    await page.keyboard.press("Space");
    await page.keyboard.down("w");
    await new Promise((done) => setTimeout(done, 500));
    await page.keyboard.up("w");
  }
  await page.keyboard.press("Space");
}
