// npm run bench:practice: frames while a sample is swirled, on a phone at 4× CPU slowdown in Chromium, and what
// a hundred practised tests leave behind in memory.

import { sized } from "./lib/bench.mjs";
import { open, PHONE, press } from "./lib/browser.mjs";
import { withDemo } from "./lib/demo.mjs";
import { main } from "./lib/terminal.mjs";

const SLOWDOWN = 4;
const SECONDS = sized(10, 2);
const RUNS = sized(100, 5);

main(() => withDemo(measure));

async function measure(browser, address) {
  const page = await browser.page(PHONE);
  await open(page, `${address}/practice`);
  for (const test of ["Free chlorine by drops", "Total alkalinity", "Calcium hardness"]) {
    await begin(page, test);
    await page.emulateCPUThrottling(SLOWDOWN);
    await page.evaluate(() => document.activeElement?.blur());
    await page.keyboard.down("w");
    const frames = await page.evaluate(
      (ms) =>
        new Promise((done) => {
          const took = [];
          let before = performance.now();
          const until = before + ms;
          const frame = (now) => {
            took.push(now - before);
            before = now;
            if (now < until) requestAnimationFrame(frame);
            else done(took.slice(1));
          };
          requestAnimationFrame(frame);
        }),
      SECONDS * 1000,
    );
    await page.keyboard.up("w");
    await page.emulateCPUThrottling(1);
    frames.sort((a, b) => a - b);
    const at = (share) => frames[Math.min(frames.length - 1, Math.floor(share * frames.length))].toFixed(1);
    console.log(
      `${test}: ${(frames.length / SECONDS).toFixed(0)} frames a second, median ${at(0.5)} ms, p95 ${at(0.95)} ms, most ${at(1)} ms`,
    );
    await press(page, "Another test");
  }
  const sizes = [];
  for (let run = 0; run < RUNS; run++) {
    // Within the page: a handle that is held out here would keep what it points at alive.
    await page.evaluate(async () => {
      const button = async (text) => {
        for (;;) {
          const found = [...document.querySelectorAll("button")].find((one) =>
            one.textContent?.includes(text),
          );
          if (found) return found;
          await new Promise((done) => setTimeout(done, 20));
        }
      };
      (await button("Salt")).click();
      (await button("Save")).click();
      await button("Try again");
      (await button("Another test")).click();
      await button("Salt");
    });
    if (run % 20 === 19) sizes.push(await heap(page));
  }
  console.log(
    `Memory after each twenty of ${RUNS} runs, MB: ${sizes.map((size) => size.toFixed(1)).join(", ")}`,
  );
}

async function begin(page, test) {
  await press(page, "Guided");
  await press(page, test);
  await page.waitForSelector("canvas");
  // A sample is poured and coloured, so that there is something to draw.
  await page.evaluate(async () => {
    const buttons = () => [...document.querySelectorAll("button")];
    const tap = (start) =>
      buttons()
        .find((one) => one.textContent?.startsWith(start))
        ?.dispatchEvent(new MouseEvent("click", { bubbles: true, detail: 0 }));
    for (let pour = 0; pour < 10; pour++) {
      tap("Pour (");
      await new Promise((done) => setTimeout(done, 30));
    }
    for (const reagent of [
      "DPD powder",
      "thiosulfate",
      "alkalinity indicator",
      "calcium buffer",
      "hardness indicator",
      "chromate",
    ])
      for (let drop = 0; drop < 5; drop++) tap(reagent);
  });
}

async function heap(page) {
  const client = await page.createCDPSession();
  await client.send("HeapProfiler.collectGarbage");
  const { usedSize } = await client.send("Runtime.getHeapUsage");
  await client.detach();
  return usedSize / 1e6;
}
