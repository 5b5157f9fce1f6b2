import type { VehicleState } from "@rheonom/core/circuit";
import { type Component, describeLink, describePlace, type Harness, linksOf, partNameIn } from "@rheonom/core/harness";
import type { Scene, Shape } from "./scene.ts";
import { DEVICE_HEIGHT, nameWords, SYMBOL, type LayoutEdge, type LayoutGraph, type LayoutNode } from "./slice-graph.ts";

/** How far a thing is suspected, and the words beside it. */
export interface Suspicion {
  /** What stands beside it: its share, the drop measured there; may be empty. */
  readonly words: string;
  /** Its part of the belief, from 0 to 1; undefined for what the ranking does not hold any more, which is not hatched. */
  readonly share: number | undefined;
}

/** Where nothing is suspected. */
export const NO_SUSPECTS: ReadonlyMap<string, Suspicion> = new Map();

export interface SliceOptions {
  readonly state: VehicleState;
  /** Potential by place, V; undefined or missing where unknown. */
  readonly volts: ReadonlyMap<string, number | undefined>;
  /** By link or part. */
  readonly suspects: ReadonlyMap<string, Suspicion>;
  /** Text beside a place, such as the measured value. */
  readonly notes: ReadonlyMap<string, string>;
  readonly selected: string | undefined;
  readonly red: string | undefined;
  readonly black: string | undefined;
  /** Components and wires that this vehicle has not got, shown faintly. */
  readonly ghosts?: ReadonlySet<string>;
  /** Components and wires that are not asked about, drawn without colour. */
  readonly muted?: ReadonlySet<string>;
}

/** Draws a laid-out slice: symbols, wires in their colours with the potential along their edge, cavity numbers, leads. */
export function drawSlice(harness: Harness, graph: LayoutGraph, options: SliceOptions): Scene {
  const shapes: Shape[] = [];
  const full = Math.max(0.1, ...[...options.volts.values()].map((v) => v ?? 0));
  const at = portPositions(graph);
  /** As it is, or behind: what is not there, or not asked about and not suspect. */
  const put = (id: string, made: readonly Shape[]): void => {
    if (options.ghosts?.has(id) === true) shapes.push(...made.map(ghostly));
    else if (options.muted?.has(id) === true && !isSuspect(options, id)) shapes.push(...made.map(quiet));
    else shapes.push(...made);
  };
  for (const edge of graph.edges) put(edge.id, edgeShapes(harness, edge, options, full));
  for (const node of graph.children) put(partNameIn(node.id), nodeShapes(harness, node, options));
  for (const [place, p] of at) {
    if (place.includes("|")) continue;
    const note = options.notes.get(place);
    shapes.push({ t: "circle", ...p, r: 3.4, role: "outline", filled: true });
    const flagged = place === options.red || place === options.black;
    if (note !== undefined)
      shapes.push({
        t: "text",
        x: p.x - (flagged ? 58 : /\.[+-]$/.test(place) ? 20 : 10),
        y: p.y + 4,
        text: note,
        role: "label-value",
        anchor: "end",
      });
    if (place === options.red) shapes.push(...lead(p, "R"));
    if (place === options.black) shapes.push(...lead(p, "B"));
    if (place === options.selected) shapes.push({ t: "circle", ...p, r: 9, role: "selected" });
  }
  // Targets last, so that they lie on top; links before places, so that places win where they overlap.
  shapes.push(...linkTargets(harness, graph));
  for (const [place, p] of at) {
    if (!place.includes("|"))
      shapes.push({
        t: "target",
        x: p.x - 15,
        y: p.y - 15,
        w: 30,
        h: 30,
        hit: { kind: "place", id: place, name: describePlace(harness, place) },
      });
  }
  // Labels and flags beside the outermost symbols are not part of the layout.
  const [left, right] = extent(shapes);
  return {
    left: Math.min(0, left),
    width: Math.max(graph.width ?? 0, right) - Math.min(0, left),
    height: graph.height ?? 0,
    shapes,
    title: `Circuit ${harness.name}: ${harness.components.length} parts, ${harness.wires.length} wires, feed at the top, return at the bottom.`,
  };
}

/** Width of a letter of a label at its widest, px, and what stays free beside it. */
const LETTER = 7.4;
const BESIDE = 8;
/** How far right of a wire's label its suspicion stands: beyond the wire, px. */
const BESIDE_WIRE = 20;
/** How far a lead's flag reaches to either side of its word, px. */
const FLAG_HALF = 24;

/** From where to where labels and flags reach, px. */
function extent(shapes: readonly Shape[]): readonly [left: number, right: number] {
  let [left, right] = [0, 0];
  for (const s of shapes) {
    if (s.t !== "text") continue;
    const long = s.role === "lead-text" ? 2 * FLAG_HALF : LETTER * s.text.length;
    const from = s.x - { start: 0, middle: long / 2, end: long }[s.anchor ?? "start"];
    left = Math.min(left, from - BESIDE);
    right = Math.max(right, from + long + BESIDE);
  }
  return [left, right];
}

/** What is not on this vehicle: thin, broken and without colour. */
function ghostly(s: Shape): Shape {
  switch (s.t) {
    case "wire":
      return { t: "path", d: s.d, role: "faint", dash: "5 5", width: 2 };
    case "text":
      return { ...s, role: "label-faint" };
    case "path":
      return { ...s, role: "faint", dash: "4 3", filled: false };
    case "circle":
      return { ...s, role: "faint", filled: false };
    case "target":
      return s;
  }
}

const isSuspect = ({ suspects }: SliceOptions, id: string): boolean =>
  [...suspects].some(([name, { share }]) => share !== undefined && (name === id || partNameIn(name) === id));

/** What only shares a node with what is asked about: without colour. */
function quiet(s: Shape): Shape {
  switch (s.t) {
    case "wire":
      return { t: "path", d: s.d, role: "faint", width: 3 };
    case "text":
      return { ...s, role: "label-faint" };
    case "path":
    case "circle":
      return { ...s, role: "faint" };
    case "target":
      return s;
  }
}

/** Suspicion as density: strokes stand closer the larger the share. From share, 0…1, to dash and gap, px. */
const HATCHES: readonly (readonly [least: number, dash: string])[] = [
  [0.5, "2 3"],
  [0.2, "2 6"],
  [0.05, "1.6 9"],
  [0, "1.4 14"],
];
/** The hatch over a thing; none where nothing, or nothing any more, makes it suspect. */
function hatched(suspicion: Suspicion | undefined, d: string, width?: number): Shape[] {
  const { share } = suspicion ?? {};
  if (share === undefined) return [];
  const [, dash] = HATCHES.find(([least]) => share >= least) ?? HATCHES.at(-1)!;
  return [{ t: "path", d, role: "suspect", dash, ...(width === undefined ? {} : { width }) }];
}
/** What stands beside it; undefined for nothing. */
const saidOf = (suspicion: Suspicion | undefined): string | undefined => suspicion?.words || undefined;

/** A lead's tip: a flag with its letter. */
function lead(p: { x: number; y: number }, letter: "R" | "B"): Shape[] {
  return [
    { t: "path", d: `M ${p.x} ${p.y} l -10 -9 h -42 v 18 h 42 Z`, role: letter === "B" ? "lead-black" : "lead-red", filled: true },
    { t: "text", x: p.x - 30, y: p.y + 4, text: letter === "B" ? "black" : "red", role: "lead-text", anchor: "middle" },
  ];
}

function portPositions(graph: LayoutGraph): Map<string, { x: number; y: number }> {
  const found = new Map<string, { x: number; y: number }>();
  for (const node of graph.children) {
    if (node.ports.length === 0) found.set(node.id, { x: (node.x ?? 0) + node.width / 2, y: (node.y ?? 0) + node.height / 2 });
    for (const p of node.ports) found.set(p.id.slice(2), { x: (node.x ?? 0) + p.x, y: (node.y ?? 0) + p.y });
  }
  return found;
}

function pathOf(edge: LayoutEdge): string {
  const section = edge.sections?.[0];
  if (section === undefined) return "";
  return [section.startPoint, ...(section.bendPoints ?? []), section.endPoint]
    .map((p, i) => `${i === 0 ? "M" : "L"} ${p.x.toFixed(1)} ${p.y.toFixed(1)}`)
    .join(" ");
}

function edgeShapes(harness: Harness, edge: LayoutEdge, options: SliceOptions, full: number): Shape[] {
  const d = pathOf(edge);
  const wire = harness.wires.find((w) => w.id === edge.id);
  if (wire === undefined) {
    const stud = edge.id.startsWith("m:") ? edge.id.slice(2) : edge.id;
    return [...hatched(options.suspects.get(stud), d), { t: "path", d, role: "conductor" }];
  }
  const place = edge.sources[0]!.replace(/^p:/, "");
  const volts = options.volts.get(place);
  const [base, tracer] = (wire.colour ?? "GY").split("/") as [string, string | undefined];
  const suspect = options.suspects.get(wire.id);
  const words = saidOf(suspect);
  const label = edge.labels?.[0];
  return [
    ...hatched(suspect, d, 15),
    { t: "wire", d, base, tracer, potential: volts === undefined ? undefined : volts / full },
    ...(options.selected === wire.id ? [{ t: "path", d, role: "selected", width: 1.5 } as const] : []),
    ...(label?.x === undefined
      ? []
      : [
          { t: "text", x: label.x + label.width - 2, y: (label.y ?? 0) + 11, text: label.text, role: "label-mono", anchor: "end" } as const,
        ]),
    // To the right of the wire there is room: its own label stands to the left.
    ...(words === undefined || label?.x === undefined
      ? []
      : [{ t: "text", x: label.x + label.width + BESIDE_WIRE, y: (label.y ?? 0) + 11, text: words, role: "label-strong" } as const]),
  ];
}

function nodeShapes(harness: Harness, node: LayoutNode, options: SliceOptions): Shape[] {
  const x = node.x ?? 0;
  const y = node.y ?? 0;
  if (node.id.startsWith("mass:")) {
    const hatch = Array.from({ length: Math.floor((node.width - 6) / 9) }, (_, i) => `M ${x + 9 + i * 9} ${y + 1} l -7 18`).join(" ");
    return [
      { t: "path", d: `M ${x} ${y} h ${node.width} M ${x} ${y + 20} h ${node.width}`, role: "conductor" },
      { t: "path", d: hatch, role: "faint" },
      { t: "text", x: x + node.width + 6, y: y + 14, text: node.id.slice(5), role: "label" },
    ];
  }
  const post = node.id.endsWith(".+") || node.id.endsWith(".-");
  const part = harness.components.find((c) => c.id === partNameIn(node.id));
  if (part === undefined) return [];
  if (post) {
    const sign = node.id.slice(-1);
    const middle = x + SYMBOL / 2;
    const strokes = sign === "+" ? `M ${middle - 7} ${y + 13} h 14 M ${middle} ${y + 6} v 14` : `M ${middle - 7} ${y + 13} h 14`;
    return [
      { t: "path", d: `M ${middle - 14} ${y} h 28 v 26 h -28 Z`, role: "outline", filled: true },
      { t: "path", d: strokes, role: "conductor", width: 2.6 },
      { t: "text", x: x + SYMBOL + 6, y: y + 17, text: `${part.id} ${sign === "-" ? "\u2212" : "+"}`, role: "label-strong" },
    ];
  }
  if (part.kind === "device") return deviceShapes(part, node, options);
  return [...symbol(part, node, options), ...labels(part, node, options)];
}

function labels(part: Component, node: LayoutNode, options: SliceOptions): Shape[] {
  const x = node.x ?? 0;
  const y = (node.y ?? 0) + node.height / 2;
  const suspect = saidOf(options.suspects.get(node.id));
  if (part.kind === "splice")
    return [{ t: "text", x: x + 12, y: y + 4, text: [part.id, suspect].filter(Boolean).join(" "), role: "label-strong" }];
  const left = x + SYMBOL + 6;
  const words = part.kind === "connector" ? node.id : nameWords(part);
  const name: Shape = {
    t: "text",
    x: left,
    y: part.label === undefined && suspect === undefined ? y + 4 : y - 3,
    text: words,
    role: "label-strong",
  };
  const second = suspect ?? part.label;
  return second === undefined
    ? [name]
    : [name, { t: "text", x: left, y: y + 11, text: second, role: suspect === undefined ? "label-faint" : "label-strong" }];
}

function symbol(part: Component, node: LayoutNode, options: SliceOptions): Shape[] {
  const x = (node.x ?? 0) + SYMBOL / 2;
  const top = node.y ?? 0;
  const h = node.height;
  const suspect = hatched(options.suspects.get(node.id), `M ${x} ${top - 4} v ${h + 8}`, 21);
  const chosen: Shape[] =
    options.selected === node.id ? [{ t: "path", d: `M ${x - 20} ${top - 2} h 40 v ${h + 4} h -40 Z`, role: "selected" }] : [];
  const opened = options.state.opened.includes(part.id);
  const shapes = ((): Shape[] => {
    switch (part.kind) {
      case "battery":
      case "device":
        return [];
      case "splice":
        return [{ t: "circle", x: (node.x ?? 0) + 2, y: top + 2, r: 6, role: "fill", filled: true }];
      case "fuse":
        return [
          { t: "path", d: `M ${x - 7} ${top + 4} h 14 v ${h - 8} h -14 Z`, role: "outline", filled: true },
          { t: "path", d: opened ? `M ${x} ${top} v 4 M ${x} ${top + h - 4} v 4` : `M ${x} ${top} v ${h}`, role: "conductor" },
        ];
      case "switch":
        return switchShapes(part, x, top, h, options.state);
      case "connector":
        return cavityShapes(node.id.slice(part.id.length + 1), x, top, h, opened);
      case "ground":
        return [
          { t: "path", d: `M ${x} ${top} v ${h}`, role: "conductor" },
          { t: "path", d: `M ${x - 9} ${top + h / 2} l 4.5 -7.5 h 9 l 4.5 7.5 l -4.5 7.5 h -9 Z`, role: "outline", filled: true },
          { t: "circle", x, y: top + h / 2, r: 3, role: "outline", filled: true },
        ];
      case "load":
        return loadShapes(part, x, top, h);
    }
  })();
  return [...suspect, ...shapes, ...chosen];
}

/** A box with its name in the middle and its terminals where wires meet it. */
function deviceShapes(part: Extract<Component, { kind: "device" }>, node: LayoutNode, options: SliceOptions): Shape[] {
  const [x, y, w, h] = [node.x ?? 0, node.y ?? 0, node.width, DEVICE_HEIGHT];
  const box = `M ${x} ${y} h ${w} v ${h} h ${-w} Z`;
  const names: Shape[] = node.ports.map((p) => ({
    t: "text",
    x: x + p.x,
    y: p.y === 0 ? y + 13 : y + h - 5,
    text: p.id.slice(p.id.lastIndexOf(".") + 1),
    role: "label-mono",
    anchor: "middle",
  }));
  const [suspicion] = [...options.suspects]
    .flatMap(([id, s]) => (id === part.id || id.startsWith(`${part.id}.`) ? [s] : []))
    .sort((p, q) => (q.share ?? 0) - (p.share ?? 0));
  const suspect = saidOf(suspicion);
  return [
    ...hatched(suspicion, box, 9),
    { t: "path", d: box, role: "outline", filled: true },
    ...names,
    { t: "text", x: x + w / 2, y: y + (part.label === undefined ? 35 : 29), text: nameWords(part), role: "label-strong", anchor: "middle" },
    ...(part.label === undefined && suspect === undefined
      ? []
      : [
          {
            t: "text",
            x: x + w / 2,
            y: y + 43,
            text: suspect ?? part.label!,
            role: suspect === undefined ? "label-faint" : "label-strong",
            anchor: "middle",
          } as const,
        ]),
    ...(options.selected === part.id
      ? [{ t: "path", d: `M ${x - 4} ${y - 4} h ${w + 8} v ${h + 8} h ${-w - 8} Z`, role: "selected" } as const]
      : []),
  ];
}

function switchShapes(part: Extract<Component, { kind: "switch" }>, x: number, top: number, h: number, state: VehicleState): Shape[] {
  const closed =
    part.closedBy === "hand"
      ? state.on.includes(part.id)
      : part.closedBy === "accessory"
        ? state.key === "accessory" || state.key === "run"
        : part.closedBy === "run"
          ? state.key === "run" || state.key === "crank"
          : state.key === "crank";
  const tip = closed ? `${x} ${top + 7}` : `${x + 13} ${top + 9}`;
  return [
    { t: "path", d: `M ${x} ${top} v 7 M ${x} ${top + h} v -7 M ${x} ${top + h - 7} L ${tip}`, role: "conductor", width: 2.2 },
    { t: "circle", x, y: top + 7, r: 2.6, role: "fill", filled: true },
    { t: "circle", x, y: top + h - 7, r: 2.6, role: "fill", filled: true },
  ];
}

/** A cavity: a pin that goes into a cup, with its number to the left. */
function cavityShapes(number: string, x: number, top: number, h: number, opened: boolean): Shape[] {
  const gap = opened ? 5 : 0;
  const m = top + h / 2;
  return [
    { t: "path", d: `M ${x} ${top} V ${m - gap} m -4 0 h 8`, role: "conductor" },
    { t: "path", d: `M ${x - 9} ${m - 5 + gap} v 5 a 9 8 0 0 0 18 0 v -5 M ${x} ${m + 8 + gap} V ${top + h}`, role: "conductor" },
    { t: "text", x: x - 13, y: m + 4, text: number, role: "label-strong", anchor: "end" },
  ];
}

function loadShapes(part: Extract<Component, { kind: "load" }>, x: number, top: number, h: number): Shape[] {
  const m = top + h / 2;
  const stubs: Shape = { t: "path", d: `M ${x} ${top} v 5 M ${x} ${top + h} v -5`, role: "conductor" };
  const ring: Shape = { t: "circle", x, y: m, r: 15, role: "outline", filled: true };
  const box: Shape = { t: "path", d: `M ${x - 11} ${top + 5} h 22 v ${h - 10} h -22 Z`, role: "outline", filled: true };
  switch (part.sort) {
    case "motor":
      return [stubs, ring, { t: "text", x, y: m + 5, text: "M", role: "label-strong", anchor: "middle" }];
    case "lamp":
      return [stubs, ring, { t: "path", d: `M ${x - 10} ${m - 10} l 20 20 M ${x + 10} ${m - 10} l -20 20`, role: "conductor" }];
    case "heater":
      return [
        stubs,
        box,
        { t: "path", d: `M ${x - 11} ${m - 7} h 22 M ${x - 11} ${m} h 22 M ${x - 11} ${m + 7} h 22`, role: "conductor", width: 1.2 },
      ];
    case "coil":
      return [stubs, box, { t: "path", d: `M ${x - 11} ${m + 10} l 22 -20`, role: "conductor" }];
    case "load":
      return [stubs, box];
  }
}

function linkTargets(harness: Harness, graph: LayoutGraph): Shape[] {
  const links = linksOf(harness);
  return links.flatMap((link): Shape[] => {
    const hit = { kind: "link" as const, id: link.id, name: describeLink(harness, link) };
    const edge = graph.edges.find((e) => e.id === link.id);
    const label = edge?.labels?.[0];
    if (label?.x !== undefined) return [{ t: "target", x: label.x, y: (label.y ?? 0) - 6, w: label.width, h: 28, hit }];
    const node = graph.children.find((n) => n.id === link.id);
    return node === undefined ? [] : [{ t: "target", x: node.x ?? 0, y: node.y ?? 0, w: node.width, h: node.height, hit }];
  });
}
