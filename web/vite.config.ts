import { createHash } from "node:crypto";
import { existsSync, readFileSync } from "node:fs";
import { brotliCompressSync, constants, gzipSync } from "node:zlib";
import tailwindcss from "@tailwindcss/vite";
import react from "@vitejs/plugin-react";
import type { Plugin } from "vite";
import { defineConfig } from "vitest/config";
import { PAGES, roomier } from "./memory.mjs";

const api = process.env.FENTRO_API ?? "http://127.0.0.1:8040";

/** Answers kept on a device are let go of when the API's shape has changed since. */
const apiShape = createHash("sha256")
  .update(readFileSync("src/api/schema.gen.d.ts"))
  .digest("hex")
  .slice(0, 12);

/** The worker is told every file of the build, also those that are loaded only when their page is opened. */
const shell: Plugin = {
  name: "shell",
  apply: "build",
  enforce: "post",
  generateBundle(_, bundle) {
    const worker = bundle["sw.js"];
    const page = bundle["index.html"];
    if (worker?.type !== "chunk" || page?.type !== "asset") throw new Error("no worker or no page was built");
    const revision = createHash("sha256").update(page.source).digest("hex").slice(0, 12);
    const files = Object.keys(bundle).filter(
      (name) => name.startsWith("assets/") && !/^assets\/(python|core)-/.test(name),
    );
    const kept = [
      { url: "/", revision },
      ...files.sort().map((name) => ({ url: `/${name}`, revision: null })),
    ];
    worker.code = worker.code.replaceAll("__SHELL__", JSON.stringify(kept));
  },
};

/** CPython for the browser, as its package brings it. */
const PYTHON_FILES = [
  "pyodide.mjs",
  "pyodide.asm.mjs",
  "pyodide.asm.wasm",
  "pyodide-lock.json",
  "python_stdlib.zip",
];
const PYTHON = "node_modules/pyodide";

/** The core's memory once it is loaded, and which core it is: made by snapshot.mjs and tools/device_core.py before the build. */
const CORE = ".core/core.bin.gz";

const pythonFile = (name: string): Buffer => {
  const file = readFileSync(`${PYTHON}/${name}`);
  return name.endsWith(".wasm") ? roomier(file) : file;
};

/** The files that run the core on the device; `core.json` says which belong together. */
function coreFiles(): { name: string; source: Buffer }[] {
  const { version } = JSON.parse(readFileSync(`${PYTHON}/package.json`, "utf8")) as { version: string };
  const { core, digest } = JSON.parse(readFileSync(".core/core.json", "utf8")) as Record<string, string>;
  const python = `assets/python-${version}-${PAGES}/`;
  const files = [
    ...PYTHON_FILES.map((name) => ({ name: python + name, source: pythonFile(name) })),
    { name: `assets/core-${digest}.bin.gz`, source: readFileSync(CORE) },
  ];
  const urls = files.map(({ name }) => `/${name}`);
  const made = { core, python: `/${python}`, memory: urls.at(-1), files: urls };
  return [...files, { name: "core.json", source: Buffer.from(JSON.stringify(made)) }];
}

const device: Plugin = {
  name: "device",
  generateBundle() {
    for (const { name, source } of coreFiles()) this.emitFile({ type: "asset", fileName: name, source });
  },
  configureServer(server) {
    server.middlewares.use((request, response, next) => {
      const path = (request.url ?? "").split("?")[0]?.slice(1);
      const found = existsSync(CORE) ? coreFiles().find(({ name }) => name === path) : undefined;
      if (!found) return next();
      const types: Record<string, string> = { mjs: "text/javascript", wasm: "application/wasm" };
      response.setHeader(
        "content-type",
        types[found.name.split(".").at(-1) ?? ""] ?? "application/octet-stream",
      );
      response.end(found.source);
    });
  },
};

const SMALLER = /\.(js|mjs|css|html|json|wasm|svg|webmanifest)$/;
const LARGE = 2_000_000;

/** Beside every file that gets smaller stands a compressed one, which the server sends to whoever takes it. */
const compressed: Plugin = {
  name: "compressed",
  apply: "build",
  enforce: "post",
  generateBundle: {
    order: "post",
    handler(_, bundle) {
      for (const [name, file] of Object.entries(bundle)) {
        if (!SMALLER.test(name)) continue;
        const source = Buffer.from(file.type === "chunk" ? file.code : file.source);
        const quality = source.length > LARGE ? 9 : 11;
        const params = { [constants.BROTLI_PARAM_QUALITY]: quality };
        this.emitFile({
          type: "asset",
          fileName: `${name}.br`,
          source: brotliCompressSync(source, { params }),
        });
        this.emitFile({ type: "asset", fileName: `${name}.gz`, source: gzipSync(source, { level: 9 }) });
      }
    },
  },
};

export default defineConfig({
  define: { __API_SHAPE__: JSON.stringify(apiShape) },
  plugins: [react(), tailwindcss(), device, shell, compressed],
  worker: { format: "es" },
  server: { proxy: { "/api": api, "/admin": api, "/static": api } },
  build: {
    target: "es2022",
    sourcemap: false,
    assetsInlineLimit: 0,
    rollupOptions: {
      input: { main: "index.html", sw: "src/offline/worker.ts" },
      output: {
        entryFileNames: (chunk) => (chunk.name === "sw" ? "sw.js" : "assets/[name]-[hash].js"),
      },
    },
  },
  test: { environment: "node", include: ["src/**/*.test.{ts,tsx}"] },
});
