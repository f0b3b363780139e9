// npm run bench:input: from key or tap to the painted number, at 4× CPU slowdown in Chromium.

import { sized } from "./lib/bench.mjs";
import { open, PHONE, press, signIn, still } from "./lib/browser.mjs";
import { withDemo } from "./lib/demo.mjs";
import { main } from "./lib/terminal.mjs";

const TIMES = sized(200, 20);
const SLOWDOWN = 4;

main(() => withDemo(measure));

async function measure(browser, address) {
  const page = await browser.page(PHONE);
  await signIn(page, address);
  await open(page, `${address}/basins`);
  await press(page, "Courtyard plunge");
  await page.waitForSelector("h1 ::-p-text(Courtyard plunge)");
  await press(page, "Start visit");
  await still(page, "look");
  const visit = page.url().split("/").at(-2);
  await open(page, `${address}/visits/${visit}/totalAlkalinity`);
  await page.emulateCPUThrottling(SLOWDOWN);
  await page.evaluate(() => {
    window.delays = [];
    const shown = document.querySelector("[data-count] span");
    let began = 0;
    const begin = (event) => {
      began = event.timeStamp;
    };
    window.addEventListener("keydown", begin, { capture: true });
    window.addEventListener("pointerdown", begin, { capture: true });
    // The number is painted in the frame after it has changed.
    new MutationObserver(() => {
      const from = began;
      requestAnimationFrame(() => {
        const channel = new MessageChannel();
        channel.port1.onmessage = () => window.delays.push(performance.now() - from);
        channel.port2.postMessage(0);
      });
    }).observe(shown, { childList: true, characterData: true, subtree: true });
  });
  const told = async (name) => {
    const delays = await page.evaluate(() => window.delays.splice(0).sort((a, b) => a - b));
    const at = (share) => delays[Math.min(delays.length - 1, Math.floor(share * delays.length))].toFixed(1);
    console.log(
      `${name.padEnd(6)} ${delays.length} counted: median ${at(0.5)} ms, p95 ${at(0.95)} ms, most ${at(1)} ms`,
    );
  };
  for (let time = 0; time < TIMES; time++) {
    await page.keyboard.press("Space");
    await new Promise((done) => setTimeout(done, 125));
  }
  await told("keys");
  for (let time = 0; time < TIMES; time++) {
    await page.tap("[data-count]");
    await new Promise((done) => setTimeout(done, 125));
  }
  await told("taps");
}
