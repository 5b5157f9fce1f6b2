/**
 * Writes the published JSON Schemas from the Zod schemas. With --check it only compares and fails when one is out of date.
 * Run: node --import ./scripts/ts-hook.mjs scripts/write-schemas.ts
 */
import { mkdirSync, readFileSync, writeFileSync } from "node:fs";
import { z } from "zod";
import { harnessSchema } from "@rheonom/core/harness";
import { jobEvent, reportSchema } from "@rheonom/core/job";

const SCHEMAS: Record<string, z.ZodType> = { harness: harnessSchema, "job-event": jobEvent, report: reportSchema };
const check = process.argv.includes("--check");

mkdirSync("docs/formats", { recursive: true });
for (const [name, schema] of Object.entries(SCHEMAS)) {
  const file = `docs/formats/${name}.schema.json`;
  const text = JSON.stringify(z.toJSONSchema(schema), null, 2) + "\n";
  if (!check) writeFileSync(file, text);
  else if (readFileSync(file, "utf8") !== text) {
    console.error(`${file} is out of date. Run: node --import ./scripts/ts-hook.mjs scripts/write-schemas.ts`);
    process.exitCode = 1;
  }
}
