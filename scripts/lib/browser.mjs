// Debian's Chromium, headless, driven as a person would use it.
import { mkdtempSync, rmSync } from "node:fs";
import { tmpdir } from "node:os";
import { join } from "node:path";
import puppeteer from "puppeteer-core";
import { CHROMIUM } from "./provision.mjs";

export const WIDE = { width: 1280, height: 800 };
export const PHONE = { width: 390, height: 844, hasTouch: true, isMobile: true };

/** Opens a browser with nothing in it; `close` removes its profile too. */
export async function openBrowser() {
  const profile = mkdtempSync(join(tmpdir(), "pelagon-browser-"));
  const browser = await puppeteer.launch({
    executablePath: CHROMIUM,
    headless: true,
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
    ],
  });
  return {
    /** A page with cookies and storage of its own. */
    async page(viewport = WIDE) {
      const context = await browser.createBrowserContext();
      const page = await context.newPage();
      await page.setViewport(viewport);
      return page;
    },
    async close() {
      await browser.close();
      rmSync(profile, { recursive: true, force: true, maxRetries: 5 });
    },
  };
}

/** Signs in through the page's own form. */
export async function signIn(page, address, email = "jory@fennmoor.example", password = "orrin-vale-demo") {
  await page.goto(`${address}/sign-in`, { waitUntil: "networkidle0" });
  await page.type("input[name=email]", email);
  await page.type("input[name=password]", password);
  await Promise.all([
    page.waitForFunction(() => !location.pathname.startsWith("/sign-in")),
    page.keyboard.press("Enter"),
  ]);
  await page.waitForSelector("#page");
}

/** Presses the first button or link whose text holds these words. */
export async function press(page, text) {
  const found = await page.waitForSelector(
    `::-p-xpath(//*[self::button or self::a or self::label][contains(normalize-space(.), ${JSON.stringify(text)})])`,
  );
  await found.click();
}
