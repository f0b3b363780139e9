import { reactRouter } from "@react-router/dev/vite";
import tailwindcss from "@tailwindcss/vite";
import { defineConfig, type Plugin } from "vite";

/** The server is two programs: the one that answers, and what its threads run. */
const programs: Plugin = {
  name: "server-programs",
  outputOptions(options) {
    return { ...options, entryFileNames: ({ name }) => (name === "worker" ? "worker.js" : "index.js") };
  },
};

export default defineConfig(({ isSsrBuild }) => ({
  build: {
    target: "es2022",
    ...(isSsrBuild
      ? { rollupOptions: { input: { index: "./app/express.ts", worker: "./app/work/worker.ts" } } }
      : {}),
  },
  plugins: [tailwindcss(), reactRouter(), ...(isSsrBuild ? [programs] : [])],
}));
