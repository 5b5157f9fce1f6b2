/**
 * Writes the published JSON Schemas from the Zod schemas, and the table of devices from their kinds. With --check it only compares and fails when one is out of date.
 * Run: node --import ./scripts/ts-hook.mjs scripts/write-schemas.ts
 */
import { mkdirSync, readFileSync, writeFileSync } from "node:fs";
import { z } from "zod";
import { caseAnswerSchema, caseFileSchema } from "@rheonom/core/diagnosis";
import { DEVICE_NAMES, deviceKind } from "@rheonom/core/devices";
import { harnessSchema } from "@rheonom/core/harness";
import { chainedLogSchema, jobEvent, reportSchema, shelfFile } from "@rheonom/core/job";

const SCHEMAS: Record<string, z.ZodType> = {
  harness: harnessSchema,
  "job-event": jobEvent,
  report: reportSchema,
  log: chainedLogSchema,
  "known-goods": shelfFile,
  case: caseFileSchema,
  "case-answer": caseAnswerSchema,
};
const check = process.argv.includes("--check");

interface Setting {
  readonly type?: string;
  readonly enum?: readonly unknown[];
  readonly default?: unknown;
}

/** Every kind of device with its terminals, settings and failure modes, as Markdown. */
function devicesText(): string {
  const sections = DEVICE_NAMES.map((name) => {
    const device = deviceKind(name)!;
    const defaults = device.settings.parse({});
    const schema = z.toJSONSchema(device.settings, { io: "input", unrepresentable: "any" }) as { properties?: Record<string, Setting> };
    const settings = Object.entries(schema.properties ?? {}).map(([key, s]) => {
      const values = s.enum === undefined ? "" : ` (${s.enum.map(String).join(", ")})`;
      return `- \`${key}\`${values}${s.default === undefined ? "" : `: ${JSON.stringify(s.default)}`}`;
    });
    const terminals = device.terminals(defaults).map((t) => `\`${t.name}\` ${t.role}`);
    const modes = device.modes(defaults).map((m) => m.words);
    return [
      `## ${name}: ${device.words}`,
      `Terminals as set by default: ${terminals.join(", ")}.`,
      settings.length === 0 ? "No settings." : settings.join("\n"),
      modes.length === 0 ? "No failure modes: see its file." : `Fails as: ${modes.join("; ")}.`,
    ].join("\n\n");
  });
  const head =
    "# Devices\n\nMade from `packages/core/src/devices` by `scripts/write-schemas.ts`: settings with their defaults, in the units that their names end in. Equations, sources and limits stand in each file.";
  return `${[head, ...sections].join("\n\n")}\n`;
}

function put(file: string, text: string): void {
  if (!check) writeFileSync(file, text);
  else if (readFileSync(file, "utf8") !== text) {
    console.error(`${file} is out of date. Run: node --import ./scripts/ts-hook.mjs scripts/write-schemas.ts`);
    process.exitCode = 1;
  }
}

mkdirSync("docs/formats", { recursive: true });
for (const [name, schema] of Object.entries(SCHEMAS))
  put(`docs/formats/${name}.schema.json`, JSON.stringify(z.toJSONSchema(schema, { io: "input" }), null, 2) + "\n");
put("docs/formats/devices.md", devicesText());
