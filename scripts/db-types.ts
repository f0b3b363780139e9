/**
 * Writes server/db/schema.ts from the real schema: npm run db:types, with DATABASE_URL at a database
 * that may be emptied of nothing and filled with tables. The server tests check that it has not drifted.
 */
import { execFileSync } from "node:child_process";
import { openDatabase } from "#server/db/connection";
import { migrate } from "#server/db/migrate";

const url = process.env.DATABASE_URL;
if (!url) throw new Error("DATABASE_URL names the database to read the schema from");
const db = openDatabase(url, 1);
await migrate(db);
await db.destroy();
execFileSync(
  "node_modules/.bin/kysely-codegen",
  process.argv.slice(2).concat("--config-file", ".kysely-codegenrc.json"),
  {
    stdio: "inherit",
    env: { ...process.env, DATABASE_URL: url },
  },
);
