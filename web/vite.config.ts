import { createHash } from "node:crypto";
import { readFileSync } from "node:fs";
import tailwindcss from "@tailwindcss/vite";
import react from "@vitejs/plugin-react";
import type { Plugin } from "vite";
import { defineConfig } from "vitest/config";

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
    const files = Object.keys(bundle).filter((name) => name.startsWith("assets/"));
    const kept = [
      { url: "/", revision },
      ...files.sort().map((name) => ({ url: `/${name}`, revision: null })),
    ];
    worker.code = worker.code.replaceAll("__SHELL__", JSON.stringify(kept));
  },
};

export default defineConfig({
  define: { __API_SHAPE__: JSON.stringify(apiShape) },
  plugins: [react(), tailwindcss(), shell],
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
