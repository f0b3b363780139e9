// npm run bench:stories [count] [seed]: visits in a real browser that is killed, with its server and its
// database, at any moment. Each ends with every test in the book once. Prints its seed.

import { mkdtempSync, rmSync } from "node:fs";
import { tmpdir } from "node:os";
import { join } from "node:path";
import { parse } from "devalue";
import pg from "pg";
import puppeteer from "puppeteer-core";
import { sized } from "./lib/bench.mjs";
import { PHONE, signIn, still } from "./lib/browser.mjs";
import { CHROMIUM, ensureBuild, ensureDebian, ensureModules } from "./lib/provision.mjs";
import { main } from "./lib/terminal.mjs";
import { throwAwayCluster, webServer } from "./lib/world.mjs";

const COUNT = Number(process.argv[2] ?? sized(50, 2));
const SEED = Number(process.argv[3] ?? Date.now() % 100_000);

/** Mulberry32: the same story for the same seed. */
function seeded(seed) {
  let state = seed;
  return () => {
    state = (state + 0x6d2b79f5) | 0;
    let mixed = Math.imul(state ^ (state >>> 15), 1 | state);
    mixed = (mixed + Math.imul(mixed ^ (mixed >>> 7), 61 | mixed)) ^ mixed;
    return ((mixed ^ (mixed >>> 14)) >>> 0) / 4_294_967_296;
  };
}

const wait = (ms) => new Promise((done) => setTimeout(done, ms));

main(async () => {
  await ensureDebian({ browser: true });
  await ensureModules();
  await ensureBuild();
  const cluster = await throwAwayCluster({ keeps: true });
  const web = await webServer(cluster, { PELAGON_DEMO: "1" });
  const profile = mkdtempSync(join(tmpdir(), "pelagon-stories-"));
  const world = { cluster, web, profile, isUp: true };
  try {
    await open(world);
    await signIn(world.page, web.address);
    await world.page.waitForFunction(() => navigator.serviceWorker.controller !== null);
    const basins = await world.page.evaluate(() =>
      [...document.querySelectorAll("ol a[href^='/basins/']")].map((link) => link.getAttribute("href")),
    );
    await wait(4000);
    // Closed once in peace: what it keeps of the session is on the disk.
    await world.browser.close();
    await open(world);
    console.log(`seed ${SEED}, ${COUNT} stories`);
    let kills = 0;
    for (let story = 0; story < COUNT; story++) {
      const told = await tell(world, seeded(SEED + story), basins[story % basins.length]);
      kills += told.kills;
      console.log(`${story + 1}: ${told.saved} saved, ${told.kills} kills, ${told.wrong ?? "each once"}`);
      if (told.wrong) process.exitCode = 1;
    }
    console.log(
      `${COUNT} stories, ${kills} kills, ${process.exitCode ? "something was lost or doubled" : "nothing lost, nothing doubled"}`,
    );
  } finally {
    await world.browser?.close().catch(() => {});
    await web.stop();
    await cluster.stop();
    rmSync(profile, { recursive: true, force: true, maxRetries: 5 });
  }
});

/** The browser with the profile that outlives it. */
async function open(world) {
  world.browser = await puppeteer.launch({
    executablePath: CHROMIUM,
    headless: true,
    userDataDir: world.profile,
    args: [
      "--no-sandbox",
      "--disable-gpu",
      "--no-first-run",
      "--disable-background-networking",
      "--disable-sync",
      "--disable-dev-shm-usage",
      "--lang=en-US",
    ],
  });
  const [page] = await world.browser.pages();
  page.setDefaultTimeout(30_000);
  await page.setViewport(PHONE);
  world.page = page;
}

async function serverUp(world) {
  if (!world.isUp) await world.web.start();
  world.isUp = true;
}

/** One visit: tests saved in any order, and somebody killed between and in the middle of them. */
async function tell(world, random, basin) {
  const { web } = world;
  await serverUp(world);
  await world.page.goto(`${web.address}${basin}`, { waitUntil: "load" });
  await still(world.page);
  await clickButton(world.page, /Start visit|Continue visit/);
  await world.page.waitForFunction(() => location.pathname.startsWith("/visits/"));
  await still(world.page);
  const visit = new URL(world.page.url()).pathname.split("/")[2];
  await wait(400);
  // A visit that a story before began goes on.
  const before = await counted(world.page, visit);
  let saved = 0;
  let kills = 0;
  const steps = 3 + Math.floor(random() * 4);
  for (let step = 0; step < steps; step++) {
    await world.page.goto(`${web.address}/visits/${visit}/temperature`, { waitUntil: "load" });
    await still(world.page);
    const field = await world.page.waitForSelector("input[inputmode=decimal]");
    await field.evaluate((input) => input.select());
    await field.type(`${70 + Math.floor(random() * 20)}`);
    await world.page.keyboard.press("Enter");
    // Told as kept, it is kept: what is killed before that was never promised. A sudden change is asked about first.
    await world.page
      .waitForFunction(
        (path) => {
          document.querySelector("[role=alertdialog] button:last-child")?.click();
          return location.pathname !== path;
        },
        { polling: 200 },
        `/visits/${visit}/temperature`,
      )
      .catch(async (fault) => {
        const said = await world.page.evaluate(
          () => `${location.href} ${document.body.innerText.slice(0, 900)}`,
        );
        throw new Error(`${fault.message}: ${said}`);
      });
    saved += 1;
    await wait(random() * 300);
    const what = random();
    if (what < 0.25) {
      kills += 1;
      if (world.isUp) await web.kill();
      world.isUp = false;
    } else if (what < 0.45) {
      kills += 1;
      world.browser.process().kill("SIGKILL");
      await wait(500);
      await open(world);
    } else if (what < 0.6) {
      kills += 1;
      await killBackend(world.cluster);
    } else if (what < 0.8) await serverUp(world);
  }
  await serverUp(world);
  await world.page.goto(`${web.address}/visits/${visit}/look`, { waitUntil: "load" });
  await still(world.page);
  await world.page
    .waitForFunction(() => !/not sent yet|not taken/.test(document.body.innerText), { timeout: 30_000 })
    .catch(() => {});
  await wait(1500);
  return { saved, kills, wrong: await wrongIn(world.page, visit, before + saved) };
}

async function clickButton(page, words) {
  await page.waitForFunction(
    (source) => {
      const found = [...document.querySelectorAll("button, a")].find((one) =>
        new RegExp(source).test(one.textContent),
      );
      found?.click();
      return Boolean(found);
    },
    {},
    words.source,
  );
}

async function killBackend({ ownerUrl }) {
  const client = new pg.Client(ownerUrl);
  await client.connect();
  const { rows } = await client.query(
    "select pid from pg_stat_activity where usename = 'pelagon_web' limit 1",
  );
  await client.end();
  if (rows[0]) process.kill(rows[0].pid, "SIGKILL");
  await wait(1500);
}

/** What is wrong in the book: every save is one reading that stands or was superseded, and no other is there. */
async function wrongIn(page, visit, saved) {
  let found = null;
  for (let turn = 0; turn < 40; turn++) {
    found = await counted(page, visit).catch(() => null);
    if (found === saved) return null;
    await wait(1000);
  }
  return `${found} of ${saved} in the book`;
}

/** Readings of the visit as the server has them, by a command that changes nothing. */
async function counted(page, visitId) {
  const text = await page.evaluate(async (id) => {
    const seen = { version: 0, plans: 0, readings: [], looked: false, sampled: false };
    const made = { device: "the counter", sequence: 0, at: new Date(), seen };
    const command = {
      id: crypto.randomUUID(),
      name: "hide-photo",
      visitId: id,
      given: { photoId: crypto.randomUUID() },
      made,
    };
    const answer = await fetch("/sync", {
      method: "POST",
      headers: { "Content-Type": "application/json" },
      body: JSON.stringify({ sentAt: new Date(), commands: [command] }),
    });
    return answer.text();
  }, visitId);
  const [visit] = parse(text).visits;
  return [...visit.written.readings, ...visit.written.trail].filter(
    ({ quantity }) => quantity === "temperature",
  ).length;
}
