#!/usr/bin/env node
// Runs the command from one file, which is made from the sources of this checkout when they are newer.
import { ensureCommand } from "../../../scripts/setup.mjs";

await ensureCommand();
// Whoever reads may have seen enough (head, less): that is the end, and no failure.
for (const stream of [process.stdout, process.stderr])
  stream.on("error", (error) => {
    if (error.code === "EPIPE") process.exit(0);
    throw error;
  });
const { main } = await import("../dist/main.mjs");
process.exitCode = await main(process.argv.slice(2), process.stdout, process.stderr);
