#!/usr/bin/env node
// Runs the command from one file, which is made from the sources of this checkout when they are newer.
import { ensureCommand } from "../../../scripts/setup.mjs";

await ensureCommand();
const { main } = await import("../dist/main.mjs");
process.exitCode = await main(process.argv.slice(2), process.stdout, process.stderr);
