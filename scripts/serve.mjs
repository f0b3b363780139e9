// The web server alone, from the build. Wants DATABASE_URL; `npm start` gives it one.
import { main, Plain } from "./lib/terminal.mjs";

main(async () => {
  const { serve } = await import("../build/server/index.js").catch((fault) => {
    if (fault.code === "ERR_MODULE_NOT_FOUND" && fault.message.includes("build/server"))
      throw new Plain("There is no build yet: npm run build");
    throw fault;
  });
  await serve();
});
