import { readdirSync, readFileSync } from "node:fs";
import { REST_STATE, type VehicleState } from "../circuit/index.ts";
import type { Harness } from "../harness/index.ts";
import { parseNotation } from "../notation/index.ts";

/** The harness of a text that must be free of errors. */
export function circuitOf(text: string): Harness {
  const { harness, problems } = parseNotation(text);
  if (harness === undefined) throw new Error(problems.map((p) => `${p.line}:${p.column} ${p.message}`).join("\n"));
  return harness;
}

interface FromFile {
  readonly file: string;
  readonly text: string;
  readonly harness: Harness;
}

function circuitsIn(folder: string): FromFile[] {
  const url = new URL(`../../../../demo/${folder}/`, import.meta.url);
  return readdirSync(url)
    .filter((f) => f.endsWith(".circuit"))
    .map((file) => {
      const text = readFileSync(new URL(file, url), "utf8");
      return { file, text, harness: circuitOf(text) };
    });
}

/** Every demo circuit by name of file. */
export const demoCircuits: readonly FromFile[] = circuitsIn("circuits");
/** The rigs, which hold devices. */
export const rigs: readonly FromFile[] = circuitsIn("rigs");
/** A rig by the name of its file without ending. */
export const rig = (name: string): Harness => rigs.find((r) => r.file === `${name}.circuit`)!.harness;

/** Everything that can be switched on is on: key in run, or in crank where the circuit draws a starter. */
export function loadedState(harness: Harness): VehicleState {
  const cranks = harness.components.some((c) => c.kind === "switch" && c.closedBy === "crank");
  const on = harness.components.filter((c) => c.kind === "switch" && c.closedBy === "hand").map((c) => c.id);
  return { ...REST_STATE, key: cranks ? "crank" : "run", engine: cranks ? "cranking" : "stopped", on };
}

/** A fan on one feed and one ground: 12.6 V behind 10 mΩ, 10 m of 2.5 mm² feed, a 12 Ω load, a ground on the body. */
export const FAN = `
BAT(12V 0.01ohm) -- W1 RD 2.5mm2 10m -- F1(15A) -- W2 RD/GN 2.5mm2 2m -- SW1 -- W3 RD/GN 2.5mm2 1m -- C1.4 -- W4 RD/GN 2.5mm2 1m -- FAN(motor 1A)
FAN -- W5 BK 2.5mm2 1m -- G1
G2 -- W6 BK 25mm2 0.5m -- BAT
`;
export const fanOn: VehicleState = { ...REST_STATE, key: "run", on: ["SW1"] };
