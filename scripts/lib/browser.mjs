// Debian's Chromium, headless, driven as a person would use it.
import { mkdtempSync, rmSync } from "node:fs";
import { tmpdir } from "node:os";
import { join } from "node:path";
import puppeteer from "puppeteer-core";
import { CHROMIUM } from "./provision.mjs";

/** What a page is waited for at most: it comes when it comes, on a machine that does other things too. */
const PATIENCE_MS = 90_000;

export const WIDE = { width: 1280, height: 800 };
export const PHONE = { width: 390, height: 844, hasTouch: true, isMobile: true };

/**
 * Opens a browser with nothing in it; `close` removes its profile too.
 * @param {{ fontSize?: number }} [setting] the size that its user reads text at, CSS pixels; 16 unless set
 */
export async function openBrowser({ fontSize = 16 } = {}) {
  const profile = mkdtempSync(join(tmpdir(), "pelagon-browser-"));
  const browser = await puppeteer.launch({
    executablePath: CHROMIUM,
    headless: "shell",
    protocolTimeout: 4 * PATIENCE_MS,
    userDataDir: profile,
    args: [
      "--no-sandbox",
      "--disable-gpu",
      "--disable-quic",
      "--no-first-run",
      "--disable-background-networking",
      "--disable-component-update",
      "--disable-sync",
      "--disable-dev-shm-usage",
      "--lang=en-US",
      `--blink-settings=defaultFontSize=${fontSize}`,
    ],
  });
  return {
    /** A page with cookies and storage of its own. */
    async page(viewport = WIDE) {
      const context = await browser.createBrowserContext();
      const page = await context.newPage();
      page.setDefaultTimeout(PATIENCE_MS);
      await page.setViewport(viewport);
      return page;
    },
    async close() {
      await browser.close();
      rmSync(profile, { recursive: true, force: true, maxRetries: 5 });
    },
  };
}

/** Waits until the page answers to taps and no other is on its way; with `ending`, at a path that ends so. */
export async function still(page, ending = "") {
  try {
    await page.waitForFunction(
      (wanted) => {
        const { page, at } = document.documentElement.dataset;
        return page === "still" && at === location.pathname && location.pathname.endsWith(wanted);
      },
      { timeout: PATIENCE_MS },
      ending,
    );
  } catch {
    const found = await page.evaluate(() => ({
      path: location.pathname,
      page: document.documentElement.dataset.page,
      focus: document.activeElement?.outerHTML.slice(0, 120),
      said: document.body.innerText.slice(0, 900),
    }));
    throw new Error(`waited for "${ending}", found ${JSON.stringify(found, null, 1)}`);
  }
}

/** Opens an address and waits until the page answers. */
export async function open(page, address) {
  await page.goto(address, { waitUntil: "load" });
  await still(page);
}

/** Goes to a path as a link does, without loading the application anew, and waits until the page answers. */
export async function follow(page, path) {
  await page.evaluate((to) => void window.__reactRouterDataRouter.navigate(to), path);
  await still(page, path);
}

/** Signs in through the page's own form. */
export async function signIn(page, address, email = "jory@fennmoor.example", password = "orrin-vale-demo") {
  await open(page, `${address}/sign-in`);
  await page.type("input[name=email]", email);
  await page.type("input[name=password]", password);
  await page.keyboard.press("Enter");
  await page.waitForSelector("#page");
  await still(page);
}

/**
 * Presses the first button or link whose text holds these words, once it can be pressed: where it lies still, and
 * nothing lies over it. A page that is not all there yet moves what is under a finger.
 */
export async function press(page, text) {
  // Asked again and again: a text that changes in its place is no change that a selector would wait for.
  const found = await page.waitForFunction(
    (wanted) => {
      const one = [...document.querySelectorAll("button, a, label, summary")].find(
        (other) => !other.disabled && other.textContent.replace(/\s+/g, " ").includes(wanted),
      );
      if (!one) return null;
      const { x, y, width, height } = one.getBoundingClientRect();
      const place = [x, y, width, height].join();
      const wasThere = window.lastPlace === place;
      window.lastPlace = place;
      // Out of sight it is brought into sight by the press itself.
      const over = document.elementFromPoint(x + width / 2, y + height / 2);
      return wasThere && (!over || one.contains(over) || over.contains(one)) ? one : null;
    },
    { polling: 50 },
    text,
  );
  await found.asElement().click();
}
