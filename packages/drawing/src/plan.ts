import { heightWords, spotWords, type Harness, type Spot, type Zone } from "@rheonom/core/harness";
import type { Scene, Shape } from "./scene.ts";

/** A lit spot: where a lead goes, or where what is selected is. */
export interface Lit {
  readonly spot: Spot;
  readonly role: "lead-red" | "lead-black" | "selected";
}

export interface PlanOptions {
  /** Width of the picture, px at 100 %. */
  readonly width: number;
  readonly lit: readonly Lit[];
  /** Zones that can be picked, with what there is in each; their names are drawn. */
  readonly zones?: readonly { readonly zone: Zone; readonly words: string }[];
  readonly picked?: string;
}

/** Width of the vehicle over its length. */
const SHAPE = 0.46;
const MARGIN = 10;
/** Room for a finger. */
const TARGET = 44;

/** Whether any zone of a circuit has a place on the plan. */
export const hasPlan = (harness: Harness): boolean => harness.zones?.some((z) => z.plan !== undefined) ?? false;

/** The vehicle from above, its front to the left and its left side below, with the spots that matter. */
export function drawPlan(harness: Harness, { width, lit, zones = [], picked }: PlanOptions): Scene {
  const long = width - 2 * MARGIN;
  const wide = Math.round(long * SHAPE);
  const height = wide + 2 * MARGIN + 16;
  const at = (s: Spot): readonly [x: number, y: number] => [
    MARGIN + Math.round((s.along / 100) * long),
    // Ahead is to the left, so that the left side is below.
    MARGIN + Math.round(((100 - s.across) / 200) * wide),
  ];
  const shapes: Shape[] = [...bodyOf(long, wide), ...namesOf(height)];
  for (const { plan = [] } of harness.zones ?? [])
    for (const s of plan) {
      const [x, y] = at(s);
      shapes.push({ t: "circle", x, y, r: 3, role: "faint" });
    }
  for (const { zone, words } of zones) {
    const isPicked = zone.id === picked;
    for (const [i, s] of (zone.plan ?? []).entries()) {
      const [x, y] = at(s);
      shapes.push({ t: "circle", x, y, r: isPicked ? 9 : 6, role: isPicked ? "selected" : "measured", filled: !isPicked });
      if (i === 0)
        shapes.push({ t: "text", x, y: y - 12, text: zone.id, role: isPicked ? "label-strong" : "label", anchor: anchorAt(x, width) });
      shapes.push({
        t: "target",
        x: x - TARGET / 2,
        y: y - TARGET / 2,
        w: TARGET,
        h: TARGET,
        hit: { kind: "zone", id: zone.id, name: `${zone.text}: ${words}` },
      });
    }
  }
  for (const { spot, role } of lit) {
    const [x, y] = at(spot);
    if (role === "selected") shapes.push({ t: "circle", x, y, r: 10, role });
    else shapes.push({ t: "circle", x, y, r: 7, role, filled: true });
    const words = heightWords(spot);
    if (words !== "")
      shapes.push({
        t: "text",
        x: x + (x > width / 2 ? -12 : 12),
        y: y + 4,
        text: words,
        role: "label",
        anchor: x > width / 2 ? "end" : "start",
      });
  }
  return { width, height, shapes, title: titleOf(lit, picked) };
}

const anchorAt = (x: number, width: number): "start" | "middle" | "end" =>
  x < width * 0.15 ? "start" : x > width * 0.85 ? "end" : "middle";

function bodyOf(long: number, wide: number): readonly Shape[] {
  const [x, y] = [MARGIN, MARGIN];
  const round = Math.round(wide * 0.24);
  const body = [
    `M ${x + round} ${y}`,
    `h ${long - round - 8} q 8 0 8 8 v ${wide - 16} q 0 8 -8 8 h ${-(long - round - 8)}`,
    `q ${-round} 0 ${-round} ${-round} v ${-(wide - 2 * round)} q 0 ${-round} ${round} ${-round} z`,
  ].join(" ");
  const glass = x + Math.round(long * 0.27);
  return [
    { t: "path", d: body, role: "conductor" },
    { t: "path", d: `M ${glass} ${y + 6} q -14 ${wide / 2 - 6} 0 ${wide - 12}`, role: "faint" },
    { t: "path", d: `M ${x} ${y + wide / 2} h ${long}`, role: "grid", dash: "3 5" },
  ];
}

const namesOf = (height: number): readonly Shape[] => [{ t: "text", x: MARGIN, y: height - 4, text: "front", role: "label-faint" }];

function titleOf(lit: readonly Lit[], picked: string | undefined): string {
  const leads = lit.map(
    ({ spot, role }) => `${role === "lead-red" ? "red lead" : role === "lead-black" ? "black lead" : "here"} ${spotWords(spot)}`,
  );
  return ["Vehicle from above", ...(picked === undefined ? [] : [`picked ${picked}`]), ...leads].join("; ");
}
