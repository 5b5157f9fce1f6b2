import react from "@vitejs/plugin-react";
import { defineConfig } from "vite";

// The API is served by apps/server; during development it runs beside this server.
export default defineConfig({
  plugins: [react()],
  build: { outDir: "dist", emptyOutDir: true, chunkSizeWarningLimit: 1600 },
  worker: { format: "es" },
  server: { host: "127.0.0.1", proxy: { "/api": "http://127.0.0.1:4180" } },
});
