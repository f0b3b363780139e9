/**
 * npm run new-firm -- NAME OWNER EMAIL [TIME ZONE] [us|metric] [LANGUAGE]: a firm of its own in the running
 * database, with an owner whose password is shown once. Its shelf begins with products named in that language.
 */
import { randomBytes } from "node:crypto";
import { openDatabase } from "#server/db/connection";
import { migrate } from "#server/db/migrate";
import { makeFirm } from "#server/db/new-firm";
import { LANGUAGES } from "../app/messages/compiled/all";
import { soldAs, speak } from "../app/words";
import { closeAfter, dataFolder, openCluster } from "./lib/cluster.mjs";

const [name, owner, email, timeZone = "UTC", units = "us", language = "en"] = process.argv.slice(2);
if (!name || !owner || !email || !/^\S+@\S+\.\S+$/.test(email) || (units !== "us" && units !== "metric")) {
  console.error(
    'npm run new-firm -- "Name of the firm" "Name of its owner" owner@firm.example [America/Denver] [us|metric] [en]',
  );
  process.exit(2);
}
if (!Intl.supportedValuesOf("timeZone").includes(timeZone) && timeZone !== "UTC") {
  console.error(`There is no time zone ${timeZone}.`);
  process.exit(2);
}
const spoken = LANGUAGES[language];
if (!spoken) {
  console.error(`There is no language ${language}. Choose one of: ${Object.keys(LANGUAGES).join(", ")}.`);
  process.exit(2);
}
speak(spoken);
const own = process.env.DATABASE_OWNER_URL ?? process.env.DATABASE_URL;
const cluster = own ? null : await openCluster(dataFolder());
const db = openDatabase(own ?? cluster?.ownerUrl ?? "", 1, { patient: true });
try {
  await migrate(db);
  const password = randomBytes(12).toString("base64url");
  const made = await makeFirm(db, {
    name,
    timeZone,
    units,
    owner: { name: owner, email, password },
    productName: soldAs,
  });
  if (!made) {
    console.error(`${email} belongs to somebody already.`);
    process.exitCode = 1;
  } else console.log(`${name} is there. Sign in as ${email} with ${password}`);
} finally {
  await db.destroy();
  if (cluster) await closeAfter(dataFolder(), cluster);
}
