import { useCallback, useEffect, useImperativeHandle, useRef, type KeyboardEvent, type Ref } from "react";
import {
  Chart,
  LinearScale,
  LineController,
  LineElement,
  PointElement,
  type ChartDataset,
  type ChartOptions,
  type Plugin,
  type Scale,
} from "chart.js";
import type { Remote } from "comlink";
import { styled } from "styled-components";
import type { Shown } from "@rheonom/core/waveform";
import type { BenchWorker, TraceShape } from "./bench.worker.ts";
import { cursorMoved, panned, scaled, withCursor, zoomed, type Sight } from "./scope-model.ts";
import { useMovingSight, type Drawn } from "./use-moving-sight.ts";

Chart.register(LineController, LineElement, PointElement, LinearScale);

const Frame = styled.div`
  position: relative;
  height: clamp(200px, calc(100vh - 570px), 420px);
  touch-action: none;
  border: 1px solid var(--line);
  border-radius: var(--radius);
  background: var(--field);
`;
/** Inks that differ in lightness too, for both themes; a channel is told by its number as well. */
const INKS = ["--accent", "--suspect", "--ok", "--caution", "--danger", "--ink", "--sound", "--ink-2"] as const;
export const inkOf = (channel: number): string => `var(${INKS[channel % INKS.length]})`;

/** A moment that somebody has named. */
export interface Mark {
  readonly atS: number;
  readonly text: string;
}
/** Where a good circuit rests at the place of a channel, in the channel's own unit as it is drawn. */
export interface Reference {
  readonly channel: number;
  readonly value: number;
}
export interface ChartHandle {
  /** The picture as it stands, with its channels named, as PNG. */
  readonly png: (title: string) => Promise<Blob>;
}

export interface ScopeChartProps {
  readonly ref: Ref<ChartHandle>;
  readonly shape: TraceShape;
  readonly sight: Sight;
  /** Holds the samples. */
  readonly worker: Remote<BenchWorker>;
  /** How each channel is shown. */
  readonly shown: readonly Shown[];
  readonly factors: readonly number[];
  readonly hidden: ReadonlySet<number>;
  readonly onSight: (change: (s: Sight) => Sight) => void;
  /** The cursor that a tap sets. */
  readonly cursor: "a" | "b";
  /** Each channel in a band of its own. */
  readonly isSplit: boolean;
  /** Channels that were laid over, which are drawn dashed. */
  readonly laid: ReadonlySet<number>;
  readonly marks: readonly Mark[];
  readonly references: readonly Reference[];
  /** To the next edge behind (1) or before (−1) the cursor. */
  readonly onEdge: (step: 1 | -1) => void;
}

const KEYS: Readonly<Record<string, (s: Sight, count: number, cursor: "a" | "b") => Sight>> = {
  ArrowLeft: (s, n, c) => cursorMoved(s, n, c, -1),
  ArrowRight: (s, n, c) => cursorMoved(s, n, c, 1),
  PageUp: (s, n) => panned(s, n, -0.5),
  PageDown: (s, n) => panned(s, n, 0.5),
  "+": (s, n) => zoomed(s, n, 0.5, 0.5),
  "-": (s, n) => zoomed(s, n, 2, 0.5),
  "0": (s, n) => ({ ...s, from: 0, to: n }),
};

/** Channels on one time axis, with two cursors: wheel or + and − zoom, a drag pans, a tap sets the cursor, arrow keys move it. */
export function ScopeChart({
  ref,
  shape,
  sight,
  worker,
  shown,
  factors,
  hidden,
  onSight,
  cursor,
  isSplit,
  laid,
  marks,
  references,
  onEdge,
}: ScopeChartProps) {
  const canvas = useRef<HTMLCanvasElement>(null);
  const chart = useRef<Chart | undefined>(undefined);
  const laidOut = useRef("");
  const now = useRef({ sight, shape, marks, references, isSplit, hidden, factors, laid });
  // Ahead of the drawing, which reads it.
  useEffect(
    () => void (now.current = { sight, shape, marks, references, isSplit, hidden, factors, laid }),
    [sight, shape, marks, references, isSplit, hidden, factors, laid],
  );
  const drawn = useRef<Drawn | undefined>(undefined);
  const bands = useRef<readonly Band[]>([]);
  useEffect(() => {
    const styles = getComputedStyle(document.documentElement);
    const ink = (name: string): string => styles.getPropertyValue(name).trim();
    const cursors: Plugin = {
      id: "cursors",
      // Where a column holds many samples a band is what a line through all of them would be, and drawn much faster.
      beforeDatasetDraw: (made, { index, meta }) => {
        const band = bands.current[index];
        const y = made.scales[meta.yAxisID ?? "y"];
        if (band === undefined || y === undefined || !isDense(band, y)) return true;
        drawBand(made, band, y);
        return false;
      },
      afterDatasetsDraw: ({ ctx, chartArea, scales }) => {
        const { sight: s, shape: t, marks: named, references: good, isSplit: split, hidden: unseen } = now.current;
        const labelled: { readonly y: number; readonly text: string }[] = [];
        for (const { channel, value } of good) {
          const scale = scales[split ? axisOf(channel) : "y"];
          if (unseen.has(channel) || scale === undefined) continue;
          const y = scale.getPixelForValue(value);
          if (y < scale.top || y > scale.bottom) continue;
          ctx.save();
          ctx.strokeStyle = ink(INKS[channel % INKS.length]!);
          ctx.globalAlpha = 0.7;
          ctx.setLineDash([10, 6]);
          ctx.beginPath();
          ctx.moveTo(chartArea.left, y);
          ctx.lineTo(chartArea.right, y);
          ctx.stroke();
          ctx.fillStyle = ink("--ink-2");
          ctx.font = "12px sans-serif";
          // Levels close together stand beside each other, and the same one once.
          const text = `good ${scaled(value, t.channels[channel]?.unit ?? "", 3)}`;
          const near = labelled.filter((l) => Math.abs(l.y - y) < LABEL_PX);
          if (!near.some((l) => l.text === text)) {
            ctx.fillText(text, chartArea.left + 4 + near.length * LABEL_WIDTH_PX, y - 3);
            labelled.push({ y, text });
          }
          ctx.restore();
        }
        for (const { atS, text } of named) {
          const x = scales.x!.getPixelForValue(atS);
          if (x < chartArea.left || x > chartArea.right) continue;
          ctx.save();
          ctx.fillStyle = ink("--ink");
          ctx.beginPath();
          ctx.moveTo(x - 6, chartArea.bottom);
          ctx.lineTo(x + 6, chartArea.bottom);
          ctx.lineTo(x, chartArea.bottom - 10);
          ctx.fill();
          ctx.font = "600 12px sans-serif";
          ctx.fillText(text, Math.min(x + 8, chartArea.right - ctx.measureText(text).width), chartArea.bottom - 4);
          ctx.restore();
        }
        for (const [name, at] of [
          ["A", s.a],
          ["B", s.b],
        ] as const) {
          const x = scales.x!.getPixelForValue(t.startS + at / t.rateHz);
          if (x < chartArea.left - 1 || x > chartArea.right + 1) continue;
          ctx.save();
          ctx.strokeStyle = ink("--ink");
          ctx.setLineDash(name === "A" ? [6, 3] : [2, 3]);
          ctx.beginPath();
          ctx.moveTo(x, chartArea.top);
          ctx.lineTo(x, chartArea.bottom);
          ctx.stroke();
          ctx.fillStyle = ink("--ink");
          ctx.font = "600 13px sans-serif";
          ctx.fillText(name, x + 4, chartArea.top + 13);
          ctx.restore();
        }
      },
    };
    const made = new Chart(canvas.current!, {
      type: "line",
      data: { datasets: [] },
      plugins: [cursors],
      options: {
        animation: false,
        parsing: false,
        normalized: true,
        maintainAspectRatio: false,
        events: [],
        // Channels are named by the buttons below; whatever other charts register is not drawn here.
        plugins: { legend: { display: false }, tooltip: { enabled: false } },
        scales: scalesFor(undefined, styles),
      },
    });
    chart.current = made;
    return () => made.destroy();
  }, []);
  const draw = useCallback((what: Drawn): void => {
    drawn.current = what;
    bands.current = bandsOf(what, now.current);
    if (chart.current !== undefined) redraw(chart.current, what, now.current, laidOut);
  }, []);
  const { live, move, put } = useMovingSight(worker, shape, shown, sight, onSight, draw);
  useEffect(() => {
    if (drawn.current !== undefined) draw(drawn.current);
  }, [draw, shape, factors, hidden, isSplit, laid, references]);
  // Cursors and marks lie over what is drawn.
  useEffect(() => void chart.current?.draw(), [sight.a, sight.b, marks]);
  useImperativeHandle(ref, () => ({ png: (title) => pictureOf(canvas.current!, title, shape, hidden) }));
  const drag = useRef<{ readonly x: number; readonly sight: Sight; moved: boolean } | undefined>(undefined);
  const shareAt = (clientX: number): number => {
    const area = chart.current!.chartArea;
    const box = canvas.current!.getBoundingClientRect();
    return Math.min(1, Math.max(0, (clientX - box.left - area.left) / (area.right - area.left)));
  };
  // A wheel that is listened to by the page itself would scroll it as well.
  useEffect(() => {
    const element = canvas.current!;
    const onWheel = (e: WheelEvent): void => {
      e.preventDefault();
      const around = shareAt(e.clientX);
      move((s) => zoomed(s, now.current.shape.count, e.deltaY > 0 ? 1.25 : 0.8, around));
    };
    element.addEventListener("wheel", onWheel, { passive: false });
    return () => element.removeEventListener("wheel", onWheel);
  }, [move]);
  const onKey = (e: KeyboardEvent): void => {
    if (e.key === "]" || e.key === "[") {
      e.preventDefault();
      return onEdge(e.key === "]" ? 1 : -1);
    }
    const act = KEYS[e.key === "=" ? "+" : e.key];
    if (act === undefined) return;
    e.preventDefault();
    e.stopPropagation();
    (e.key.startsWith("Arrow") ? put : move)((s) => act(s, shape.count, cursor));
  };
  return (
    <Frame
      tabIndex={0}
      role="application"
      aria-label={`Trace from ${scaled(shape.startS + sight.from / shape.rateHz, "s", 5)} to ${scaled(shape.startS + sight.to / shape.rateHz, "s", 5)}. Arrow keys move cursor ${cursor.toUpperCase()}, plus and minus zoom, 0 shows all, Page Up and Page Down pan, brackets go from edge to edge.`}
      onKeyDown={onKey}
      onPointerDown={(e) => {
        e.currentTarget.setPointerCapture(e.pointerId);
        drag.current = { x: e.clientX, sight: live(), moved: false };
      }}
      onPointerMove={(e) => {
        const d = drag.current;
        if (d === undefined) return;
        const area = chart.current!.chartArea;
        const share = (d.x - e.clientX) / (area.right - area.left);
        if (!d.moved && Math.abs(e.clientX - d.x) < 5) return;
        d.moved = true;
        move((s) => panned({ ...s, from: d.sight.from, to: d.sight.to }, shape.count, share));
      }}
      onPointerUp={(e) => {
        const d = drag.current;
        drag.current = undefined;
        if (d === undefined || d.moved) return;
        const { from, to } = live();
        const at = from + shareAt(e.clientX) * (to - 1 - from);
        put((s) => withCursor(s, shape.count, cursor, at));
      }}
    >
      <canvas ref={canvas} />
    </Frame>
  );
}

/** What the drawing is made of beside the samples. */
interface Look {
  readonly shape: TraceShape;
  readonly references: readonly Reference[];
  readonly isSplit: boolean;
  readonly hidden: ReadonlySet<number>;
  readonly factors: readonly number[];
  readonly laid: ReadonlySet<number>;
}

/** A channel of so many samples that each column spans from its least to its most, in what the axis shows. */
interface Band {
  readonly envelope: Float32Array;
  readonly factor: number;
  readonly ink: string;
  /** 0 to 1: what lies below shows through. */
  readonly opacity: number;
}
const ALONE = 1;
const BESIDE_OTHERS = 0.65;
const LAID_OVER = 0.45;
/** Share of columns that span more than so many pixels, from which on they are drawn as a band. */
const DENSE = 0.4;
const TALL_PX = 6;
const LEAST_PX = 1.5;

function isDense({ envelope, factor }: Band, y: Scale): boolean {
  const pixels = Math.abs(y.getPixelForValue(factor) - y.getPixelForValue(0));
  let tall = 0;
  for (let c = 0; c < envelope.length; c += 2) if ((envelope[c + 1]! - envelope[c]!) * pixels > TALL_PX) tall++;
  return 2 * tall > DENSE * envelope.length;
}

/** Column by column, each reaching as far as the one before, so that edges are seen. */
function drawBand({ ctx, scales, chartArea: area }: Chart, { envelope, factor, ink, opacity }: Band, y: Scale): void {
  const columns = envelope.length / 2;
  const [left, right] = [scales.x!.getPixelForValue(scales.x!.min), scales.x!.getPixelForValue(scales.x!.max)];
  const width = (right - left) / columns;
  let [topBefore, bottomBefore] = [NaN, NaN];
  ctx.save();
  ctx.beginPath();
  ctx.rect(area.left, area.top, area.right - area.left, area.bottom - area.top);
  ctx.clip();
  ctx.fillStyle = ink;
  ctx.globalAlpha = opacity;
  for (let c = 0; c < columns; c++) {
    const [p, q] = [y.getPixelForValue(envelope[2 * c]! * factor), y.getPixelForValue(envelope[2 * c + 1]! * factor)];
    const [own, ownEnd] = [Math.min(p, q), Math.max(p, q)];
    if (!Number.isNaN(own)) {
      const top = own > bottomBefore ? bottomBefore : own;
      const bottom = ownEnd < topBefore ? topBefore : ownEnd;
      const x = Math.floor(left + c * width);
      ctx.fillRect(x, top - LEAST_PX / 2, Math.max(1, Math.floor(left + (c + 1) * width) - x), bottom - top + LEAST_PX);
    }
    [topBefore, bottomBefore] = [own, ownEnd];
  }
  ctx.restore();
}

/** Draws columns that were fetched. `laidOut`: which axes stand. */
function redraw(
  made: Chart,
  { envelopes, from, to }: Drawn,
  { shape, references, isSplit, hidden, factors, laid }: Look,
  laidOut: { current: string },
): void {
  const styles = getComputedStyle(document.documentElement);
  made.data.datasets = envelopes.flatMap((envelope, c) =>
    hidden.has(c)
      ? []
      : [
          {
            ...lineOf(envelope, c, shape, { from, to }, factors[c] ?? 1, styles),
            yAxisID: isSplit ? axisOf(c) : "y",
            ...(laid.has(c) ? { borderDash: [6, 4] } : {}),
          },
        ],
  );
  const split = isSplit ? envelopes.flatMap((_, c) => (hidden.has(c) ? [] : [c])) : undefined;
  const layout = split?.join() ?? "";
  // Axes are made anew only when there are others: that takes longer than drawing.
  if (laidOut.current !== layout) made.options.scales = scalesFor(split, styles);
  laidOut.current = layout;
  // Where a good circuit rests is in sight, whatever was recorded.
  for (const [id, axis] of Object.entries(made.options.scales!)) {
    if (id === "x" || axis === undefined) continue;
    const rests = references.flatMap((r) => (!hidden.has(r.channel) && (id === "y" || id === axisOf(r.channel)) ? [r.value] : []));
    Object.assign(
      axis,
      rests.length === 0
        ? { suggestedMin: undefined, suggestedMax: undefined }
        : { suggestedMin: Math.min(...rests), suggestedMax: Math.max(...rests) },
    );
  }
  const x = made.options.scales!.x!;
  x.min = shape.startS + from / shape.rateHz;
  x.max = shape.startS + (to - 1) / shape.rateHz;
  made.update("none");
}

function bandsOf({ envelopes }: Drawn, { hidden, factors, laid, isSplit }: Look): readonly Band[] {
  const styles = getComputedStyle(document.documentElement);
  const seen = envelopes.filter((_, c) => !hidden.has(c)).length;
  const opacityOf = (c: number): number => (laid.has(c) ? LAID_OVER : isSplit || seen < 2 ? ALONE : BESIDE_OTHERS);
  return envelopes.flatMap((envelope, c) =>
    hidden.has(c)
      ? []
      : [{ envelope, factor: factors[c] ?? 1, ink: styles.getPropertyValue(INKS[c % INKS.length]!).trim(), opacity: opacityOf(c) }],
  );
}

/** How far apart labels of levels stand, and how wide one is. */
const LABEL_PX = 14;
const LABEL_WIDTH_PX = 90;

const axisOf = (channel: number): string => `y${channel}`;

/** One axis of levels for all channels, or one above the other for each. */
function scalesFor(split: readonly number[] | undefined, styles: CSSStyleDeclaration): NonNullable<ChartOptions<"line">["scales"]> {
  const ink = (name: string): string => styles.getPropertyValue(name).trim();
  const look = { ticks: { color: ink("--ink-2") }, grid: { color: ink("--line") } };
  const x = {
    type: "linear" as const,
    ticks: { color: ink("--ink-2"), maxRotation: 0, callback: (v: string | number) => scaled(Number(v), "s", 5) },
    grid: { color: ink("--line") },
  };
  if (split === undefined || split.length === 0) return { x, y: look };
  // The first stands at the top.
  return {
    x,
    ...Object.fromEntries(split.toReversed().map((c) => [axisOf(c), { ...look, stack: "channels", stackWeight: 1, offset: true }])),
  };
}

/** The drawing on its ground, with a line of names above. */
async function pictureOf(drawn: HTMLCanvasElement, title: string, shape: TraceShape, hidden: ReadonlySet<number>): Promise<Blob> {
  const styles = getComputedStyle(document.documentElement);
  const ink = (name: string): string => styles.getPropertyValue(name).trim();
  const scale = drawn.width / drawn.clientWidth;
  const head = 30 * scale;
  const made = document.createElement("canvas");
  made.width = drawn.width;
  made.height = drawn.height + head;
  const brush = made.getContext("2d");
  if (brush === null) throw new Error("this browser gives no drawing surface");
  brush.fillStyle = ink("--field");
  brush.fillRect(0, 0, made.width, made.height);
  brush.font = `600 ${14 * scale}px sans-serif`;
  let x = 10 * scale;
  const write = (text: string, colour: string): void => {
    brush.fillStyle = colour;
    brush.fillText(text, x, 20 * scale);
    x += brush.measureText(text).width + 16 * scale;
  };
  write(title, ink("--ink"));
  shape.channels.forEach((c, i) => {
    if (!hidden.has(i)) write(`${i + 1} ${c.name}`, ink(INKS[i % INKS.length]!));
  });
  brush.drawImage(drawn, 0, head);
  return new Promise((done, failed) =>
    made.toBlob((blob) => (blob === null ? failed(new Error("the picture is too large")) : done(blob)), "image/png"),
  );
}

function lineOf(
  envelope: Float32Array,
  channel: number,
  { startS, rateHz }: TraceShape,
  { from, to }: Pick<Sight, "from" | "to">,
  factor: number,
  styles: CSSStyleDeclaration,
): ChartDataset<"line", { x: number; y: number }[]> {
  const columns = envelope.length / 2;
  const points: { x: number; y: number }[] = [];
  for (let c = 0; c < columns; c++) {
    const x = startS + (from + ((c + 0.5) * (to - from)) / columns) / rateHz;
    const [low, high] = [envelope[2 * c]! * factor, envelope[2 * c + 1]! * factor];
    points.push({ x, y: low });
    if (high !== low) points.push({ x, y: high });
  }
  return {
    data: points,
    borderColor: styles.getPropertyValue(INKS[channel % INKS.length]!).trim(),
    borderWidth: 1.5,
    pointRadius: 0,
    tension: 0,
    spanGaps: false,
  };
}
