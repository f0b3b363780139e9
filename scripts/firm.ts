/**
 * npm run firm -- list | export FIRM FILE | import FILE | erase FIRM FILE | limit FIRM WHAT MOST: a firm as a file, moved
 * to another instance, or taken away once its file is written; and how much it may keep. FIRM is its id or its name.
 */
import { asFirm, openDatabase } from "#server/db/connection";
import { firmIds } from "#server/db/firms";
import { type Limits, limitsOf, photoBytesOf, setLimits } from "#server/db/keeping";
import { migrate } from "#server/db/migrate";
import { eraseFirm, exportFirm, FirmFileFault, importFirm } from "#server/exchange/firm-file";
import { closeAfter, dataFolder, openCluster } from "./lib/cluster.mjs";

const [command = "", ...given] = process.argv.slice(2);
const NEEDS: Record<string, number> = { list: 0, export: 2, import: 1, erase: 2, limit: 3 };
if (NEEDS[command] !== given.length) {
  console.error(
    "npm run firm -- list\nnpm run firm -- export FIRM FILE\nnpm run firm -- import FILE\nnpm run firm -- erase FIRM FILE   (its file is written first)\nnpm run firm -- limit FIRM photos MEGABYTES | limit FIRM basins NUMBER   (none takes it away)",
  );
  process.exit(2);
}
const own = process.env.DATABASE_OWNER_URL ?? process.env.DATABASE_URL;
const cluster = own ? null : await openCluster(dataFolder());
const db = openDatabase(own ?? cluster?.ownerUrl ?? "", 1, { patient: true });

interface Told {
  id: string;
  name: string;
  basins: number;
  visits: number;
  photoBytes: number;
  limits: Limits;
}
async function firms(): Promise<Told[]> {
  const found: Told[] = [];
  for (const id of await firmIds(db))
    found.push(
      await asFirm(db, id, async (scope) => {
        const count = async (table: "basin" | "visit") =>
          Number(
            (await scope.selectFrom(table).select(scope.fn.countAll().as("many")).executeTakeFirstOrThrow())
              .many,
          );
        const { name } = await scope.selectFrom("firm").select("name").executeTakeFirstOrThrow();
        return {
          id,
          name,
          basins: await count("basin"),
          visits: await count("visit"),
          photoBytes: await photoBytesOf(scope),
          limits: await limitsOf(scope),
        };
      }),
    );
  return found;
}

/** A firm by its id, or by a name that one of them has. */
async function idOf(asked: string): Promise<string> {
  const found = (await firms()).filter(({ id, name }) => id === asked || name === asked);
  if (found.length === 1 && found[0]) return found[0].id;
  throw new FirmFileFault(
    found.length === 0
      ? `There is no firm ${asked}: npm run firm -- list`
      : `${found.length} firms are named ${asked}. Name one by its id: ${found.map(({ id }) => id).join(", ")}`,
  );
}

const told = (counts: Record<string, number>): string =>
  `${counts.visit ?? 0} visits, ${counts.reading ?? 0} readings, ${counts.photo ?? 0} photos`;

const MEGABYTE = 1_000_000;
const ofMost = (most: number | null): string => (most === null ? "" : ` of ${most}`);

function limitsFrom(what: string, most: string): Partial<Limits> {
  const number = most === "none" ? null : Number(most);
  if (most === "" || (number !== null && !(Number.isInteger(number) && number >= 0 && number <= 10_000_000)))
    throw new FirmFileFault(
      `The limit is ${most || "nothing"}; it must be none, or a whole number from 0 to 10000000.`,
    );
  if (what === "basins") return { basins: number };
  if (what === "photos") return { photoBytes: number && number * MEGABYTE };
  throw new FirmFileFault(`There is no limit of ${what}; there are: photos, basins.`);
}

try {
  await migrate(db);
  const [first = "", second = ""] = given;
  if (command === "list")
    for (const { id, name, basins, visits, photoBytes, limits } of await firms())
      console.log(
        `${id}  ${name}: ${basins} basins${ofMost(limits.basins)}, ${visits} visits, ${Math.ceil(photoBytes / MEGABYTE)} MB of photos${ofMost(limits.photoBytes && limits.photoBytes / MEGABYTE)}`,
      );
  else if (command === "limit") {
    const limits = limitsFrom(second, given[2] ?? "");
    await asFirm(db, await idOf(first), (scope) => setLimits(scope, limits));
    console.log(`${first}: ${second} ${given[2] === "none" ? "without a limit" : `${given[2]} at most`}.`);
  } else if (command === "export") {
    const counts = await exportFirm(db, await idOf(first), second, new Date());
    console.log(`${second} holds ${told(counts)}.`);
  } else if (command === "import") {
    const { id, name } = await importFirm(db, first);
    console.log(`${name} is here (${id}). Its people sign in as before.`);
  } else {
    const counts = await eraseFirm(db, await idOf(first), second, new Date());
    console.log(
      `${first} is erased: ${told(counts)}. ${second} holds all of it; keep it as long as the law asks.`,
    );
  }
} catch (fault) {
  if (!(fault instanceof FirmFileFault)) throw fault;
  console.error(fault.message);
  process.exitCode = 1;
} finally {
  await db.destroy();
  if (cluster) await closeAfter(dataFolder(), cluster);
}
