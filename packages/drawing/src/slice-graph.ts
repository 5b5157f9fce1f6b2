import {
  cavitiesOf,
  type Component,
  type Device,
  deviceOf,
  type Harness,
  massesOf,
  pinPlace,
  type PlaceId,
  placeOf,
} from "@rheonom/core/harness";
import { orient } from "./orient.ts";

/** Graph for a layered layout engine that takes ELK's JSON. Positions come back in the same shape. */
export interface LayoutNode {
  id: string;
  width: number;
  height: number;
  x?: number;
  y?: number;
  layoutOptions: Record<string, string>;
  ports: { id: string; x: number; y: number; width: number; height: number; layoutOptions: Record<string, string> }[];
}
export interface LayoutPoint {
  x: number;
  y: number;
}
export interface LayoutEdge {
  id: string;
  sources: string[];
  targets: string[];
  labels?: { text: string; width: number; height: number; x?: number; y?: number }[];
  sections?: { id: string; startPoint: LayoutPoint; endPoint: LayoutPoint; bendPoints?: LayoutPoint[] }[];
}
export interface LayoutGraph {
  id: string;
  layoutOptions: Record<string, string>;
  children: LayoutNode[];
  edges: LayoutEdge[];
  width?: number;
  height?: number;
}

/** Parts up to which a whole circuit is drawn; laying out more takes many seconds and nobody could read it. */
export const MAX_DRAWN_PARTS = 250;

/** Room of a symbol; its label stands to the right. px */
export const SYMBOL = 34;
const CHAR = 7.2;
const LABEL_GAP = 8;

/** Rating of a part as it stands in its box: A of a fuse, A, W or Ω of a load, kind of a device; empty for all else. */
export const ratingWords = (part: Component): string => {
  switch (part.kind) {
    case "fuse":
      return `${part.ratingAmps} A`;
    case "load":
      if ("amps" in part.rating) return `${part.rating.amps} A`;
      return "watts" in part.rating ? `${part.rating.watts} W` : `${part.rating.ohms} Ω`;
    case "device":
      return part.device;
    case "battery":
    case "switch":
    case "connector":
    case "splice":
    case "ground":
      return "";
  }
};

/** Name and rating of a part, first line of its box. */
export const nameWords = (part: Component): string => [part.id, ratingWords(part)].filter(Boolean).join(" ");

/**
 * The drawing's graph: feed at the top, return at the bottom, a port for each place. `whole`: the vehicle that the harness was cut
 * from, in which current is followed.
 */
export function sliceGraph(harness: Harness, whole: Harness = harness): LayoutGraph {
  const { upper: entering, below } = orient(harness, whole);
  const children: LayoutNode[] = [];
  for (const part of harness.components) children.push(...nodesOf(harness, part, entering, below));
  for (const mass of massesOf(harness)) children.push(massNode(harness, mass, entering));
  const edges: LayoutEdge[] = [];
  const splices = new Set(harness.components.filter((c) => c.kind === "splice").map((c) => c.id));
  // Wires meet a splice anywhere on its dot, so it has no ports.
  const endOf = (place: string): string => (splices.has(place) ? place : `p:${place}`);
  const edge = (id: string, from: string, to: string, label?: string): void => {
    // Downwards is from feed to ground: swap a wire that was drawn the other way round.
    const labels = label === undefined ? {} : { labels: [{ text: label, width: label.length * 6.6 + 6, height: 14 }] };
    edges.push({ id, sources: [endOf(from)], targets: [endOf(to)], ...labels });
  };
  for (const w of harness.wires) {
    const from = placeOf(harness, w.from);
    const to = placeOf(harness, w.to);
    const label = [w.id, w.colour, `${Number(w.areaMm2.toFixed(2))}`].filter(Boolean).join(" ");
    const [top, bottom] = entering.get(w.id) === to ? [to, from] : [from, to];
    edge(w.id, top, bottom, label);
  }
  harness.joints.forEach((j, i) => {
    const id = `=${i + 1}`;
    const from = placeOf(harness, j.from);
    const to = placeOf(harness, j.to);
    const [top, bottom] = entering.get(id) === to ? [to, from] : [from, to];
    edge(id, top, bottom);
  });
  for (const part of harness.components) {
    if (part.kind !== "ground") continue;
    const towardsBattery = entering.get(part.id) === part.on;
    const stud = `${part.id}|m`;
    if (towardsBattery) edge(`m:${part.id}`, `${part.on}|${part.id}`, stud);
    else edge(`m:${part.id}`, stud, `${part.on}|${part.id}`);
  }
  return {
    id: "slice",
    layoutOptions: {
      "elk.algorithm": "layered",
      "elk.direction": "DOWN",
      "elk.edgeRouting": "ORTHOGONAL",
      "elk.layered.spacing.nodeNodeBetweenLayers": "11",
      "elk.layered.spacing.edgeNodeBetweenLayers": "9",
      "elk.spacing.nodeNode": "26",
      "elk.spacing.edgeNode": "18",
      "elk.spacing.edgeEdge": "16",
      "elk.spacing.edgeLabel": "5",
      "elk.layered.nodePlacement.strategy": "BRANDES_KOEPF",
      "elk.layered.nodePlacement.bk.fixedAlignment": "BALANCED",
      "elk.layered.considerModelOrder.strategy": "NODES_AND_EDGES",
      "elk.edgeLabels.inline": "false",
      "elk.layered.edgeLabels.sideSelection": "ALWAYS_DOWN",
      "elk.padding": "[top=14,left=12,bottom=14,right=12]",
    },
    children,
    edges,
  };
}

const port = (place: string, x: number, y: number, side: "NORTH" | "SOUTH"): LayoutNode["ports"][number] => ({
  id: `p:${place}`,
  x,
  y,
  width: 0,
  height: 0,
  layoutOptions: { "elk.port.side": side },
});

const fixed = (extra: Record<string, string> = {}): Record<string, string> => ({ "elk.portConstraints": "FIXED_POS", ...extra });

/** Room for each terminal of a device and its height, px. */
const DEVICE_PITCH = 36;
export const DEVICE_HEIGHT = 62;

/** Terminals of a device that something ends on, by the side they stand on; those of a part with two ends stand upright. */
function deviceSides(harness: Harness, part: Device, below: ReadonlySet<PlaceId>): { readonly top: string[]; readonly bottom: string[] } {
  const { device, settings } = deviceOf(part);
  const used = new Set([...harness.wires, ...harness.joints].flatMap((l) => [placeOf(harness, l.from), placeOf(harness, l.to)]));
  const names = device.terminals(settings).map((t) => t.name);
  const here = names.filter((n) => used.has(pinPlace(part.id, n)));
  const shown = here.length === 0 ? names : here;
  const isBelow = (n: string): boolean => below.has(pinPlace(part.id, n));
  const [top, bottom] = [shown.filter((n) => !isBelow(n)), shown.filter(isBelow)];
  return { top, bottom };
}

function nodesOf(harness: Harness, part: Component, entering: ReadonlyMap<string, PlaceId>, below: ReadonlySet<PlaceId>): LayoutNode[] {
  const wide = SYMBOL + LABEL_GAP + Math.max(nameWords(part).length * CHAR, (part.label?.length ?? 0) * 6);
  const half = SYMBOL / 2;
  switch (part.kind) {
    case "battery": {
      const plus = {
        id: `${part.id}.+`,
        width: SYMBOL + 70,
        height: 26,
        layoutOptions: fixed({ "elk.layered.layering.layerConstraint": "FIRST" }),
      };
      const minus = {
        id: `${part.id}.-`,
        width: SYMBOL + 70,
        height: 26,
        layoutOptions: fixed({ "elk.layered.layering.layerConstraint": "LAST" }),
      };
      return [
        { ...plus, ports: [port(`${part.id}.+`, half, 26, "SOUTH")] },
        { ...minus, ports: [port(`${part.id}.-`, half, 0, "NORTH")] },
      ];
    }
    case "device": {
      const { top, bottom } = deviceSides(harness, part, below);
      const width = Math.max(
        DEVICE_PITCH * Math.max(top.length, bottom.length, 2),
        nameWords(part).length * CHAR + 12,
        (part.label?.length ?? 0) * 5.9 + 10,
      );
      const row = (names: readonly string[], y: number, side: "NORTH" | "SOUTH"): LayoutNode["ports"] =>
        names.map((n, i) => port(`${part.id}.${n}`, Math.round((width * (i + 0.5)) / names.length), y, side));
      return [
        {
          id: part.id,
          width,
          height: DEVICE_HEIGHT,
          ports: [...row(top, 0, "NORTH"), ...row(bottom, DEVICE_HEIGHT, "SOUTH")],
          layoutOptions: fixed(),
        },
      ];
    }
    case "fuse":
    case "switch":
    case "load": {
      const pins = part.kind === "load" ? part.pins : ["1", "2"];
      const [a, b] = pins.map((p) => `${part.id}.${p}`) as [string, string];
      const [top, bottom] = entering.get(part.id) === b ? [b, a] : [a, b];
      const tall = part.kind === "load" ? 40 : 30;
      return [
        {
          id: part.id,
          width: wide,
          height: tall,
          layoutOptions: fixed(),
          ports: [port(top, half, 0, "NORTH"), port(bottom, half, tall, "SOUTH")],
        },
      ];
    }
    case "connector":
      // A node per cavity: feed and return through one connector stand apart.
      return cavitiesOf(harness, part.id).map((n) => {
        const id = `${part.id}.${n}`;
        const [top, bottom] = entering.get(id) === `${id}b` ? [`${id}b`, `${id}a`] : [`${id}a`, `${id}b`];
        const label = Math.max(id.length * CHAR, (part.label?.length ?? 0) * 6);
        return {
          id,
          width: SYMBOL + LABEL_GAP + label,
          height: 30,
          layoutOptions: fixed(),
          ports: [port(top, half, 0, "NORTH"), port(bottom, half, 30, "SOUTH")],
        };
      });
    case "splice":
      return [{ id: part.id, width: 4, height: 4, layoutOptions: {}, ports: [] }];
    case "ground": {
      const up = entering.get(part.id) === part.on;
      const tall = 20;
      return [
        {
          id: part.id,
          width: wide,
          height: tall,
          layoutOptions: fixed(),
          ports: [
            port(part.id, half, up ? tall : 0, up ? "SOUTH" : "NORTH"),
            port(`${part.id}|m`, half, up ? 0 : tall, up ? "NORTH" : "SOUTH"),
          ],
        },
      ];
    }
  }
}

function massNode(harness: Harness, mass: PlaceId, entering: ReadonlyMap<string, PlaceId>): LayoutNode {
  const studs = harness.components.filter((c) => c.kind === "ground" && c.on === mass);
  const above = studs.filter((s) => entering.get(s.id) !== mass);
  const below = studs.filter((s) => entering.get(s.id) === mass);
  const pitch = 64;
  const width = Math.max(above.length, below.length, 2) * pitch + 20;
  const ports = [
    ...above.map((s, i) => port(`${mass}|${s.id}`, 24 + i * pitch, 0, "NORTH")),
    ...below.map((s, i) => port(`${mass}|${s.id}`, 24 + i * pitch, 20, "SOUTH")),
  ];
  return { id: `mass:${mass}`, width, height: 20, layoutOptions: { "elk.portConstraints": "FIXED_SIDE" }, ports };
}
