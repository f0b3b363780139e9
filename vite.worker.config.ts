import { createHash } from "node:crypto";
import { readdirSync, readFileSync } from "node:fs";
import { defineConfig } from "vite";

/** The service worker, built last: it carries the names of all files that it keeps. */
export default defineConfig(() => {
  const files = readdirSync("build/client/assets")
    // Pictures of the guide are fetched when somebody reads it; and the same file made small is not another.
    .filter((name) => !/\.(map|png|br)$/.test(name))
    .map((name) => `/assets/${name}`);
  const digest = createHash("sha256");
  for (const file of files.sort()) digest.update(file);
  digest.update(readFileSync("app/sw/worker.ts"));
  const build = `${new Date().toISOString()} ${digest.digest("hex").slice(0, 12)}`;
  return {
    define: { BUILD: JSON.stringify(build), FILES: JSON.stringify([...files, "/icon-192.png"]) },
    publicDir: false as const,
    build: {
      target: "es2022",
      outDir: "build/client",
      emptyOutDir: false,
      copyPublicDir: false,
      rollupOptions: {
        input: "app/sw/worker.ts",
        output: { entryFileNames: "worker.js", format: "iife" as const },
      },
    },
  };
});
