import tailwindcss from "@tailwindcss/vite";
import react from "@vitejs/plugin-react";
import { join } from "node:path";
import { fileURLToPath } from "node:url";
import { defineConfig, type Plugin } from "vite";

const packages = fileURLToPath(new URL("node_modules", import.meta.url));

/** Lists what the page needs without a server, for the worker in public/sw.js. */
const shell = (): Plugin => ({
  name: "shell",
  generateBundle(_, bundle) {
    const files = Object.keys(bundle).filter((name) => /\.(js|css|woff2)$/.test(name));
    const source = JSON.stringify({ files: [...files, "first.js", "mark.svg"] });
    this.emitFile({ type: "asset", fileName: "shell.json", source });
  },
});

export default defineConfig({
  // Below which path it lies is said by the server, in the page.
  base: "./",
  plugins: [react(), tailwindcss(), shell()],
  resolve: {
    // Its entry is the build for development, with its warnings.
    alias: { "react-router": join(packages, "react-router/dist/production/index.mjs") },
  },
  build: {
    target: "es2022",
    sourcemap: false,
    modulePreload: { polyfill: false },
    license: { fileName: "licences.md" },
  },
  server: { proxy: { "/api": "http://127.0.0.1:8000" } },
});
