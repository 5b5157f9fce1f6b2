import { readFileSync } from "node:fs";
import { resolveVariant, type Harness } from "../harness/index.ts";
import { parseNotation } from "../notation/index.ts";

const FOLDER = new URL("../../../../demo/vehicles/", import.meta.url);

/** Circuit text of a demo vehicle or rig, such as "plover" or "rig-horn". */
export const textOf = (name: string): string => readFileSync(new URL(`${name}.circuit`, FOLDER), "utf8");

const known = new Map<string, Harness>();

/** A demo vehicle with the options named. The same object for the same question, so that what is computed about it once is there for all tests of a process. */
export function vehicleOf(name: string, options: readonly string[] = []): Harness {
  const key = `${name} ${options.join(",")}`;
  const harness = known.get(key) ?? resolveVariant(parseNotation(textOf(name)).harness!, options);
  known.set(key, harness);
  return harness;
}
