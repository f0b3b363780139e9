/**
 * npm run reset-password -- EMAIL: a link that sets somebody's password anew, once, shown here. For an owner
 * who cannot sign in; everybody else asks an owner.
 */
import { openDatabase } from "#server/db/connection";
import { migrate } from "#server/db/migrate";
import { resetByAddress } from "#server/db/passwords";
import { closeAfter, dataFolder, openCluster } from "./lib/cluster.mjs";

const [email] = process.argv.slice(2);
if (!email) {
  console.error("npm run reset-password -- somebody@firm.example");
  process.exit(2);
}
const own = process.env.DATABASE_OWNER_URL ?? process.env.DATABASE_URL;
const cluster = own ? null : await openCluster(dataFolder());
const db = openDatabase(own ?? cluster?.ownerUrl ?? "", 1, { patient: true });
try {
  await migrate(db);
  const token = await resetByAddress(db, email, new Date());
  if (!token) {
    console.error(`Nobody signs in as ${email}.`);
    process.exitCode = 1;
  } else
    console.log(
      `Open this within a day, at the address of your Pelagon: ${process.env.PUBLIC_URL ?? "http://127.0.0.1:4380"}/reset/${token}`,
    );
} finally {
  await db.destroy();
  if (cluster) await closeAfter(dataFolder(), cluster);
}
