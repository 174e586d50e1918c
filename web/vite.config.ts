import { createHash } from "node:crypto";
import { readFileSync } from "node:fs";
import tailwindcss from "@tailwindcss/vite";
import react from "@vitejs/plugin-react";
import { defineConfig } from "vitest/config";

const api = process.env.FENTRO_API ?? "http://127.0.0.1:8040";

/** Answers kept on a device are let go of when the API's shape has changed since. */
const apiShape = createHash("sha256")
  .update(readFileSync("src/api/schema.gen.d.ts"))
  .digest("hex")
  .slice(0, 12);

export default defineConfig({
  define: { __API_SHAPE__: JSON.stringify(apiShape) },
  plugins: [react(), tailwindcss()],
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
