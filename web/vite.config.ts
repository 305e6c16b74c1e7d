import react from "@vitejs/plugin-react";
import { readdirSync, readFileSync, writeFileSync } from "node:fs";
import { join } from "node:path";
import { gzipSync } from "node:zlib";
import { defineConfig, type Plugin } from "vite";

/** Compresses the bundle once at build time, so that the server never has to. */
function precompress(): Plugin {
  return {
    name: "precompress",
    apply: "build",
    closeBundle() {
      for (const entry of readdirSync("dist", { recursive: true, withFileTypes: true })) {
        if (!entry.isFile() || !/\.(js|css|html|svg)$/.test(entry.name)) continue;
        const file = join(entry.parentPath, entry.name);
        writeFileSync(`${file}.gz`, gzipSync(readFileSync(file), { level: 9 }));
      }
    },
  };
}

export default defineConfig({
  plugins: [react(), precompress()],
  build: {
    emptyOutDir: true,
    assetsInlineLimit: 0,
    chunkSizeWarningLimit: 900,
    // Fonts keep their names, so that the customer's record, which is no part of the bundle, can use them.
    rollupOptions: { output: { assetFileNames: (a) => (a.names[0]?.endsWith(".woff2") ? "fonts/[name][extname]" : "assets/[name]-[hash][extname]") } },
  },
  // The server takes writes of its own page only: it must see the address that the page was asked for.
  server: { proxy: { "/api": { target: "http://127.0.0.1:8080", changeOrigin: false } } },
});
