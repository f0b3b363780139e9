// npm run bench:book: the pages of a firm with 52 000 visits beside the bare SQL of the same data, export and import.

import { spawn } from "node:child_process";
import { readFileSync } from "node:fs";
import pg from "pg";
import { v7 as uuid } from "uuid";
import { sized } from "./lib/bench.mjs";
import { ensureBuild, ensureDebian, ensureModules, ROOT } from "./lib/provision.mjs";
import { main } from "./lib/terminal.mjs";
import { throwAwayCluster, webServer } from "./lib/world.mjs";

const TIMES = sized(120, 10);
const IMPORTED = sized(50_000, 2000);
const FINDING = "finding=totalAlkalinity.low";

main(async () => {
  await ensureDebian();
  await ensureModules();
  await ensureBuild();
  const cluster = await throwAwayCluster();
  let web;
  try {
    await run("npx", ["tsx", "scripts/demo-large.ts"], { DATABASE_URL: cluster.ownerUrl });
    web = await webServer(cluster, { JOBS: "off" });
    await measure(web, cluster.ownerUrl);
  } finally {
    await web?.stop();
    await cluster.stop();
  }
});

const run = (command, args, environment) =>
  new Promise((resolve, reject) => {
    const child = spawn(command, args, {
      cwd: ROOT,
      env: { ...process.env, ...environment },
      stdio: "inherit",
    });
    child.on("exit", (code) => (code === 0 ? resolve() : reject(new Error(`${command} ended with ${code}`))));
  });

async function measure(web, url) {
  const { address } = web;
  const headers = { Origin: address };
  const entry = await fetch(`${address}/sign-in`, {
    method: "POST",
    redirect: "manual",
    headers,
    body: new URLSearchParams({ email: "owner@large.example", password: "orrin-vale-demo" }),
  });
  headers.Cookie = entry.headers.get("set-cookie").split(";")[0];
  const client = new pg.Client({ connectionString: url });
  await client.connect();
  const firm = (await asFirm(client, null, "select firm_id from member where email = 'owner@large.example'"))
    .rows[0].firm_id;
  const basin = (await asFirm(client, firm, "select id from basin order by position offset 20 limit 1"))
    .rows[0].id;
  // Pages and queries in turn, so that both meet the same machine.
  for (const [name, path, dataPath, queries] of [
    ["Round", "/", "/_root.data", ROUND],
    ["Basin", `/basins/${basin}`, `/basins/${basin}.data`, BASIN],
    ["Book", "/book", "/book.data", BOOK],
    ["Book, one finding", `/book?${FINDING}`, `/book.data?${FINDING}`, BOOK_FINDING],
  ]) {
    const page = [];
    const data = [];
    const bare = [];
    for (let time = 0; time < TIMES + 10; time++) {
      const pageBegun = performance.now();
      await (await fetch(address + path, { headers })).text();
      const dataBegun = performance.now();
      await (await fetch(address + dataPath, { headers })).text();
      const bareBegun = performance.now();
      await asFirm(client, null, SESSION);
      await asFirm(client, firm, SHELL);
      await asFirm(
        client,
        firm,
        queries.map((query) => query.replaceAll("$basin", `'${basin}'::uuid`)),
      );
      if (time < 10) continue;
      page.push(dataBegun - pageBegun);
      data.push(bareBegun - dataBegun);
      bare.push(performance.now() - bareBegun);
    }
    const at = (list, share) => [...list].sort((a, b) => a - b)[Math.floor(share * list.length)];
    const sql = at(bare, 0.5);
    const told = (list) =>
      `median ${at(list, 0.5).toFixed(1)} ms, p95 ${at(list, 0.95).toFixed(1)}, ${(at(list, 0.5) / sql).toFixed(2)} × SQL`;
    console.log(
      `${name.padEnd(18)} from another page ${told(data)}; whole document ${told(page)}; bare SQL ${sql.toFixed(1)} ms`,
    );
  }
  await client.end();
  for (const file of ["export.csv", "export.json"]) await measureExport(web, address, headers, file);
  await measureImport(address, headers);
}

/** Runs queries as the firm's role, in one transaction, as the server does. */
async function asFirm(client, firm, queries) {
  await client.query("begin");
  if (firm)
    await client.query(
      "select set_config('role', 'pelagon_app', true), set_config('pelagon.firm', $1, true)",
      [firm],
    );
  else await client.query("set local role pelagon_gate");
  let last;
  for (const query of [queries].flat()) last = await client.query(query);
  await client.query("commit");
  return last;
}

async function measureExport(web, address, headers, file) {
  const begun = performance.now();
  let most = memoryOf(web.pid());
  const before = most;
  const watch = setInterval(() => {
    most = Math.max(most, memoryOf(web.pid()));
  }, 100);
  const answer = await fetch(`${address}/book/${file}`, { headers });
  let bytes = 0;
  for await (const chunk of answer.body) bytes += chunk.length;
  clearInterval(watch);
  console.log(
    `${file}: ${(bytes / 1e6).toFixed(0)} MB in ${((performance.now() - begun) / 1000).toFixed(1)} s, memory of the server ${before.toFixed(0)} MB before, at most ${most.toFixed(0)} MB`,
  );
}

/** Resident memory of a process, MB. */
const memoryOf = (pid) =>
  Number(/VmRSS:\s+(\d+)/.exec(readFileSync(`/proc/${pid}/status`, "utf8"))?.[1] ?? 0) / 1024;

async function measureImport(address, headers) {
  const rows = Array.from({ length: IMPORTED }, (_, index) => {
    const at = new Date(Date.UTC(2000, 0, 1) + Math.floor(index / 100) * 86_400_000)
      .toISOString()
      .slice(0, 10);
    return `${at},"Site ${Math.floor((index % 100) / 2) + 1}, Basin ${(index % 100) + 1}",${(index % 50) / 10},7.${index % 9},${60 + (index % 80)},${200 + (index % 90)},27`;
  });
  const id = uuid();
  const sent = await fetch(`${address}/book/import/file?id=${id}&name=log.csv`, {
    method: "POST",
    headers: { ...headers, "Content-Type": "application/octet-stream" },
    body: `date,basin,fc,ph,ta,ch,temp\n${rows.join("\n")}\n`,
  });
  const mapping = (await sent.json()).table.guess;
  for (const what of ["try", "run"]) {
    const begun = performance.now();
    await fetch(`${address}/book/import/${id}`, {
      method: "POST",
      headers: { ...headers, "Content-Type": "application/json" },
      body: JSON.stringify({ command: what, mapping: { ...mapping, temperature: "C" } }),
    });
    let report;
    do {
      await new Promise((done) => setTimeout(done, 100));
      report = (await (await fetch(`${address}/book/import/${id}`, { headers })).json()).report;
    } while (report === null || report.state === "running");
    if (report.state !== "done" || report.fresh + report.known === 0) process.exitCode = 1;
    console.log(
      `import of ${IMPORTED} rows, ${what}: ${report.state}, ${report.fresh} new, ${report.faultCount} faults, ${((performance.now() - begun) / 1000).toFixed(1)} s`,
    );
  }
}

const LATE = (rows) => `cross join lateral (select visit.* from visit where visit.firm_id = basin.firm_id
  and visit.basin_id = basin.id and visit.finished_at is not null order by visit.started_at desc limit ${rows}) as late`;
const DAY = "extract(isodow from now() at time zone 'America/Denver')::int = any(basin.call_days)";

/** What every page reads before its own rows: whose session it is, the firm, and the names of its basins. */
const SESSION =
  "select session.seen_at, member.* from session join member on member.id = session.member_id where session.expires_at > now() and revoked_at is null and member.email = 'owner@large.example'";
const SHELL = [
  "select * from firm",
  "select basin.id, basin.name, site.name as site from basin join site on site.id = basin.site_id order by site.name, basin.name",
];
const OF_VISITS = (visits, table, more = "") =>
  `select ${table}.* from (${visits}) as visit join ${table} on ${table}.firm_id = visit.firm_id and ${table}.visit_id = visit.id ${more}`;

/** The rows that each page is made of, read as plainly as can be, as many statements as the page needs. */
const ROUND = [
  "select * from firm",
  "select id, name, email, role from member where disabled_at is null order by name",
  "select * from basin join site on site.id = basin.site_id order by basin.position",
  "select * from round_call where day = current_date",
  "select * from basin_event where day >= current_date and day <= current_date + 7",
  "select * from product where retired_at is null order by position",
  `select late.* from basin ${LATE(1)}`,
  `select finding.* from basin ${LATE(1)} join finding on finding.firm_id = basin.firm_id and finding.visit_id = late.id where ${DAY}`,
  "select content from kit",
  "select content from range_set",
  `select basin.id, reading.quantity, reading.value, reading.taken_at from basin ${LATE(6)}
   join reading on reading.firm_id = basin.firm_id and reading.visit_id = late.id and reading.superseded_at is null and reading.used
   where ${DAY}`,
  `select dose.* from basin ${LATE(6)} join dose on dose.firm_id = basin.firm_id and dose.visit_id = late.id where ${DAY}`,
  "select * from task_done",
  "select * from visit where finished_at is null",
  "select * from round_call where day >= current_date - 14 and skipped_at is not null",
  "select * from reminder where day = current_date",
];
const LAST_VISITS =
  "select * from visit where basin_id = $basin and finished_at is not null order by started_at desc limit 21";
const BASIN = [
  "select * from basin join site on site.id = basin.site_id where basin.id = $basin",
  LAST_VISITS,
  OF_VISITS(LAST_VISITS, "finding"),
  OF_VISITS(LAST_VISITS, "dose", "where dose.superseded_at is null"),
  "select content from kit",
  "select id from photo where basin_id = $basin",
  "select content from range_set limit 1",
  `select reading.* from unnest(array['temperature','freeChlorine','combinedChlorine','totalChlorine','ph','totalAlkalinity','calciumHardness','cyanuricAcid','bromine','totalHardness','salt','totalDissolvedSolids','acidDemand','baseDemand']) as wanted(quantity)
   cross join lateral (select reading.* from visit join reading on reading.firm_id = visit.firm_id and reading.visit_id = visit.id
     where visit.basin_id = $basin and visit.finished_at is not null and reading.quantity = wanted.quantity
       and reading.superseded_at is null and reading.used
     order by visit.started_at desc limit 1) as reading`,
  "select * from visit where basin_id = $basin and finished_at is null",
];
const PAGE = (where) =>
  `select visit.*, basin.name as basin, site.name as site, member.name as member from visit join basin on basin.id = visit.basin_id
   join site on site.id = basin.site_id join member on member.id = visit.member_id
   where visit.finished_at is not null ${where} order by visit.started_at desc, visit.id desc limit 41`;
const ONLY = (where) =>
  `select * from visit where visit.finished_at is not null ${where} order by started_at desc, id desc limit 41`;
const BOOK_OF = (where) => [
  "select * from firm",
  PAGE(where),
  OF_VISITS(ONLY(where), "finding"),
  OF_VISITS(ONLY(where), "dose", "where dose.superseded_at is null"),
  "select id, name, email, role from member where disabled_at is null order by name",
];
const BOOK = BOOK_OF("");
const BOOK_FINDING = BOOK_OF(
  "and exists (select from finding where finding.firm_id = visit.firm_id and finding.visit_id = visit.id and finding.code = 'totalAlkalinity.low')",
);
