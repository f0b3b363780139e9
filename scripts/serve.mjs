// The web server alone, from the build. Wants DATABASE_URL; `npm start` gives it one.
import { ROOT } from "./lib/provision.mjs";
import { main, Plain } from "./lib/terminal.mjs";

// The build is looked for where this file is, whoever starts it from wherever.
process.chdir(ROOT);

// When npm start dies without a word, its web server does not stay behind and hold the port.
process.on("disconnect", () => process.kill(process.pid, "SIGTERM"));

main(async () => {
  const { serve, StartupError } = await import("../build/server/index.js").catch((fault) => {
    if (fault.code === "ERR_MODULE_NOT_FOUND" && fault.message.includes("build/server"))
      throw new Plain("There is no build yet: npm run build");
    throw fault;
  });
  await serve({ listening: () => process.send?.("listening") }).catch((fault) => {
    throw fault instanceof StartupError ? new Plain(fault.message) : fault;
  });
});
