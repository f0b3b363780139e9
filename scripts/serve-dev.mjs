// The web server with hot reload, for npm run dev.
import { createServer } from "vite";
import { main } from "./lib/terminal.mjs";

main(async () => {
  const vite = await createServer({ server: { middlewareMode: true } });
  const { serve } = await vite.ssrLoadModule("./app/web/serve.ts");
  await serve({
    before: vite.middlewares,
    development: true,
    listening: () => process.send?.("listening"),
  });
});
