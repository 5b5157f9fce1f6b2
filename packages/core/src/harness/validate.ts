import { endsByPlace, joined, pathOfLoad } from "./graph.ts";
import { batteryNegative, batteryOf, cavitiesOf, massesOf, placesOfComponent, type PlaceId } from "./places.ts";
import type { Component, Harness, Load } from "./schema.ts";

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
    | "fuse-small";
  /** The component or wire that is to blame. */
  readonly at: string;
  readonly message: string;
}

/** Current of a load at nominal voltage, A. */
export function ratedAmps(load: Load, nominalVolts: number): number {
  if ("amps" in load.rating) return load.rating.amps;
  if ("watts" in load.rating) return load.rating.watts / nominalVolts;
  return nominalVolts / load.rating.ohms;
}

/** Names every problem of a circuit and its place. An empty list means that the solver can work on it. */
export function validateHarness(harness: Harness): HarnessProblem[] {
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
    ...massProblems(harness),
    ...loadProblems(harness),
    ...harness.components.flatMap((c) => componentProblems(harness, c, ends)),
    ...fuseProblems(harness),
  ];
}

const problem = (severity: HarnessProblem["severity"], code: HarnessProblem["code"], at: string, message: string): HarnessProblem => ({
  severity,
  code,
  at,
  message,
});

function massProblems(harness: Harness): HarnessProblem[] {
  const minus = batteryNegative(harness);
  return massesOf(harness)
    .filter((mass) => !joined(harness, minus, mass))
    .map((mass) => {
      const first = harness.components.find((c) => c.kind === "ground" && c.on === mass)!;
      return problem(
        "error",
        "mass-without-return",
        first.id,
        `${first.id} is bolted to the ${mass}, and nothing joins the ${mass} to ${minus}. Add the cable, such as: ${nextFree(harness, "G")}${mass === "body" ? "" : `(on ${mass})`} -- BK 25 0.5 -- ${minus.slice(0, -2)}`,
      );
    });
}

function nextFree(harness: Harness, letter: string): string {
  for (let n = 1; ; n++) if (!harness.components.some((c) => c.id === `${letter}${n}`)) return `${letter}${n}`;
}

function loadProblems(harness: Harness): HarnessProblem[] {
  const loads = harness.components.filter((c) => c.kind === "load");
  if (loads.length === 0) {
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

function componentProblems(harness: Harness, part: Component, ends: ReadonlyMap<PlaceId, number>): HarnessProblem[] {
  const count = (p: PlaceId): number => ends.get(p) ?? 0;
  switch (part.kind) {
    case "ground":
      return count(part.id as PlaceId) > 0
        ? []
        : [problem("warning", "ground-unused", part.id, `Nothing reaches ground ${part.id}: no wire ends there. Wire it or take it out.`)];
    case "splice":
      return count(part.id as PlaceId) > 1
        ? []
        : [problem("warning", "open-end", part.id, `Only one wire ends at splice ${part.id}. A splice joins two or more.`)];
    case "connector":
      return cavitiesOf(harness, part.id).flatMap((n) =>
        (["a", "b"] as const).flatMap((side) => {
          const wires = count(`${part.id}.${n}${side}` as PlaceId);
          if (wires === 1) return [];
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
    case "fuse":
    case "switch":
    case "load":
    case "battery":
      return placesOfComponent(harness, part)
        .filter((p) => count(p) === 0)
        .map((p) => problem("warning", "open-end", part.id, `Nothing is wired to ${p}.`));
  }
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
