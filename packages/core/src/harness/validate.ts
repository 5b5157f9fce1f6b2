import { deviceOf } from "./device-of.ts";
import { freeId, type HarnessEdit } from "./edit.ts";
import { endsByPlace, joined, pathOfLoad } from "./graph.ts";
import { pinPlace, type PlaceId } from "./names.ts";
import { batteryNegative, batteryOf, cavitiesOf, massesOf, placesOfComponent, wiresAt } from "./places.ts";
import { referenceProblems } from "./references.ts";
import type { Component, Harness, Load } from "./schema.ts";
import { canMeet } from "./variants.ts";

export interface HarnessProblem {
  /** An error makes the circuit unusable; a warning is shown and lived with. */
  readonly severity: "error" | "warning";
  readonly code:
    | "no-battery"
    | "two-batteries"
    | "no-load"
    | "load-without-feed"
    | "load-without-ground"
    | "mass-without-return"
    | "ground-unused"
    | "open-end"
    | "cavity-shared"
    | "fuse-small"
    | "id-twice"
    | "dangling-pin"
    | "cavity-unknown"
    | "wire-to-itself"
    | "name-unknown"
    | "colour-unknown"
    | "splice-ring";
  /** The component or wire that is to blame. */
  readonly at: string;
  readonly message: string;
  /** A change that mends it, where there is one, in words and as data. */
  readonly fix?: { readonly words: string; readonly edit: HarnessEdit };
}

/** Current of a load at nominal voltage, A. */
export function ratedAmps(load: Load, nominalVolts: number): number {
  if ("amps" in load.rating) return load.rating.amps;
  if ("watts" in load.rating) return load.rating.watts / nominalVolts;
  return nominalVolts / load.rating.ohms;
}

/** Names every problem of a circuit and its place. An empty list means that the solver can work on it. */
export function validateHarness(harness: Harness): HarnessProblem[] {
  const references = referenceProblems(harness);
  if (references.some((p) => p.severity === "error")) return references;
  const batteries = harness.components.filter((c) => c.kind === "battery");
  const source = batteryOf(harness);
  if (source === undefined) {
    return [problem("error", "no-battery", harness.components[0]?.id ?? "", "There is no battery. Start a line with BAT.")];
  }
  if (batteries.length > 1) {
    return [
      problem(
        "error",
        "two-batteries",
        batteries[1]!.id,
        `${batteries[1]!.id} is a second battery. Draw one source; two in a row are one of 24 V.`,
      ),
    ];
  }
  const ends = endsByPlace(harness);
  return [
    ...references,
    ...massProblems(harness),
    ...spliceRings(harness),
    ...loadProblems(harness),
    ...harness.components.flatMap((c) => componentProblems(harness, c, ends)),
    ...fuseProblems(harness),
  ];
}

const problem = (
  severity: HarnessProblem["severity"],
  code: HarnessProblem["code"],
  at: string,
  message: string,
  fix?: HarnessProblem["fix"],
): HarnessProblem => ({ severity, code, at, message, ...(fix === undefined ? {} : { fix }) });

function massProblems(harness: Harness): HarnessProblem[] {
  const minus = batteryNegative(harness);
  return massesOf(harness)
    .filter((mass) => !joined(harness, minus, mass))
    .map((mass) => {
      const first = harness.components.find((c) => c.kind === "ground" && c.on === mass)!;
      const free = freeId(harness, "G");
      return problem(
        "error",
        "mass-without-return",
        first.id,
        `${first.id} is bolted to the ${mass}, and nothing joins the ${mass} to ${minus}. Add the cable, such as: ${free}${mass === "body" ? "" : `(on ${mass})`} -- BK 25 0.5 -- ${minus.slice(0, -2)}`,
        {
          words: `Add ground ${free} on the ${mass} with a cable to ${minus}`,
          edit: { kind: "add-strap", on: mass, ground: free, battery: minus.slice(0, -2) },
        },
      );
    });
}

/** Splices joined in a ring by wires alone: two ways for one current, which no loom has and no reading can tell apart. */
function spliceRings(harness: Harness): HarnessProblem[] {
  const splices = new Set(harness.components.filter((c) => c.kind === "splice").map((c) => c.id));
  const lead = new Map([...splices].map((id) => [id, id]));
  const top = (id: string): string => {
    let at = id;
    while (lead.get(at) !== at) at = lead.get(at)!;
    return at;
  };
  return harness.wires.flatMap((w) => {
    if (!splices.has(w.from.component) || !splices.has(w.to.component) || w.when !== undefined) return [];
    const [p, q] = [top(w.from.component), top(w.to.component)];
    lead.set(p, q);
    if (p !== q) return [];
    const message = `Wire ${w.id} closes a ring of splices: ${w.from.component} and ${w.to.component} are joined already. Take one wire out.`;
    return [problem("warning", "splice-ring", w.id, message, { words: `Take out ${w.id}`, edit: { kind: "remove", id: w.id } })];
  });
}

function loadProblems(harness: Harness): HarnessProblem[] {
  const loads = harness.components.filter((c) => c.kind === "load");
  if (loads.length === 0 && !harness.components.some((c) => c.kind === "device")) {
    const at = batteryOf(harness)!.id;
    return [
      problem(
        "warning",
        "no-load",
        at,
        "There is no load, so no current flows and no drop can be judged. Add one, such as FAN(motor 12A).",
      ),
    ];
  }
  return loads.flatMap((part) => {
    const path = pathOfLoad(harness, part.id);
    if (path.kind === "no feed") {
      return [
        problem(
          "error",
          "load-without-feed",
          part.id,
          `Nothing leads from battery positive to ${path.place}. Draw the feed of ${part.id}.`,
        ),
      ];
    }
    if (path.kind === "no ground") {
      // A piece of metal that nothing joins to the battery is told of by itself.
      if (massesOf(harness).some((mass) => joined(harness, mass, path.place))) return [];
      const message = `${path.place} has no way back to battery negative. Draw the ground side of ${part.id}.`;
      return [problem("error", "load-without-ground", part.id, message)];
    }
    return [];
  });
}

function componentProblems(harness: Harness, part: Component, ends: ReadonlyMap<string, number>): HarnessProblem[] {
  const count = (p: string): number => ends.get(p) ?? 0;
  switch (part.kind) {
    case "ground":
      return count(part.id) > 0
        ? []
        : [
            problem("warning", "ground-unused", part.id, `Nothing reaches ground ${part.id}: no wire ends there. Wire it or take it out.`, {
              words: `Take out ${part.id}`,
              edit: { kind: "remove", id: part.id },
            }),
          ];
    case "splice":
      return count(part.id) > 1
        ? []
        : [problem("warning", "open-end", part.id, `Only one wire ends at splice ${part.id}. A splice joins two or more.`)];
    case "connector":
      return cavitiesOf(harness, part.id).flatMap((n) =>
        (["a", "b"] as const).flatMap((side) => {
          const wires = count(pinPlace(part.id, `${n}${side}`));
          if (wires === 1 || (wires > 1 && takeTurns(harness, pinPlace(part.id, `${n}${side}`), wires))) return [];
          const where = `side ${side} of ${part.id} cavity ${n}`;
          return wires === 0
            ? [problem("warning", "open-end", part.id, `Nothing is wired to ${where}.`)]
            : [
                problem(
                  "error",
                  "cavity-shared",
                  part.id,
                  `${wires} wires end at ${where}. A cavity takes one: check the number or add a splice.`,
                ),
              ];
        }),
      );
    case "device": {
      const { device, settings } = deviceOf(part);
      const bare = new Set(device.terminals(settings).flatMap((t) => (t.bare === true ? [`${part.id}.${t.name}`] : [])));
      return placesOfComponent(harness, part)
        .filter((p) => count(p) === 0 && !bare.has(p))
        .map((p) => problem("warning", "open-end", part.id, `Nothing is wired to ${p}.`));
    }
    case "fuse":
    case "switch":
    case "load":
    case "battery":
      return placesOfComponent(harness, part)
        .filter((p) => count(p) === 0)
        .map((p) => problem("warning", "open-end", part.id, `Nothing is wired to ${p}.`));
  }
}

/** Whether the wires of one cavity belong to options of which no vehicle has two. */
function takeTurns(harness: Harness, at: PlaceId, ends: number): boolean {
  const wires = wiresAt(harness, at);
  return wires.length === ends && wires.every((w, i) => wires.slice(i + 1).every((v) => !canMeet(w.when, v.when)));
}

function fuseProblems(harness: Harness): HarnessProblem[] {
  const through = new Map<string, number>();
  for (const part of harness.components) {
    if (part.kind !== "load") continue;
    const path = pathOfLoad(harness, part.id);
    if (path.kind !== "path") continue;
    for (const hop of [...path.feed, ...path.ground]) {
      if (hop.link.kind === "fuse") through.set(hop.link.id, (through.get(hop.link.id) ?? 0) + ratedAmps(part, harness.nominalVolts));
    }
  }
  return harness.components.flatMap((part) => {
    if (part.kind !== "fuse") return [];
    const amps = through.get(part.id) ?? 0;
    if (amps <= part.ratingAmps) return [];
    const message = `${part.id} is ${part.ratingAmps} A and its loads take ${amps.toFixed(1)} A together. Check the rating on the diagram; never fit a larger fuse to see.`;
    return [problem("warning", "fuse-small", part.id, message)];
  });
}
