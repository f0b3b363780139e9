import { execFile } from "node:child_process";
import { promisify } from "node:util";
import { parse } from "csv-parse/sync";
import { afterAll, beforeAll, expect, it } from "vitest";
import { newToken } from "../api";
import { readAt, visitWith } from "../visit";
import { openWorld, type World } from "../world";

/** The typed client: made from the interface's document, right for whoever compiles against it, and used by its example. */
const run = promisify(execFile);
const node = (...args: string[]) => run(process.execPath, args, { timeout: 120_000 });
const TSX = "node_modules/tsx/dist/cli.mjs";

let world: World;
beforeAll(async () => {
  world = await openWorld();
});
afterAll(() => world.close());

it("puts a year into a spreadsheet, a row for each reading that counts", async () => {
  await node(TSX, "scripts/api-client.ts");
  await node("node_modules/typescript-native/bin/tsc", "-p", "api-client/tsconfig.json");
  const visit = await visitWith(world.db, world.ours, world.http, {});
  await readAt(world.http, visit, { chlorine: 3, ph: [7.4, 7.6], alkalinity: 90 });
  const token = await newToken(await world.as(world.ours.ownerEmail), ["read-book"]);
  const year = `${new Date().getUTCFullYear()}`;
  const example = (of: string) =>
    node(TSX, "api-client/year-to-spreadsheet.ts", world.web.address, token, of);
  const rows: Record<string, string>[] = parse((await example(year)).stdout, { columns: true });
  expect(rows.map(({ quantity, value }) => [quantity, Number(value)])).toEqual([
    ["freeChlorine", 3],
    ["ph", 7.5],
    ["totalAlkalinity", 90],
  ]);
  expect(rows.every(({ site, takenAt }) => site === "Site" && takenAt?.startsWith(year))).toBe(true);
  expect(parse((await example("1999")).stdout, { columns: true })).toEqual([]);
});
