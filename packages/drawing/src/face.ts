import { besideCavity, type Face, type FaceCavity } from "@rheonom/core/harness";
import type { Scene, Shape } from "./scene.ts";

export interface FaceOptions {
  /** Potential by place, V. */
  readonly volts: ReadonlyMap<string, number | undefined>;
  readonly selected: string | undefined;
}

const CELL_W = 120;
const CELL_H = 92;
const MARGIN = 18;
const HEAD = 26;

/** The cavity beside it whose potential is farthest away: what a bridge of water or a bent pin does most harm with. */
export function worstBeside(
  face: Face,
  cavity: FaceCavity,
  volts: FaceOptions["volts"],
): { readonly number: string; readonly apartVolts: number } | undefined {
  const own = volts.get(cavity.place);
  if (!cavity.used || own === undefined) return undefined;
  let worst: { number: string; apartVolts: number } | undefined;
  for (const other of besideCavity(face, cavity.number)) {
    const there = volts.get(other.place);
    if (!other.used || there === undefined) continue;
    const apartVolts = Math.abs(there - own);
    if (apartVolts > 1 && (worst === undefined || apartVolts > worst.apartVolts)) worst = { number: other.number, apartVolts };
  }
  return worst;
}

const SMALL_W = 34;
const SMALL_H = 30;
const SMALL_MARGIN = 10;
/** Cavities in a row of the small picture at most; of a wider plug the stretch around the lit one is drawn. */
const SMALL_ROW = 9;

/** The face small, with one cavity lit and the colours of its wires: where the lead goes, at a glance. */
export function drawSmallFace(face: Face, lit: string): Scene {
  const columns = Math.max(...face.rows.map((r) => r.length));
  const at = Math.max(0, ...face.rows.map((row) => row.findIndex((c) => c.number === lit)));
  const from = columns <= SMALL_ROW ? 0 : Math.max(0, Math.min(columns - SMALL_ROW, at - Math.floor(SMALL_ROW / 2)));
  const shown = face.rows.map((row) => row.slice(from, from + SMALL_ROW));
  const wide = Math.min(columns, SMALL_ROW) * SMALL_W;
  const high = face.rows.length * SMALL_H;
  const [x0, y0] = [SMALL_MARGIN, SMALL_MARGIN + 4];
  const shapes: Shape[] = [
    { t: "path", d: `M ${x0 - 4} ${y0 - 4} h ${wide + 8} v ${high + 8} h ${-(wide + 8)} z`, role: "outline" },
    // The key above the first row, so that the picture has an up.
    { t: "path", d: `M ${x0 + wide / 2 - 14} ${y0 - 4} v -5 h 28 v 5`, role: "conductor" },
  ];
  shown.forEach((row, r) =>
    row.forEach((cavity, c) => {
      const [x, y] = [x0 + c * SMALL_W, y0 + r * SMALL_H];
      const [base, tracer] = (cavity.wires[0]?.colour ?? "").split("/");
      const isLit = cavity.number === lit;
      const box = `M ${x + 2} ${y + 2} h ${SMALL_W - 4} v ${SMALL_H - 4} h ${-(SMALL_W - 4)} z`;
      shapes.push({ t: "path", d: box, role: isLit ? "selected" : "faint", ...(isLit ? { width: 3.5 } : {}) });
      shapes.push({
        t: "text",
        x: x + SMALL_W / 2,
        y: y + 14,
        text: cavity.number,
        role: isLit ? "label-strong" : "label-faint",
        anchor: "middle",
      });
      if (base !== "") shapes.push({ t: "wire", d: `M ${x + 7} ${y + 21} h ${SMALL_W - 14}`, base: base!, tracer, potential: undefined });
    }),
  );
  return {
    width: wide + 2 * SMALL_MARGIN,
    height: high + SMALL_MARGIN + 12,
    shapes,
    title: `${faceTitle(face)}: cavity ${lit}`,
  };
}

/** Title of a drawn connector face. */
export const faceTitle = (face: Face): string => `${face.connector.id}, ${face.look} of half ${face.half}`;

/** A connector's face as it is seen, cavities numbered, wires in their colours, with what each should read. */
export function drawFace(face: Face, options: FaceOptions): Scene {
  const columns = Math.max(...face.rows.map((r) => r.length));
  const width = 2 * MARGIN + columns * CELL_W;
  const height = HEAD + 2 * MARGIN + face.rows.length * CELL_H;
  const shapes: Shape[] = [
    { t: "text", x: MARGIN, y: 18, text: `Seen from the ${face.look}, half ${face.half}`, role: "label-strong" },
    {
      t: "path",
      d: `M ${MARGIN - 8} ${HEAD + MARGIN - 8} h ${columns * CELL_W + 16} v ${face.rows.length * CELL_H + 16} h ${-(columns * CELL_W + 16)} z`,
      role: "outline",
    },
    // The housing's key stands above the first row, so that the picture has an up.
    { t: "path", d: `M ${width / 2 - 26} ${HEAD + MARGIN - 8} v -9 h 52 v 9`, role: "conductor" },
  ];
  face.rows.forEach((row, r) =>
    row.forEach((cavity, c) => shapes.push(...cell(face, cavity, MARGIN + c * CELL_W, HEAD + MARGIN + r * CELL_H, options))),
  );
  return { width, height, shapes, title: faceTitle(face) };
}

function cell(face: Face, cavity: FaceCavity, x: number, y: number, options: FaceOptions): Shape[] {
  const [w, h] = [CELL_W - 8, CELL_H - 8];
  const wire = cavity.wires[0];
  const volts = options.volts.get(cavity.place);
  const worst = worstBeside(face, cavity, options.volts);
  const shapes: Shape[] = [
    { t: "path", d: `M ${x + 4} ${y + 4} h ${w} v ${h} h ${-w} z`, role: options.selected === cavity.number ? "selected" : "faint" },
    { t: "text", x: x + 12, y: y + 24, text: cavity.number, role: "label-strong" },
  ];
  if (wire === undefined) {
    shapes.push({ t: "text", x: x + 12, y: y + 50, text: cavity.used ? "other side only" : "empty", role: "label-faint" });
    return shapes;
  }
  const [base, tracer] = (wire.colour ?? "GY").split("/");
  shapes.push(
    { t: "wire", d: `M ${x + 40} ${y + 19} h ${w - 48}`, base: base!, tracer, potential: undefined },
    { t: "text", x: x + 12, y: y + 44, text: `${wire.colour ?? "no colour"}  ${wire.id}`, role: "label-mono" },
  );
  if (volts !== undefined) shapes.push({ t: "text", x: x + 12, y: y + 62, text: `${volts.toFixed(2)} V`, role: "label-value" });
  if (worst !== undefined)
    shapes.push({ t: "text", x: x + 12, y: y + 78, text: `beside ${worst.number}: ${worst.apartVolts.toFixed(1)} V`, role: "label-faint" });
  shapes.push({
    t: "target",
    x: x + 4,
    y: y + 4,
    w,
    h,
    hit: { kind: "place", id: cavity.place, name: `cavity ${cavity.number}, ${wire.colour ?? "no colour"} ${wire.id}` },
  });
  return shapes;
}
