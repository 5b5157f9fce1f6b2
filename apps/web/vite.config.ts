import react from "@vitejs/plugin-react";
import { defineConfig } from "vite";
import { compression } from "vite-plugin-compression2";

// The API is served by apps/server; during development it runs beside this server.
export default defineConfig({
  plugins: [
    react(),
    // Packed once here, so that the server only hands out what is there.
    compression({ algorithms: ["gzip", "brotliCompress"], include: /\.(js|css|svg)$/, threshold: 512, logLevel: "silent" }),
  ],
  // The layout of drawings comes as one file of 1.6 MB that only a worker loads, and only once something is drawn.
  build: {
    outDir: "dist",
    emptyOutDir: true,
    chunkSizeWarningLimit: 1600,
    // Packing takes most of the time of a build, as it should.
    rolldownOptions: { checks: { pluginTimings: false } },
  },
  worker: { format: "es" },
  server: { host: "127.0.0.1", proxy: { "/api": "http://127.0.0.1:4180" } },
});
