import { constants } from "node:zlib";
import { reactRouter } from "@react-router/dev/vite";
import tailwindcss from "@tailwindcss/vite";
import { defineConfig, type Plugin } from "vite";
import { compression, defineAlgorithm } from "vite-plugin-compression2";
import { compileMessages } from "./scripts/lib/messages.mjs";

const MESSAGES = "app/messages";
compileMessages(MESSAGES);

/** Messages are compiled anew when a translator saves. */
const messages: Plugin = {
  name: "messages",
  configureServer(server) {
    server.watcher.on("change", (path) => {
      if (!/\/app\/messages\/[^/]+\/[^/]+\.json$/.test(path)) return;
      try {
        compileMessages(MESSAGES);
      } catch (fault) {
        server.config.logger.error(String(fault));
      }
    });
  },
};

/** At 11 all files together are a ninth smaller, for 24 s more of a build. */
const BROTLI_QUALITY = 6;

/** The server is two programs: the one that answers, and what its threads run. */
const programs: Plugin = {
  name: "server-programs",
  outputOptions(options) {
    return { ...options, entryFileNames: ({ name }) => (name === "worker" ? "worker.js" : "index.js") };
  },
};

/** Made small once, and not for every device that takes the build along. */
const small = compression({
  include: /\.(js|css|wasm|svg)$/,
  threshold: 1000,
  algorithms: [
    defineAlgorithm("brotliCompress", { params: { [constants.BROTLI_PARAM_QUALITY]: BROTLI_QUALITY } }),
  ],
  logLevel: "silent",
});

export default defineConfig(({ isSsrBuild }) => ({
  build: {
    target: "es2022",
    ...(isSsrBuild
      ? { rollupOptions: { input: { index: "./app/web/serve.ts", worker: "./app/work/worker.ts" } } }
      : // One file asks for less than ten of a few hundred bytes do.
        { rollupOptions: { output: { experimentalMinChunkSize: 12_000 } } }),
  },
  // Packages of many small files go into the build, with what is used of them: a start reads ten files and not
  // some thousands.
  ssr: { noExternal: ["lucide-react", "radix-ui", /^@radix-ui\//, "cmdk", "date-fns", "kysely", "culori"] },
  plugins: [messages, tailwindcss(), reactRouter(), ...(isSsrBuild ? [programs] : [small])],
}));
