#!/usr/bin/env node
// Runs the TypeScript sources; the command is part of this project's checkout.
await import("../../../scripts/ts-hook.mjs");
const { main } = await import("../src/main.ts");
process.exitCode = await main(process.argv.slice(2), process.stdout, process.stderr);
