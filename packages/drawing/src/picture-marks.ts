import type { PictureMark } from "@rheonom/core/job";
import { escapeXml } from "./svg.ts";

/** Colour of marks, and of the rim that keeps them readable on any picture. */
export const INK = "#ffb000";
export const RIM = "#14191d";

const round = (n: number): number => Math.round(10 * n) / 10;

/** A layer of marks as the inside of an SVG of the given size, px. `font`: family of its words. */
export function marksSvg(marks: readonly PictureMark[], width: number, height: number, font: string): string {
  const unit = Math.max(width, height) / 100;
  const shapes = marks.map((mark): ((ink: string, line: number) => string) => {
    switch (mark.kind) {
      case "arrow":
        return (ink, line) => arrow(mark, width, height, unit, ink, line);
      case "circle": {
        const [x, y, rx, ry] = [mark.at[0] * width, mark.at[1] * height, mark.radii[0] * width, mark.radii[1] * height].map(round);
        return (ink, line) =>
          `<ellipse cx="${x}" cy="${y}" rx="${rx}" ry="${ry}" fill="none" stroke="${ink}" stroke-width="${round(line)}"/>`;
      }
      case "words": {
        const [x, y] = [round(mark.at[0] * width), round(mark.at[1] * height)];
        const set = `font-family="${escapeXml(font)}" font-size="${round(WORDS_UNITS * unit)}" font-weight="bold"`;
        // The rim of letters lies behind them.
        return (ink, line) =>
          ink === RIM
            ? `<text x="${x}" y="${y}" ${set} fill="${ink}" stroke="${ink}" stroke-width="${round(line - LINE_UNITS * unit)}" stroke-linejoin="round">${escapeXml(mark.text)}</text>`
            : `<text x="${x}" y="${y}" ${set} fill="${ink}">${escapeXml(mark.text)}</text>`;
      }
    }
  });
  return [...shapes.map((s) => s(RIM, (LINE_UNITS + RIM_UNITS) * unit)), ...shapes.map((s) => s(INK, LINE_UNITS * unit))].join("");
}

/** In hundredths of the longer side: breadth of a line, of the rim around it, length of an arrow's head, size of words. */
export const LINE_UNITS = 0.6;
export const RIM_UNITS = 0.5;
export const HEAD_UNITS = 3.2;
export const WORDS_UNITS = 3.4;

function arrow(
  { from, to }: Extract<PictureMark, { kind: "arrow" }>,
  width: number,
  height: number,
  unit: number,
  ink: string,
  line: number,
): string {
  const [x1, y1, x2, y2] = [from[0] * width, from[1] * height, to[0] * width, to[1] * height] as const;
  const angle = Math.atan2(y2 - y1, x2 - x1);
  const wing = (turn: number): string =>
    `${round(x2 - HEAD_UNITS * unit * Math.cos(angle + turn))} ${round(y2 - HEAD_UNITS * unit * Math.sin(angle + turn))}`;
  return `<path d="M${round(x1)} ${round(y1)}L${round(x2)} ${round(y2)}M${wing(0.45)}L${round(x2)} ${round(y2)}L${wing(-0.45)}" fill="none" stroke="${ink}" stroke-width="${round(line)}" stroke-linecap="round" stroke-linejoin="round"/>`;
}
