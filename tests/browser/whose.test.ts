import { mkdtempSync, readdirSync, rmSync } from "node:fs";
import { tmpdir } from "node:os";
import { join } from "node:path";
import type { ElementHandle, HTTPRequest, Page } from "puppeteer-core";
import { v7 as uuid } from "uuid";
import { afterAll, afterEach, beforeAll, beforeEach, describe, expect, it } from "vitest";
import { asFirm } from "#server/db/connection";
import { signOutEverywhere } from "#server/db/sessions";
import { DEMO_PASSWORD } from "#server/demo/cast";
import { still as at, open, PHONE, press, signIn, still } from "../../scripts/lib/browser.mjs";
import { clientOf, dataOf } from "../client";
import { type Demo, JORY, openDemo, tabBeside, trialBasin, visitId, WREN } from "./demo";

/** One browser, several people: whose work it is stays whose it is, and none of it is lost in silence. */
let demo: Demo;
let address: string;
beforeAll(async () => {
  demo = await openDemo();
  address = demo.web.address;
});
afterAll(() => demo?.close());

const OWNER = "tamsin@fennmoor.example";
let page: Page;
let instead: (request: HTTPRequest) => "fail" | number | null = () => null;
beforeEach(async () => {
  ({ page } = await demo.newPage(PHONE));
  await page.setRequestInterception(true);
  page.on("request", (request) => {
    const how = instead(request);
    if (how === "fail") void request.abort();
    else if (how === null) void request.continue();
    else setTimeout(() => void request.continue().catch(() => {}), how);
  });
});
afterEach(async () => {
  instead = () => null;
  await page.close();
});

const says = (words: string, on: Page = page) =>
  on.waitForFunction((wanted) => document.body.innerText.includes(wanted), {}, words);
const member = (email: string) =>
  asFirm(demo.db, demo.firmId, (scope) =>
    scope.selectFrom("member").select(["id", "name"]).where("email", "=", email).executeTakeFirstOrThrow(),
  );
const change = (email: string, values: object) =>
  asFirm(demo.db, demo.firmId, (scope) =>
    scope.updateTable("member").set(values).where("email", "=", email).execute(),
  );
/** Signs somebody out by the server, wherever they are. */
const endSessions = async (email: string) => {
  const { id } = await member(email);
  await asFirm(demo.db, demo.firmId, (scope) => signOutEverywhere(scope, id, new Date()));
};
/** Who began a visit, and what was looked at in it. */
const inBook = (visit: string) =>
  asFirm(demo.db, demo.firmId, (scope) =>
    scope.selectFrom("visit").select(["member_id", "look"]).where("id", "=", visit).executeTakeFirst(),
  );

/** A visit with one entry that waits: the server was out of reach when it was made. */
async function workOutOfReach(email: string, name: string): Promise<string> {
  const basin = await trialBasin(demo, name);
  await signIn(page, address, email);
  await open(page, `${address}/basins/${basin}`);
  await press(page, "Start visit");
  await at(page, "look");
  const visit = visitId(page);
  instead = (request) => (new URL(request.url()).pathname === "/sync" ? "fail" : null);
  await press(page, "cloudy");
  await press(page, "Save 1 finding");
  await at(page, "sample");
  await says("1 not sent yet");
  return visit;
}

/** An invitation's address, made by an owner. */
async function invited(): Promise<string> {
  const owner = clientOf(address);
  await owner.as(OWNER, DEMO_PASSWORD);
  const answer = await owner.postJson("/settings/team.data", {
    command: "invite",
    id: uuid(),
    name: "Linnea",
    role: "technician",
    siteIds: [],
  });
  const { data } = await dataOf<{ data: { token: string } }>(answer);
  return `${address}/join/${data.token}`;
}

describe("work that waits in a browser", () => {
  it("is not taken for hers who joins there over a slow line", async () => {
    const visit = await workOutOfReach(JORY, "Slow line spa");
    await endSessions(JORY);
    const link = await invited();
    await open(page, link);
    // From here on nothing that a page asks for comes within its patience.
    instead = (request) =>
      request.method() === "GET" && /_root\.data|\/$/.test(new URL(request.url()).pathname) ? 4000 : null;
    await page.type("input[name=email]", `linnea-${uuid().slice(-6)}@fennmoor.example`);
    await page.type("input[name=password]", "a password of hers alone");
    await press(page, "Join");
    await page.waitForFunction(() => !location.pathname.startsWith("/join"), { timeout: 60_000 });
    await still(page);
    const bears = await page.evaluate(() => [
      localStorage.getItem("pelagon.member"),
      document.querySelector("header")?.textContent,
    ]);
    const { id, name } = await member(JORY);
    expect(bears[0]).not.toBe(id);
    expect(bears[1]).not.toContain(name);
    instead = () => null;
    await open(page, `${address}/settings`);
    await says("Linnea");
    // Nothing of his was sent with her cookie, and it still lies here for him.
    expect(await inBook(visit)).toMatchObject({ look: null });
    await open(page, `${address}/`);
    await signInAs(JORY);
    await expect.poll(async () => (await inBook(visit))?.look).toMatchObject({ see: ["cloudy"] });
    expect((await inBook(visit))?.member_id).toBe((await member(JORY)).id);
  });

  it("stays his when another signs in, in this tab or in one beside it", async () => {
    const visit = await workOutOfReach(JORY, "Shared phone spa");
    // The line is back, but the session is not: what he does goes nowhere.
    await endSessions(JORY);
    instead = () => null;
    const hers = await tabBeside(page);
    await open(hers, `${address}/sign-in`);
    await says("1 entry by Jory", hers);
    await signIn(hers, address, WREN);
    expect(await hers.$eval("header", (header) => header.textContent)).not.toContain("Jory");
    // She begins a visit of her own beside his, and it is hers.
    await open(hers, `${address}/basins/${await trialBasin(demo, "Hers beside his")}`);
    await press(hers, "Start visit");
    await at(hers, "look");
    await press(hers, "cloudy");
    await press(hers, "Save 1 finding");
    await at(hers, "sample");
    const herVisit = visitId(hers);
    await expect.poll(async () => (await inBook(herVisit))?.look).toMatchObject({ see: ["cloudy"] });
    expect((await inBook(herVisit))?.member_id).toBe((await member(WREN)).id);
    // His tab is still open. It asks anew, finds out, and does not go on in her name.
    await page.bringToFront();
    await page.reload({ waitUntil: "load" });
    await still(page);
    expect(await page.$eval("header", (header) => header.textContent)).not.toContain("Jory");
    expect(await inBook(visit)).toMatchObject({ look: null });
    await hers.close();
    await open(page, `${address}/`);
    await signInAs(JORY);
    await expect.poll(async () => (await inBook(visit))?.look).toMatchObject({ see: ["cloudy"] });
    expect((await inBook(visit))?.member_id).toBe((await member(JORY)).id);
  });

  it("is not gone on with in her name: a tab of his bears hers as soon as she has signed in beside it", async () => {
    const visit = await workOutOfReach(JORY, "Two tabs spa");
    const jory = await member(JORY);
    const wren = await member(WREN);
    // Nobody is signed in any more when her tab opens: it would send his work as his.
    await page.deleteCookie(...(await page.cookies()));
    const hers = await tabBeside(page);
    const renewed = page.waitForNavigation();
    await signIn(hers, address, WREN);
    // The line is back. His page has heard of her: it says whose it is now, before anything can be done in it.
    instead = () => null;
    await renewed;
    await page.bringToFront();
    await still(page);
    const bears = () => page.$eval("header", (header) => header.innerHTML);
    expect(await bears()).toContain(wren.name);
    expect(await bears()).not.toContain(jory.name);
    expect(await page.evaluate(() => document.body.innerText)).not.toContain("1 not sent yet");
    expect(await inBook(visit)).toMatchObject({ look: null });
    await hers.close();
    await open(page, `${address}/`);
    await signInAs(JORY);
    await expect.poll(async () => (await inBook(visit))?.look).toMatchObject({ see: ["cloudy"] });
  });

  it("of somebody who reads along from now on is shown, saved, and taken in by an owner", async () => {
    const visit = await workOutOfReach(JORY, "Demoted spa");
    const { id } = await member(JORY);
    const site = await asFirm(demo.db, demo.firmId, (scope) =>
      scope.selectFrom("site").select("id").limit(1).executeTakeFirstOrThrow(),
    );
    await asFirm(demo.db, demo.firmId, (scope) =>
      scope
        .insertInto("member_site")
        .values({ firm_id: demo.firmId, member_id: id, site_id: site.id })
        .execute(),
    );
    await change(JORY, { role: "reader" });
    instead = () => null;
    await open(page, `${address}/basins`);
    await says("You can only read now");
    const folder = mkdtempSync(join(tmpdir(), "pelagon-work-"));
    try {
      const file = await download(folder);
      await change(JORY, { role: "technician", disabled_at: new Date() });
      await endSessions(JORY);
      // Removed: the sign-in page says whose it is, too.
      await open(page, `${address}/sign-in`);
      await says("1 entry by Jory");
      await signInAs(OWNER);
      await open(page, `${address}/settings/work`);
      const choose = (await page.waitForSelector("input[type=file]")) as ElementHandle<HTMLInputElement>;
      await choose.uploadFile(file);
      await says("1 entry by Jory");
      await press(page, "Add to the book");
      await says("1 entry is in the book");
      expect(await inBook(visit)).toMatchObject({ look: { see: ["cloudy"] }, member_id: id });
    } finally {
      rmSync(folder, { recursive: true });
      await change(JORY, { disabled_at: null });
    }
  });
});

/** Signs in again in the browser as it stands, whoever was here. */
async function signInAs(email: string): Promise<void> {
  await page.deleteCookie(...(await page.cookies()));
  await signIn(page, address, email);
}

/** Presses "Save as a file" and gives the file that came of it. */
async function download(folder: string): Promise<string> {
  const session = await page.createCDPSession();
  await session.send("Page.setDownloadBehavior", { behavior: "allow", downloadPath: folder });
  await press(page, "Save as a file");
  await expect.poll(() => readdirSync(folder).filter((name) => name.endsWith(".work.json"))).toHaveLength(1);
  return join(folder, readdirSync(folder)[0] ?? "");
}
