/**
 * Draws who imports whom, from the imports themselves: docs/floors-house.svg, docs/floors-diagnosis.svg and docs/floors-web.svg. An arrow that follows from others is
 * left out. With --check it only compares and fails when a picture is out of date.
 * Run: node --import ./scripts/ts-hook.mjs scripts/draw-floors.ts
 */
import { readdirSync, readFileSync, writeFileSync } from "node:fs";
import { dirname, join, relative } from "node:path";
import type { Shape } from "@rheonom/drawing/scene";
import { sceneToSvg } from "@rheonom/drawing/svg";
import elk, { type ElkExtendedEdge, type ElkNode } from "elkjs/lib/elk.bundled.js";
import ts from "typescript";

const root = join(import.meta.dirname, "..");

interface Picture {
  readonly file: string;
  readonly title: string;
  /** Room of a source file; undefined for what is not in the picture. */
  readonly roomOf: (path: string) => string | undefined;
}

const roomBy =
  (...shapes: RegExp[]) =>
  (path: string): string | undefined =>
    shapes.map((s) => s.exec(path)?.slice(1).find(Boolean)).find(Boolean);

const PICTURES: readonly Picture[] = [
  {
    file: "docs/floors-house.svg",
    title: "Rooms of the house",
    roomOf: roomBy(/^packages\/(core\/[a-z]+)\/|^packages\/(?!core)([a-z]+)\//, /^(apps\/[a-z-]+)\//),
  },
  { file: "docs/floors-diagnosis.svg", title: "Floors of diagnosis", roomOf: roomBy(/^packages\/core\/diagnosis\/([a-z-]+)\//) },
  { file: "docs/floors-web.svg", title: "Floors of the web application", roomOf: roomBy(/^apps\/web\/([a-z]+)\//) },
];

/** Path without src/, as rooms are named: packages/core/diagnosis/trace/fit.ts. */
const bare = (path: string): string => path.replace("/src/", "/");

/** Where an import leads, by its text; undefined for packages from outside. */
function target(from: string, text: string): string | undefined {
  if (text.startsWith(".")) return bare(relative(root, join(dirname(join(root, from)), text)));
  const own = /^@rheonom\/([a-z-]+)(\/.*)?$/.exec(text);
  return own === null ? undefined : `packages/${own[1]}${own[2] ?? ""}/index.ts`;
}

const sources = ["packages", "apps"]
  .flatMap((folder) => readdirSync(join(root, folder), { recursive: true, encoding: "utf8" }).map((path) => join(folder, path)))
  .filter((path) => /^(?!.*(node_modules|dist|\.test\.|\/src\/test\/)).*\/src\/.*\.tsx?$/.test(path))
  .sort();
const imports = sources.flatMap((path) =>
  ts.preProcessFile(readFileSync(join(root, path), "utf8")).importedFiles.flatMap(({ fileName }) => {
    const to = target(path, fileName);
    return to === undefined ? [] : [{ from: bare(path), to }];
  }),
);

/** Arrows by room, sorted; those that a longer way makes are left out. */
function arrowsOf({ roomOf }: Picture): Map<string, string[]> {
  const all = new Map<string, Set<string>>();
  for (const path of sources.map(bare)) {
    const room = roomOf(path);
    if (room !== undefined && !all.has(room)) all.set(room, new Set());
  }
  for (const { from, to } of imports) {
    const [a, b] = [roomOf(from), roomOf(to)];
    if (a !== undefined && b !== undefined && a !== b) all.get(a)?.add(b);
  }
  const reaches = (from: string, to: string, seen = new Set<string>()): boolean =>
    [...(all.get(from) ?? [])].some((next) => {
      if (next === to) return true;
      if (seen.has(next)) return false;
      seen.add(next);
      return reaches(next, to, seen);
    });
  return new Map(
    [...all].sort().map(([room, to]) => [room, [...to].sort().filter((b) => ![...to].some((via) => via !== b && reaches(via, b)))]),
  );
}

const HEIGHT = 30;
const widthOf = (room: string): number => 24 + 7.4 * room.length;

async function draw(picture: Picture): Promise<string> {
  const arrows = arrowsOf(picture);
  const graph: ElkNode = {
    id: "all",
    layoutOptions: {
      "elk.algorithm": "layered",
      // Who imports stands above what is imported.
      "elk.direction": "DOWN",
      "elk.edgeRouting": "ORTHOGONAL",
      "elk.layered.spacing.nodeNodeBetweenLayers": "36",
      "elk.spacing.nodeNode": "24",
      "elk.spacing.edgeNode": "14",
      "elk.padding": "[top=20,left=20,bottom=20,right=20]",
    },
    children: [...arrows.keys()].map((id) => ({ id, width: widthOf(id), height: HEIGHT })),
    edges: [...arrows].flatMap(([a, to]) => to.map((b): ElkExtendedEdge => ({ id: `${a} > ${b}`, sources: [a], targets: [b] }))),
  };
  const laid = await new elk().layout(graph);
  const shapes: Shape[] = [];
  for (const { sections } of laid.edges ?? []) {
    for (const { startPoint, bendPoints, endPoint } of sections ?? []) {
      const points = [startPoint, ...(bendPoints ?? []), endPoint].map(({ x, y }) => `${x} ${y}`);
      const { x, y } = endPoint;
      shapes.push({ t: "path", role: "conductor", d: `M${points.join("L")}` });
      shapes.push({ t: "path", role: "fill", filled: true, d: `M${x} ${y}L${x - 4} ${y - 8}L${x + 4} ${y - 8}Z` });
    }
  }
  for (const { id, x = 0, y = 0, width = 0 } of laid.children ?? []) {
    shapes.push({ t: "path", role: "outline", filled: true, d: `M${x} ${y}h${width}v${HEIGHT}h${-width}Z` });
    shapes.push({ t: "text", role: "label-strong", x: x + width / 2, y: y + HEIGHT / 2 + 4, text: id, anchor: "middle" });
  }
  return `${sceneToSvg({ title: picture.title, width: laid.width ?? 0, height: laid.height ?? 0, shapes }, "sans-serif")}\n`;
}

const check = process.argv.includes("--check");
for (const picture of PICTURES) {
  const [path, text] = [join(root, picture.file), await draw(picture)];
  if (!check) writeFileSync(path, text);
  else if (readFileSync(path, "utf8") !== text) {
    console.error(`${picture.file} is out of date. Run: node --import ./scripts/ts-hook.mjs scripts/draw-floors.ts`);
    process.exitCode = 1;
  }
}
