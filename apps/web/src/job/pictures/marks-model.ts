import type { PictureMark } from "@rheonom/core/job";

/** The layer that is being drawn over a picture: its marks, and the one that is chosen. */
export interface Layer {
  readonly marks: readonly PictureMark[];
  readonly chosen: number | undefined;
}

export type Point = readonly [number, number];
export const MARK_TOOLS = ["arrow", "circle", "words"] as const;
export type MarkTool = (typeof MARK_TOOLS)[number];

/** Shares of width and height that a mark has when it is made without a drag, and the least that a drag must cover to count as one. */
const SIZE = 0.12;
const LEAST_DRAG = 0.02;
const bounded = (share: number): number => Math.min(1.5, Math.max(-0.5, share));
const at = ([x, y]: Point): [number, number] => [bounded(x), bounded(y)];

/** A mark from where the finger went down to where it was lifted. Undefined for words that nobody has written. */
export function drawnMark(tool: MarkTool, from: Point, to: Point, text: string): PictureMark | undefined {
  const isDrag = Math.hypot(to[0] - from[0], to[1] - from[1]) >= LEAST_DRAG;
  switch (tool) {
    case "arrow":
      // A tap points at where it is.
      return isDrag
        ? { kind: "arrow", from: at(from), to: at(to) }
        : { kind: "arrow", from: at([from[0] - SIZE, from[1] - SIZE]), to: at(from) };
    case "circle": {
      const radii: [number, number] = isDrag
        ? [Math.max(LEAST_DRAG, Math.abs(to[0] - from[0]) / 2), Math.max(LEAST_DRAG, Math.abs(to[1] - from[1]) / 2)]
        : [SIZE / 2, SIZE / 2];
      return { kind: "circle", at: at(isDrag ? [(from[0] + to[0]) / 2, (from[1] + to[1]) / 2] : from), radii };
    }
    case "words":
      return text.trim() === "" ? undefined : { kind: "words", at: at(from), text: text.trim().slice(0, 120) };
  }
}

export const withMark = ({ marks }: Layer, mark: PictureMark): Layer => ({ marks: [...marks, mark], chosen: marks.length });

export const withoutChosen = ({ marks, chosen }: Layer): Layer => ({ marks: marks.filter((_, i) => i !== chosen), chosen: undefined });

/** Moves the chosen mark by shares of width and height. */
export function moved({ marks, chosen }: Layer, dx: number, dy: number): Layer {
  const by = ([x, y]: Point): [number, number] => at([x + dx, y + dy]);
  return {
    chosen,
    marks: marks.map((m, i) => {
      if (i !== chosen) return m;
      return m.kind === "arrow" ? { ...m, from: by(m.from), to: by(m.to) } : { ...m, at: by(m.at) };
    }),
  };
}

/** Makes the chosen mark larger or smaller; words have one size. An arrow keeps its point. */
export function scaled({ marks, chosen }: Layer, factor: number): Layer {
  return {
    chosen,
    marks: marks.map((m, i): PictureMark => {
      if (i !== chosen) return m;
      if (m.kind === "circle") return { ...m, radii: [radius(m.radii[0] * factor), radius(m.radii[1] * factor)] };
      if (m.kind === "arrow")
        return { ...m, from: at([m.to[0] + (m.from[0] - m.to[0]) * factor, m.to[1] + (m.from[1] - m.to[1]) * factor]) };
      return m;
    }),
  };
}
const radius = (share: number): number => Math.min(1, Math.max(0.005, share));
