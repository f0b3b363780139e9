// npm run bench:what-if: from a slider's key to the repainted outcome, at 4× CPU slowdown in Chromium.
import { sized } from "./lib/bench.mjs";
import { open, PHONE, press, signIn, still } from "./lib/browser.mjs";
import { withDemo } from "./lib/demo.mjs";
import { main } from "./lib/terminal.mjs";

const TIMES = sized(200, 10);
const SLOWDOWN = 4;

main(() => withDemo(measure));

async function measure(browser, address) {
  const page = await browser.page(PHONE);
  await signIn(page, address);
  await open(page, `${address}/basins`);
  await press(page, "Courtyard plunge");
  await page.waitForSelector("h1 ::-p-text(Courtyard plunge)");
  await open(page, `${page.url()}/what-if`);
  await page.waitForSelector("[data-outcome]");
  await still(page);
  await page.emulateCPUThrottling(SLOWDOWN);
  await page.evaluate(() => {
    window.delays = [];
    let began = 0;
    window.addEventListener(
      "keydown",
      (event) => {
        began = event.timeStamp;
      },
      { capture: true },
    );
    // The outcome is painted in the frame after it has changed.
    new MutationObserver(() => {
      const from = began;
      requestAnimationFrame(() => {
        const channel = new MessageChannel();
        channel.port1.onmessage = () => window.delays.push(performance.now() - from);
        channel.port2.postMessage(0);
      });
    }).observe(document.querySelector("[data-outcome]"), {
      childList: true,
      characterData: true,
      attributes: true,
      subtree: true,
    });
  });
  for (const [name, label] of [
    ["pH", "pH"],
    ["acid", "Hydrochloric acid"],
  ]) {
    const slider = await page.waitForSelector(`[role=slider][aria-label^='${label}']`);
    await slider.focus();
    for (let time = 0; time < TIMES; time++) {
      await page.keyboard.press(time % 40 < 20 ? "ArrowRight" : "ArrowLeft");
      await new Promise((done) => setTimeout(done, 125));
    }
    const delays = await page.evaluate(() => window.delays.splice(0).sort((a, b) => a - b));
    const at = (share) => delays[Math.min(delays.length - 1, Math.floor(share * delays.length))].toFixed(1);
    console.log(
      `${name.padEnd(6)} ${delays.length} repaints: median ${at(0.5)} ms, p95 ${at(0.95)} ms, most ${at(1)} ms`,
    );
  }
}
