// Put the Python that runs in a browser beside the built front end, for work without a network.
// It is loaded only by what asks for it; the bundle knows nothing of it.
import { copyFileSync, mkdirSync } from "node:fs";

const from = new URL("../node_modules/pyodide/", import.meta.url);
const to = new URL("../dist/python/new/", import.meta.url);
const FILES = [
  "pyodide.mjs",
  "pyodide.asm.mjs",
  "pyodide.asm.wasm",
  "pyodide-lock.json",
  "python_stdlib.zip",
];

mkdirSync(to, { recursive: true });
for (const file of FILES) copyFileSync(new URL(file, from), new URL(file, to));
copyFileSync(new URL("../python/worker.mjs", import.meta.url), new URL("worker.mjs", to));
