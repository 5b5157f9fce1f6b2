import { dirname, resolve } from "node:path";
import { fileURLToPath } from "node:url";
import { check } from "./check.ts";
import { ConfigError, readConfig } from "./config.ts";
import { serve } from "./serve.ts";
import { StartError } from "./store/start-failure.ts";

/** Nothing to be started anew for: somebody has to do something first. */
const TO_BE_MENDED = 1;

/** Serves; or, as `main check [--quarantine]`, looks through the data. Both src/main.ts and dist/main.mjs lie three folders below the top. */
async function main(argv: readonly string[]): Promise<void> {
  const root = resolve(dirname(fileURLToPath(import.meta.url)), "../../..");
  const config = readConfig(process.env, root);
  if (argv[0] === "check") process.exit(await check(config.store, argv.slice(1)));
  await serve(config);
}

main(process.argv.slice(2)).catch((error: unknown) => {
  const told = error instanceof StartError || error instanceof ConfigError || error instanceof RangeError;
  process.stderr.write(`${told ? error.message : error instanceof Error ? (error.stack ?? error.message) : String(error)}\n`);
  process.exit(TO_BE_MENDED);
});
