// npm start: from a fresh clone to a running Pelagon, and up again when something falls. Plain Node.js, so
// that it runs before npm ci has.
import { dataFolder, holdFolder, openCluster, portFree, secretsKey } from "./lib/cluster.mjs";
import { ensureBuild, ensureDebian, ensureModules } from "./lib/provision.mjs";
import { keepUp } from "./lib/supervise.mjs";
import { main, Plain } from "./lib/terminal.mjs";

const development = process.argv.includes("--dev");

main(async () => {
  const host = process.env.HOST ?? "127.0.0.1";
  const port = process.env.PORT ?? "4380";
  const number = Number(port);
  if (!Number.isInteger(number) || number < 1 || number > 65535)
    throw new Plain(`PORT is ${port}; it must be a whole number from 1 to 65535.`);
  if (!(await portFree(number, host)))
    throw new Plain(
      `Port ${port} on ${host} is taken by another program. Stop that one, or choose another: PORT=4381 npm start`,
    );

  const own = !process.env.DATABASE_URL;
  const folder = own ? dataFolder() : null;
  const letGo = folder ? await holdFolder(folder) : () => {};
  if (own) await ensureDebian();
  await ensureModules();
  if (!development) await ensureBuild();
  const cluster = folder ? await openCluster(folder) : null;

  const environment = {
    ...process.env,
    HOST: host,
    PORT: port,
    ...(cluster ? { DATABASE_URL: cluster.url, DATABASE_OWNER_URL: cluster.ownerUrl } : {}),
    ...(folder && !process.env.SECRETS_KEY ? { SECRETS_KEY: secretsKey(folder) } : {}),
    PELAGON_DEMO: process.env.PELAGON_DEMO ?? (own ? "1" : "0"),
    NODE_ENV: development ? "development" : "production",
  };
  const code = await keepUp(cluster, development ? "serve-dev.mjs" : "serve.mjs", environment);
  letGo();
  process.exit(code);
});
