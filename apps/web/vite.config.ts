import { transformAsync } from "@babel/core";
import optimizeLocales from "@react-aria/optimize-locales-plugin";
import react from "@vitejs/plugin-react";
import { defineConfig, type Plugin } from "vite";
import { compression } from "vite-plugin-compression2";

/** What is drawn over and over while readings are taken. */
const DRAWN_OFTEN = /\/apps\/web\/src\/(features\/(trace|bench)|drawing|job)\/.*\.tsx?$/;
/** What a form holds changes inside an object that stays the same, which the compiler cannot see. */
const HOLDS_FORM = /react-hook-form|kept-form/;

/** Small things that nearly every screen needs. */
const SHARED_BY_ALL =
  /\/node_modules\/(react\/|date-fns\/(toDate|constructFrom|constants|differenceInCalendarDays|startOfWeek|startOfDay|_lib\/(addLeadingZeros|getTimezoneOffsetInMilliseconds|normalizeDates|defaultOptions)\.)|lucide-react\/dist\/esm\/(createLucideIcon|Icon|context|defaultAttributes|shared)|react-compiler-runtime)|\/packages\/contract\/src\/(light|problem|zod-setup)|\/apps\/web\/src\/(job\/shortcuts|ui\/use-keys|ui\/layout|ui\/button|ui\/file-button|api\/parsed-json|job\/steps)/;

/** Has React remember what a component drew until something that it shows is otherwise: half the work of a reading on the Trace screen. Types and JSX pass through as they are. */
const reactCompiler: Plugin = {
  name: "react-compiler",
  enforce: "pre",
  async transform(code, id) {
    if (!DRAWN_OFTEN.test(id) || HOLDS_FORM.test(code)) return undefined;
    const done = await transformAsync(code, {
      filename: id,
      plugins: [["babel-plugin-react-compiler", {}]],
      parserOpts: { plugins: ["typescript", ...(id.endsWith("x") ? (["jsx"] as const) : [])] },
      sourceMaps: true,
      configFile: false,
      babelrc: false,
    });
    return typeof done?.code === "string" ? { code: done.code, map: done.map ?? null } : undefined;
  },
};

// The API is served by apps/server; during development it runs beside this server.
export default defineConfig({
  plugins: [
    reactCompiler,
    react(),
    // The screens speak English: what components say to a screen reader comes in no other language.
    optimizeLocales.vite({ locales: ["en-US"] }),
    // Packed once here, so that the server only hands out what is there.
    compression({ algorithms: ["gzip", "brotliCompress"], include: /\.(js|css|svg)$/, threshold: 512, logLevel: "silent" }),
  ],
  // The layout of drawings comes as one file of 1.6 MB that only a worker loads, and only once something is drawn.
  build: {
    outDir: "dist",
    emptyOutDir: true,
    chunkSizeWarningLimit: 1600,
    // Packing takes most of the time of a build, as it should.
    rolldownOptions: {
      checks: { pluginTimings: false },
      // What the first screen needs and others share lies in one file: each more costs a request with its head.
      output: { codeSplitting: { groups: [{ name: "shared", test: SHARED_BY_ALL }] } },
    },
  },
  worker: { format: "es" },
  server: { host: "127.0.0.1", proxy: { "/api": "http://127.0.0.1:4180" } },
});
