// npm start: from a fresh clone to a running Pelagon. Plain Node.js, so that it runs before npm ci has.
import { spawn } from "node:child_process";
import { join } from "node:path";
import { dataFolder, holdFolder, openCluster, portFree } from "./lib/cluster.mjs";
import { ensureBuild, ensureDebian, ensureModules, ROOT } from "./lib/provision.mjs";
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
  const letGo = folder ? holdFolder(folder) : () => {};
  if (own) await ensureDebian();
  await ensureModules();
  if (!development) await ensureBuild();
  const cluster = folder ? await openCluster(folder) : null;

  const environment = {
    ...process.env,
    HOST: host,
    PORT: port,
    DATABASE_URL: cluster?.url ?? process.env.DATABASE_URL,
    PELAGON_DEMO: process.env.PELAGON_DEMO ?? (own ? "1" : "0"),
    NODE_ENV: development ? "development" : "production",
  };
  const script = join(ROOT, "scripts", development ? "serve-dev.mjs" : "serve.mjs");
  const web = spawn(process.execPath, [script], {
    cwd: ROOT,
    env: environment,
    stdio: ["inherit", "inherit", "inherit", "ipc"],
  });
  for (const signal of ["SIGINT", "SIGTERM", "SIGHUP"]) process.on(signal, () => web.kill("SIGTERM"));
  web.on("exit", (code) => {
    cluster?.stop();
    letGo();
    process.exit(code ?? 1);
  });
});
