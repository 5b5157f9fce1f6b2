import { potentialRgb, WIRE_RGB, type Role, type Scene, type Shape } from "./scene.ts";

interface Ink {
  readonly stroke?: string;
  readonly fill?: string;
  readonly width?: number;
  readonly dash?: string;
  readonly size?: number;
  readonly bold?: boolean;
}

/** Inks for paper. */
const PAPER: Record<Role, Ink> = {
  conductor: { stroke: "#23282d", width: 1.6 },
  outline: { stroke: "#23282d", width: 1.4, fill: "#ffffff" },
  fill: { fill: "#23282d" },
  faint: { stroke: "#8a939b", width: 1, fill: "#f3f5f6" },
  grid: { stroke: "#d4d9dd", width: 1 },
  sound: { stroke: "#3d6b8f", width: 2, dash: "6 4" },
  measured: { stroke: "#10161b", width: 2, fill: "#10161b" },
  explained: { stroke: "#a2470b", width: 2 },
  suspect: { stroke: "#a2470b", width: 12, dash: "2 4", fill: "#a2470b" },
  label: { fill: "#23282d", size: 11 },
  "label-strong": { fill: "#10161b", size: 12, bold: true },
  "label-mono": { fill: "#23282d", size: 10.5 },
  "label-value": { fill: "#10161b", size: 11, bold: true },
  "label-faint": { fill: "#5b666f", size: 10 },
  "lead-red": { stroke: "#8e1d1b", width: 1, fill: "#b3261e" },
  "lead-black": { stroke: "#000000", width: 1, fill: "#1d2226" },
  "lead-text": { fill: "#ffffff", size: 11, bold: true },
  selected: { stroke: "#0b6e69", width: 2 },
};

/** Text as it stands in XML and HTML, in an element or an attribute. */
export const escapeXml = (text: string): string =>
  text.replace(/[&<>"']/g, (c) => ({ "&": "&amp;", "<": "&lt;", ">": "&gt;", '"': "&quot;", "'": "&#39;" })[c]!);

/** Writes a scene as a stand-alone SVG document on white. Names are escaped; nothing in it can run. */
export function sceneToSvg(scene: Scene, fontFamily: string): string {
  const body = scene.shapes.map((s) => shapeToSvg(s, fontFamily)).join("");
  const size = `width="${round(scene.width)}" height="${round(scene.height)}" viewBox="${round(scene.left ?? 0)} 0 ${round(scene.width)} ${round(scene.height)}"`;
  return `<svg xmlns="http://www.w3.org/2000/svg" ${size}><title>${escapeXml(scene.title)}</title>${body}</svg>`;
}

const round = (n: number): number => Math.round(n * 100) / 100;

function paint(ink: Ink, filled: boolean, width?: number, dash?: string): string {
  const line = ink.stroke === undefined ? "" : ` stroke="${ink.stroke}" stroke-width="${width ?? ink.width ?? 1}"`;
  const dashes = dash ?? ink.dash;
  return `${line}${dashes === undefined ? "" : ` stroke-dasharray="${dashes}"`} fill="${filled ? (ink.fill ?? ink.stroke ?? "none") : "none"}"`;
}

function shapeToSvg(shape: Shape, fontFamily: string): string {
  switch (shape.t) {
    case "path":
      return `<path d="${shape.d}"${paint(PAPER[shape.role], shape.filled ?? false, shape.width, shape.dash)}/>`;
    case "circle":
      return `<circle cx="${round(shape.x)}" cy="${round(shape.y)}" r="${shape.r}"${paint(PAPER[shape.role], shape.filled ?? false)}/>`;
    case "text": {
      const ink = PAPER[shape.role];
      const turn = shape.rotate === undefined ? "" : ` transform="rotate(${shape.rotate} ${round(shape.x)} ${round(shape.y)})"`;
      const look = `font-family="${fontFamily}" font-size="${ink.size ?? 11}"${ink.bold === true ? ' font-weight="bold"' : ""} fill="${ink.fill ?? "#000"}"`;
      return `<text x="${round(shape.x)}" y="${round(shape.y)}" text-anchor="${shape.anchor ?? "start"}" ${look}${turn}>${escapeXml(shape.text)}</text>`;
    }
    case "wire": {
      const edge = shape.potential === undefined ? "#9aa3aa" : potentialRgb(shape.potential);
      const line = (colour: string, width: number, dash = ""): string =>
        `<path d="${shape.d}" stroke="${colour}" stroke-width="${width}"${dash} fill="none"/>`;
      const tracer = shape.tracer === undefined ? "" : line(WIRE_RGB[shape.tracer] ?? "#888888", 2, ' stroke-dasharray="7 6"');
      return line(edge, 8) + line("#ffffff", 5.4) + line(WIRE_RGB[shape.base] ?? "#888888", 4.2) + tracer;
    }
    case "target":
      return "";
  }
}
