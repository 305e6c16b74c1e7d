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

/** Private links lead to the customer's page, as they do on the server. */
function privateLinks(): Plugin {
  return {
    name: "private-links",
    configureServer: (server) => {
      server.middlewares.use((request, _, next) => {
        if (request.url?.startsWith("/a/")) request.url = "/customer.html";
        next();
      });
    },
  };
}

export default defineConfig({
  plugins: [react(), precompress(), privateLinks()],
  build: {
    emptyOutDir: true,
    assetsInlineLimit: 0,
    chunkSizeWarningLimit: 900,
    // Fonts keep their names, so that the customer's record, which is no part of the bundle, can use them.
    // The customer’s page is a page of its own: a phone loads nothing of the shop’s app.
    rollupOptions: {
      input: ["index.html", "customer.html"],
      output: { assetFileNames: (a) => (a.names[0]?.endsWith(".woff2") ? "fonts/[name][extname]" : "assets/[name]-[hash][extname]") },
    },
  },
  // The server takes writes of its own page only: it must see the address that the page was asked for.
  server: { proxy: { "/api": { target: "http://127.0.0.1:8080", changeOrigin: false } } },
});
