// npm run bench:device: the day's bundle, a stop of the visit and a cold start without a network, at 4× CPU slowdown.

import { gzipSync } from "node:zlib";
import { sized } from "./lib/bench.mjs";
import { open, PHONE, signIn, still } from "./lib/browser.mjs";
import { withDemo } from "./lib/demo.mjs";
import { main } from "./lib/terminal.mjs";

const SLOWDOWN = 4;
const TIMES = sized(40, 5);
const STOPS = ["look", "sample", "freeChlorine", "ph", "totalAlkalinity", "judge", "dose", "close"];

main(() => withDemo((browser, _, web) => measure(browser, web)));

const at = (sorted, share) =>
  sorted[Math.min(sorted.length - 1, Math.floor(share * sorted.length))].toFixed(0);
const line = (name, times) => {
  const sorted = [...times].sort((a, b) => a - b);
  console.log(`${name.padEnd(42)} median ${at(sorted, 0.5)} ms, p95 ${at(sorted, 0.95)} ms`);
};

async function measure(browser, web) {
  const page = await browser.page(PHONE);
  await signIn(page, web.address);
  await page.waitForFunction(() => navigator.serviceWorker.controller !== null);
  const fetched = await page.evaluate(async () => {
    const ask = async (have, basins = []) => {
      const begun = performance.now();
      const answer = await fetch("/bundle", {
        method: "POST",
        headers: { "Content-Type": "application/json" },
        body: JSON.stringify({ have, basins }),
      });
      const text = await answer.text();
      return { text, ms: performance.now() - begun };
    };
    // Basins of the two days, and of the others as many as make twelve.
    const held = ({ text }) =>
      [...new Set(text.match(/"brought [0-9a-f-]{36}"/g) ?? [])].map((key) => key.slice(9, -1));
    const first = await ask({});
    const due = held(first);
    const all = [...new Set((await (await fetch("/basins")).text()).match(/\/basins\/[0-9a-f-]{36}/g) ?? [])];
    const more = all.map((path) => path.slice(8)).filter((id) => !due.includes(id));
    const basins = more.slice(0, Math.max(0, 12 - due.length));
    const { text } = await ask({}, basins);
    const times = [];
    for (let time = 0; time < 10; time++) times.push((await ask({}, basins)).ms);
    return { text, times };
  });
  const calls = new Set(fetched.text.match(/"brought [0-9a-f-]{36}"/g) ?? []).size;
  const bytes = Buffer.byteLength(fetched.text);
  console.log(
    `bundle: ${calls} basins, ${(bytes / 1000).toFixed(0)} kB, ${(gzipSync(fetched.text).length / 1000).toFixed(0)} kB gzip`,
  );
  line("bundle: made and fetched", fetched.times);

  line("bundle: fetched and taken in, from nothing", await takenIn(page));

  await page.waitForSelector("::-p-xpath(//button[contains(., 'Start')])");
  const begin = await page.$("::-p-xpath(//button[contains(., 'Start')])");
  await begin.click();
  await still(page, "look");
  await page.emulateCPUThrottling(SLOWDOWN);
  const visit = new URL(page.url()).pathname.split("/")[2];
  line("a stop, with a network", await stops(page));
  await web.kill();
  line("a stop, without one", await stops(page));
  const starts = [];
  for (let time = 0; time < 5; time++) {
    await page.goto("about:blank");
    const begun = performance.now();
    await open(page, `${web.address}/visits/${visit}/look`);
    starts.push(performance.now() - begun);
  }
  line("a cold start without a network", starts);
}

/** From a page that is opened on an empty store to the bundle lying there. */
async function takenIn(page) {
  const times = [];
  for (let time = 0; time < 5; time++) {
    times.push(
      await page.evaluate(async () => {
        const open = () =>
          new Promise((resolve, reject) => {
            const request = indexedDB.open(`pelagon ${localStorage.getItem("pelagon.member")}`);
            request.onsuccess = () => resolve(request.result);
            request.onerror = () => reject(request.error);
          });
        const db = await open();
        const of = (name, mode) => db.transaction(name, mode).objectStore(name);
        const done = (request) =>
          new Promise((resolve) => (request.onsuccess = () => resolve(request.result)));
        await done(of("items", "readwrite").clear());
        await done(of("settings", "readwrite").delete("bundle"));
        const begun = performance.now();
        document.dispatchEvent(new Event("visibilitychange"));
        while (!(await done(of("settings", "readonly").get("bundle"))))
          await new Promise((later) => setTimeout(later, 10));
        db.close();
        return performance.now() - begun;
      }),
    );
  }
  return times;
}

/** From the tap on a stop to the frame that shows it. */
async function stops(page) {
  const times = [];
  for (let time = 0; time < STOPS.length + TIMES; time++) {
    const stop = STOPS[time % STOPS.length];
    const took = await page.evaluate(
      (to) =>
        new Promise((resolve) => {
          const link = document.querySelector(`nav a[href$="/${to}"]`);
          const begun = performance.now();
          const look = () => {
            if (!document.documentElement.dataset.at.endsWith(to)) return requestAnimationFrame(look);
            const channel = new MessageChannel();
            channel.port1.onmessage = () => resolve(performance.now() - begun);
            return requestAnimationFrame(() => channel.port2.postMessage(0));
          };
          link.click();
          requestAnimationFrame(look);
        }),
      stop,
    );
    // The first time a stop is shown its part of the application is fetched.
    if (time >= STOPS.length) times.push(took);
    if (process.env.SHOWN) console.log(stop, took.toFixed(0));
    await new Promise((done) => setTimeout(done, 150));
  }
  return times;
}
