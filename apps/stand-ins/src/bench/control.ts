import { z } from "zod";
import { batteryNegative, linkOf, parsePlace, type Harness } from "@rheonom/core/harness";
import type { VehicleState } from "@rheonom/core/circuit";
import { readCommand, readJson, type Command } from "../vehicle/control.ts";
import { SCOPE_CHANNELS } from "./scope.ts";
import type { BenchLeads, BenchWorld } from "./world.ts";

/** What is done by hand to an instrument's leads, to the instrument, and to the vehicle that they are on. */
export type BenchCommand =
  | { readonly do: "leads"; readonly channel: number; readonly leads: BenchLeads }
  | { readonly do: "battery"; readonly low: boolean }
  | Extract<Command, { do: "state" | "faults" | "move" | "tell" }>;

export type ReadBench = { readonly kind: "command"; readonly command: BenchCommand } | { readonly kind: "bad"; readonly message: string };

const place = z.string().min(1).max(40);
const channel = z.number().int().min(1).max(SCOPE_CHANNELS).default(1);
const asJson = z.discriminatedUnion("do", [
  z.object({
    do: z.literal("leads"),
    channel,
    leads: z.discriminatedUnion("on", [
      z.object({ on: z.literal("nothing") }),
      z.object({ on: z.literal("each other") }),
      z.object({ on: z.literal("places"), red: place, black: place }),
      z.object({ on: z.literal("wire"), around: place }),
    ]),
  }),
  z.object({ do: z.literal("battery"), low: z.boolean() }),
]);

export const BENCH_HELP = `leads C5.3 C4.1 · leads C5.3 (against battery −) · probe 2 C5.3 C4.1 · clamp W2 · leads together · leads off · battery low|good
key off|accessory|run · engine stopped|idling|"at speed" · on SW1 · off SW1 · unplug C4 · plug C4 · move LOOM-OR-PLUG · still · temperature 5 · tell · quit`;

/** Reads one line: a JSON object for programs, or words for people. */
export function readBenchCommand(line: string, harness: Harness, state: VehicleState): ReadBench {
  const text = line.trim();
  const bad = (message: string): ReadBench => ({ kind: "bad", message });
  if (text.startsWith("{") && /"do"\s*:\s*"(leads|battery)"/.test(text)) {
    const read = readJson(text, asJson);
    if (read.kind === "bad") return read;
    if (read.data.do === "battery") return { kind: "command", command: read.data };
    const { leads } = read.data;
    const wrong =
      leads.on === "places"
        ? [leads.red, leads.black].find((p) => parsePlace(harness, p).kind !== "place")
        : leads.on === "wire" && linkOf(harness, leads.around) === undefined && !harness.components.some((c) => c.id === leads.around)
          ? leads.around
          : undefined;
    return wrong === undefined ? { kind: "command", command: read.data } : bad(`There is no ${wrong} on this vehicle.`);
  }
  const [verb = "", ...rest] = text.split(/\s+/);
  const on = (channel: number, words: readonly string[]): ReadBench => {
    if (words[0] === "off" || words.length === 0) return { kind: "command", command: { do: "leads", channel, leads: { on: "nothing" } } };
    if (words[0] === "together") return { kind: "command", command: { do: "leads", channel, leads: { on: "each other" } } };
    const [red, black] = [parsePlace(harness, words[0]!), parsePlace(harness, words[1] ?? "-")];
    if (red.kind !== "place") return bad(`There is no place ${words[0]} on this vehicle, or it has two sides.`);
    if (black.kind !== "place" && words[1] !== undefined) return bad(`There is no place ${words[1]} on this vehicle, or it has two sides.`);
    return {
      kind: "command",
      command: {
        do: "leads",
        channel,
        leads: { on: "places", red: red.place, black: black.kind === "place" ? black.place : batteryNegative(harness) },
      },
    };
  };
  switch (verb.toLowerCase()) {
    case "leads":
      return on(1, rest);
    case "probe": {
      const n = Number(rest[0]);
      return Number.isInteger(n) && n >= 1 && n <= SCOPE_CHANNELS ? on(n, rest.slice(1)) : bad(`probe 1 to ${SCOPE_CHANNELS}, and where.`);
    }
    case "clamp": {
      const around = rest[0] ?? "";
      return linkOf(harness, around) === undefined && !harness.components.some((c) => c.kind === "battery" && c.id === around)
        ? bad(`There is no wire ${around} on this vehicle.`)
        : { kind: "command", command: { do: "leads", channel: 1, leads: { on: "wire", around } } };
    }
    case "battery":
      return rest[0] === "low" || rest[0] === "good"
        ? { kind: "command", command: { do: "battery", low: rest[0] === "low" } }
        : bad("battery low, or battery good.");
    default: {
      const read = readCommand(text, harness, state);
      if (read.kind === "bad") return /is not a command/.test(read.message) ? bad(`“${verb}” is not a command. ${BENCH_HELP}`) : read;
      const { command } = read;
      return command.do === "crank" || command.do === "drive"
        ? bad(`An instrument does not ${command.do}. For cranking, send the state.`)
        : { kind: "command", command };
    }
  }
}

export function workBench(world: BenchWorld, c: BenchCommand): void {
  switch (c.do) {
    case "leads":
      return world.setLeads(c.leads, c.channel);
    case "battery":
      return world.setBatteryLow(c.low);
    case "state":
      return world.setState(c.state);
    case "faults":
      return world.setFaults(c.faults);
    case "move":
      return world.setMoving(c.at);
    case "tell":
      return;
  }
}
