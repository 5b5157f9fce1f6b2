import { gunzipSync } from "node:zlib";
import type { Content } from "pdfmake/interfaces";
import type { Report } from "@rheonom/core/job";
import { pyramidOf, readTraceFile, visibleOf, type Trace } from "@rheonom/core/waveform";
import { escapeXml } from "@rheonom/drawing/svg";
import { FONT, heading } from "./paper.ts";

/** Traces for paper by their hash; undefined where one is not in this shop. */
export type PrintedTraces = ReadonlyMap<string, Trace | undefined>;

/** Reads what is kept of the traces of a report. `read` gives the packed file of a name. */
export async function tracesForPaper({ traces }: Report, read: (hash: string) => Promise<Buffer | undefined>): Promise<PrintedTraces> {
  const made = new Map<string, Trace | undefined>();
  for (const { hash } of traces) {
    if (made.has(hash)) continue;
    const packed = await read(hash);
    const file = packed === undefined ? undefined : readTraceFile(gunzipSync(packed));
    made.set(hash, file?.kind === "read" ? file.trace : undefined);
  }
  return made;
}

/** Size of a drawing, px, and of the paper it fits, pt. */
const [WIDTH, HEIGHT, LEFT, BOTTOM] = [720, 220, 54, 20];
const FIT = 515;
const COLUMNS = 600;
/** Inks that differ in lightness too; a channel is named at its line's colour and number. */
const INKS = ["#0b5f5a", "#96400a", "#24577d", "#6b4a00", "#8f1d1b", "#12181b", "#2f6288", "#46535a"] as const;

/** Every kept trace as a drawing of all its length, so that no spike is lost. */
export function tracesSection({ traces }: Report, printed: PrintedTraces): Content[] {
  return traces.map((t, i): Content => {
    const trace = printed.get(t.hash);
    const channels = t.channels.map((c, k) => `${k + 1} ${c.name}${c.leadsWords === "" ? "" : ` (${c.leadsWords})`}`).join("; ");
    return {
      unbreakable: true,
      stack: [
        ...(i === 0 ? [heading("Traces")] : []),
        { text: t.name, bold: true },
        { text: [channels, t.stateWords, t.by].filter((w) => w !== "").join(" · "), style: "small" },
        trace === undefined
          ? { text: "(This trace is not in this shop.)" }
          : { svg: drawingOf(trace, t.channels), fit: [FIT, (FIT * HEIGHT) / WIDTH] },
        ...(t.note === "" ? [] : [{ text: t.note }]),
      ],
    };
  });
}

const round = (n: number): number => Math.round(10 * n) / 10;

function drawingOf(trace: Trace, channels: Report["traces"][number]["channels"]): string {
  const envelopes = trace.channels.map((c, k) =>
    visibleOf(pyramidOf(c.samples), 0, trace.count, Math.min(COLUMNS, trace.count)).map((v) => v * (channels[k]?.factor ?? 1)),
  );
  let [low, high] = [Infinity, -Infinity];
  for (const e of envelopes)
    for (const v of e) {
      if (v < low) low = v;
      if (v > high) high = v;
    }
  if (!(low < high)) [low, high] = [low - 1, high + 1];
  if (!Number.isFinite(low)) [low, high] = [0, 1];
  const y = (v: number): number => round(((high - v) / (high - low)) * (HEIGHT - BOTTOM - 8) + 4);
  const lines = envelopes.map((e, k) => {
    const columns = e.length / 2;
    let path = "";
    let isDown = false;
    for (let c = 0; c < columns; c++) {
      const [a, b] = [e[2 * c]!, e[2 * c + 1]!];
      if (Number.isNaN(a)) {
        isDown = false;
        continue;
      }
      const x = round(LEFT + ((c + 0.5) * (WIDTH - LEFT)) / columns);
      path += `${isDown ? "L" : "M"}${x} ${y(a)}${a === b ? "" : `L${x} ${y(b)}`}`;
      isDown = true;
    }
    return path === "" ? "" : `<path d="${path}" fill="none" stroke="${INKS[k % INKS.length]!}" stroke-width="1"/>`;
  });
  const unit = channels.every((c) => c.unit === channels[0]?.unit) ? (channels[0]?.unit ?? "") : "";
  const words = (x: number, at: number, text: string, anchor: "start" | "end"): string =>
    `<text x="${x}" y="${at}" font-family="${FONT}" font-size="11" text-anchor="${anchor}" fill="#4c565e">${escapeXml(text)}</text>`;
  const figure = (v: number): string => `${Number(v.toPrecision(4))} ${unit}`.trim();
  const seconds = (s: number): string => (Math.abs(s) < 1 ? `${Number((1000 * s).toPrecision(4))} ms` : `${Number(s.toPrecision(4))} s`);
  return `<svg xmlns="http://www.w3.org/2000/svg" width="${WIDTH}" height="${HEIGHT}" viewBox="0 0 ${WIDTH} ${HEIGHT}"><path d="M${LEFT} 2V${HEIGHT - BOTTOM}H${WIDTH}" fill="none" stroke="#9aa5ab" stroke-width="1"/>${lines.join("")}${words(LEFT - 4, 12, figure(high), "end")}${words(LEFT - 4, HEIGHT - BOTTOM, figure(low), "end")}${words(LEFT, HEIGHT - 5, seconds(trace.startS), "start")}${words(WIDTH - 2, HEIGHT - 5, seconds(trace.startS + trace.count / trace.rateHz), "end")}</svg>`;
}
