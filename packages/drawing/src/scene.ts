/**
 * A drawing as data: plain shapes with a role each. Lengths in px at 100 %, y downwards. Web draws it with live colours
 * and targets; print.ts writes it as SVG text.
 */
export type Role =
  | "conductor"
  | "outline"
  | "fill"
  | "faint"
  | "grid"
  | "sound"
  | "measured"
  | "explained"
  | "suspect"
  | "label"
  | "label-strong"
  | "label-mono"
  | "label-value"
  | "label-faint"
  | "lead-red"
  | "lead-black"
  | "lead-text"
  | "selected";

/** What a shape stands for, so that it can be picked. */
export type Hit =
  | { readonly kind: "place"; readonly id: string; readonly name: string }
  | { readonly kind: "link"; readonly id: string; readonly name: string }
  | { readonly kind: "zone"; readonly id: string; readonly name: string };

export type Shape =
  | {
      readonly t: "path";
      readonly d: string;
      readonly role: Role;
      readonly width?: number;
      readonly dash?: string;
      readonly filled?: boolean;
    }
  | {
      readonly t: "text";
      readonly x: number;
      readonly y: number;
      readonly text: string;
      readonly role: Role;
      readonly anchor?: "start" | "middle" | "end";
      readonly rotate?: number;
    }
  | { readonly t: "circle"; readonly x: number; readonly y: number; readonly r: number; readonly role: Role; readonly filled?: boolean }
  /** A wire in its own colours: base and tracer letters, and the share of the source's potential it carries, 0…1. */
  | {
      readonly t: "wire";
      readonly d: string;
      readonly base: string;
      readonly tracer: string | undefined;
      readonly potential: number | undefined;
    }
  /** An area to pick; drawn only when selected or focused. */
  | { readonly t: "target"; readonly x: number; readonly y: number; readonly w: number; readonly h: number; readonly hit: Hit };

export interface Scene {
  /** Where the drawing begins to the left, px; 0 when left out. Labels may reach beyond what was laid out. */
  readonly left?: number;
  readonly width: number;
  readonly height: number;
  readonly shapes: readonly Shape[];
  /** What the drawing shows, for those who cannot see it. */
  readonly title: string;
}

/** sRGB of wire colour letters, for drawing only. */
export const WIRE_RGB: Readonly<Record<string, string>> = {
  BK: "#1b1b1b",
  BN: "#7a4a21",
  RD: "#cf2a27",
  OG: "#ea7d1c",
  YE: "#f2cf1d",
  GN: "#2e8b3d",
  BU: "#2a5fc4",
  VT: "#7d3fa6",
  GY: "#8d9296",
  WH: "#f7f7f4",
  PK: "#ee8fae",
  TQ: "#29b3b0",
};

/** Even, colour-blind-safe steps from 0 (dark blue) to 1 (pale yellow). */
const POTENTIAL_STOPS: readonly (readonly [number, number, number])[] = [
  [24, 44, 100],
  [58, 76, 122],
  [98, 108, 128],
  [140, 140, 122],
  [186, 174, 104],
  [236, 212, 76],
];

/** Colour of a potential given as its share of the source, 0…1. */
export function potentialRgb(share: number): string {
  const at = Math.min(1, Math.max(0, share)) * (POTENTIAL_STOPS.length - 1);
  const low = Math.min(POTENTIAL_STOPS.length - 2, Math.floor(at));
  const mix = POTENTIAL_STOPS[low]!.map((v, i) => Math.round(v + (POTENTIAL_STOPS[low + 1]![i]! - v) * (at - low)));
  return `rgb(${mix.join(" ")})`;
}
