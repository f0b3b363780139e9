import { reactRouter } from "@react-router/dev/vite";
import tailwindcss from "@tailwindcss/vite";
import { defineConfig } from "vite";

export default defineConfig(({ isSsrBuild }) => ({
  build: { target: "es2022", ...(isSsrBuild ? { rollupOptions: { input: "./app/express.ts" } } : {}) },
  plugins: [tailwindcss(), reactRouter()],
}));
