/**
 * npm run test:upgrade [-- COMMIT]: the version before beside this one on one database, as while an upgrade goes round.
 * The new one migrates; then both serve by turns, and a device with the pages of the old build goes on in mid-count
 * with the server of the new one. COMMIT is the version before; without it, the last one with another schema.
 */
import { execFileSync } from "node:child_process";
import { mkdtempSync, readFileSync, rmSync, symlinkSync } from "node:fs";
import { createServer, request } from "node:http";
import { tmpdir } from "node:os";
import { join } from "node:path";
import { pathToFileURL } from "node:url";
import pg from "pg";
import { open, openBrowser, PHONE, press, signIn, still } from "./lib/browser.mjs";
import { portFree } from "./lib/cluster.mjs";
import { ensureBuild, ensureDebian, ensureModules, ROOT } from "./lib/provision.mjs";
import { main, Plain, say } from "./lib/terminal.mjs";
import { basinsOf, saveCount, signedIn, startVisit } from "./lib/visitor.mjs";
import { throwAwayCluster, webServer } from "./lib/world.mjs";

const git = (...args) =>
  execFileSync("git", args, { cwd: ROOT, encoding: "utf8", stdio: ["ignore", "pipe", "ignore"] }).trim();
const wrong = [];
const check = (is, what) => {
  say(`${is ? "fine" : "WRONG"}: ${what}`);
  if (!is) wrong.push(what);
};

main(async () => {
  await ensureDebian({ browser: true });
  await ensureModules();
  await ensureBuild();
  const commit = process.argv[2] ?? git("log", "-n1", "--format=%H^", "--", "server/db/migrations");
  const folder = mkdtempSync(join(tmpdir(), "pelagon-before-"));
  const before = join(folder, "before");
  const closing = [];
  try {
    git("worktree", "add", "--detach", before, commit);
    closing.push(() => git("worktree", "remove", "--force", before));
    say(`The version before: ${git("log", "-n1", "--format=%h %s", commit)}`);
    build(before);
    const { webServer: oldServer } = await import(pathToFileURL(join(before, "scripts/lib/world.mjs")).href);

    const cluster = await throwAwayCluster();
    closing.push(() => cluster.stop());
    // As it goes: the old one serves, the new one comes and migrates.
    const old = await oldServer(cluster, { PELAGON_DEMO: "1", JOBS: "off" });
    closing.push(() => old.stop());
    const fresh = await webServer(cluster, { PELAGON_DEMO: "1", JOBS: "off" });
    closing.push(() => fresh.stop());
    await byTurns(old.address, fresh.address);
    await onDevice(cluster, old.address, fresh.address, closing);
    await old.stop();
    const again = await old.start().then(
      () => true,
      () => false,
    );
    // Versions before 0021 do not know that a newer one may have been here.
    const knows = git("show", `${commit}:server/db/migrate.ts`).includes("brought further");
    if (knows) check(again, "the version before starts again on the schema of this one");
    else say(`The version before ${again ? "starts" : "does not start"} again on the schema of this one.`);
  } finally {
    for (const close of closing.reverse()) await close();
    rmSync(folder, { recursive: true, force: true });
  }
  if (wrong.length > 0)
    throw new Plain(`The version before does not go on beside this one: ${wrong.join("; ")}`);
  say("The version before serves beside this one.");
});

/** Makes the version before with the packages of this one, where it asks for the same. */
function build(folder) {
  const lock = (root) => readFileSync(join(root, "package-lock.json"), "utf8");
  if (lock(folder) === lock(ROOT)) symlinkSync(join(ROOT, "node_modules"), join(folder, "node_modules"));
  else execFileSync("npm", ["ci", "--include=dev"], { cwd: folder, stdio: "ignore" });
  const code = 'import("./scripts/lib/provision.mjs").then((made) => made.ensureBuild())';
  execFileSync(process.execPath, ["-e", code], { cwd: folder, stdio: "ignore" });
}

/** Requests that go to either, one after another. */
async function byTurns(oldAddress, newAddress) {
  const byOld = await signedIn(oldAddress, "jory@fennmoor.example");
  // A session of one is a session of the other.
  const byNew = (path) => fetch(newAddress + path, { headers: byOld.headers, redirect: "manual" });
  const [basin] = await basinsOf(byOld);
  const visit = await startVisit(byOld, basin.id);
  const pages = [
    "/",
    "/basins",
    `/basins/${basin.id}`,
    `/visits/${visit}/freeChlorine`,
    "/book",
    "/shelf",
    "/settings",
  ];
  for (const path of pages) {
    const answers = await Promise.all([byOld(path), byNew(path)]);
    const statuses = answers.map(({ status }) => status);
    check(
      statuses.every((status) => status === 200),
      `${path.replace(/[0-9a-f-]{36}/, "…")} by both: ${statuses}`,
    );
  }
  const other = Object.assign((path, body) => askAt(newAddress, byOld.headers, path, body), {
    headers: byOld.headers,
  });
  for (const [name, ask] of [
    ["the old", byOld],
    ["the new", other],
    ["the old again", byOld],
  ])
    check(
      await saveCount(ask, visit).then(
        () => true,
        () => false,
      ),
      `a count is taken by ${name}`,
    );
}

const askAt = (address, headers, path, body) =>
  fetch(address + path, {
    method: "POST",
    headers: { ...headers, Origin: address, "Content-Type": "application/json" },
    body: JSON.stringify(body),
  });

/** A phone with the pages of the old build, whose server becomes the new one while drops are counted. */
async function onDevice(cluster, oldAddress, newAddress, closing) {
  const proxy = await switchable(oldAddress);
  closing.push(() => proxy.close());
  const browser = await openBrowser();
  closing.push(() => browser.close());
  const page = await browser.page(PHONE);
  await signIn(page, proxy.address, "wren@fennmoor.example");
  const places = await page.evaluate(async () => (await fetch("/places")).json());
  await open(page, `${proxy.address}/basins/${places[2].id}`);
  await press(page, "Start visit");
  await still(page, "look");
  const visit = new URL(page.url()).pathname.split("/")[2];
  await open(page, `${proxy.address}/visits/${visit}/freeChlorine`);
  const tap = async (times) => {
    for (let time = 0; time < times; time++) await page.tap("[data-count]");
  };
  await tap(4);
  proxy.to(newAddress);
  await tap(3);
  const counted = async () => {
    const db = new pg.Client({ connectionString: cluster.superuserUrl });
    await db.connect();
    const { rows } = await db.query("select drops from drop_count where visit_id = $1", [visit]);
    await db.end();
    return rows[0]?.drops;
  };
  let drops;
  for (let tries = 0; tries < 100 && drops !== 7; tries++) {
    await new Promise((resolve) => setTimeout(resolve, 100));
    drops = await counted();
  }
  check(drops === 7, `a device of the old build keeps its count with the new server: ${drops} of 7 drops`);
  await page.reload({ waitUntil: "load" });
  await still(page);
  const shown = await page.$eval("[data-count] span", (element) => Number(element.textContent));
  check(shown === 7, `the page of the new build shows what the old one counted: ${shown} of 7`);
  await open(page, `${proxy.address}/`);
  check((await page.$("#page")) !== null, "and goes on from there");
}

/** A way through to one server, which may become another while it is in use. */
async function switchable(first) {
  let target = first;
  let port = 5960;
  while (!(await portFree(port))) port++;
  const server = createServer((asked, answer) => {
    const { hostname, port: at } = new URL(target);
    const onward = request(
      { hostname, port: at, path: asked.url, method: asked.method, headers: asked.headers },
      (given) => {
        answer.writeHead(given.statusCode, given.headers);
        given.pipe(answer);
      },
    );
    onward.on("error", () => answer.destroy());
    asked.pipe(onward);
  });
  await new Promise((resolve) => server.listen(port, "127.0.0.1", resolve));
  return {
    address: `http://127.0.0.1:${port}`,
    to: (address) => {
      target = address;
    },
    close: () => {
      server.closeAllConnections();
      server.close();
    },
  };
}
