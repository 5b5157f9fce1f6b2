import type { Step, Stretch, PathJudgement } from "@rheonom/core/diagnosis";
import { describeLink, describePlace, type Harness } from "@rheonom/core/harness";
import { formatVolts } from "@rheonom/core/quantity";
import type { Scene, Shape } from "./scene.ts";

export interface StaircaseOptions {
  /** Room to fill, px. The drawing grows wider when the steps need it. */
  readonly width: number;
  readonly height: number;
  /** "ends": the first and last volts stretched, where small drops live; "even": one scale throughout. */
  readonly scale: "ends" | "even";
  readonly selected: string | undefined;
}

const LEFT = 58;
const RIGHT = 18;
const TOP = 22;
const BOTTOM = 46;
const MIN_SLOT = 46;
/** Room in which two names of usual length stand side by side, px. */
const ROOMY_SLOT = 62;
/** Share of the height that each stretched end takes, and how many volts it shows (of 12). */
const END_SHARE = 0.38;
const END_VOLTS = 2;

/** Height of a potential: a plain line, or both ends stretched. */
function createScale(options: StaircaseOptions, top: number): (volts: number) => number {
  const low = TOP;
  const room = options.height - TOP - BOTTOM;
  const end = Math.min(END_VOLTS * Math.max(1, Math.round(top / 12)), top / 3);
  return (v) => {
    const share = ((): number => {
      if (options.scale === "even") return v / top;
      if (v <= end) return (v / end) * END_SHARE;
      if (v >= top - end) return 1 - ((top - v) / end) * END_SHARE;
      return END_SHARE + ((v - end) / (top - 2 * end)) * (1 - 2 * END_SHARE);
    })();
    return low + room * (1 - share);
  };
}

/** Height of a number at the axis, px. */
const LABEL_ROOM = 13;

function ticksOf(options: StaircaseOptions, top: number): number[] {
  if (options.scale === "even") return Array.from({ length: Math.floor(top / (top > 16 ? 4 : 2)) + 1 }, (_, i) => i * (top > 16 ? 4 : 2));
  const end = Math.min(END_VOLTS * Math.max(1, Math.round(top / 12)), top / 3);
  const step = end / 4;
  const lower = [0, 1, 2, 3, 4].map((i) => i * step);
  const crown = Math.floor(top / step) * step;
  const upper = [0, 1, 2, 3, 4].map((i) => crown - i * step).filter((v) => v > top - end - 1e-9);
  return [...lower, ...upper.reverse()];
}

/**
 * The signature picture: the path from battery positive to negative laid out left to right, potential as height; the sound
 * line, the measured points, and the step that is too tall with its drop.
 */
export function drawStaircase(harness: Harness, trace: PathJudgement, options: StaircaseOptions): Scene {
  const { staircase, measuredVolts, explainedVolts } = trace;
  const count = staircase.steps.length;
  const slot = Math.max(MIN_SLOT, (options.width - LEFT - RIGHT) / (count + 1));
  const width = LEFT + RIGHT + slot * (count + 1);
  const known = [...staircase.soundVolts, ...measuredVolts].filter((v) => v !== undefined);
  const top = Math.max(1, ...known) * 1.03;
  const y = createScale(options, top);
  const x = (place: number): number => LEFT + slot * (place + 0.5);
  const shapes: Shape[] = [];

  let lastLabel = Infinity;
  for (const tick of ticksOf(options, top)) {
    // Where the picture is low some lines go without their number, none of them with half of one.
    if (lastLabel - y(tick) < LABEL_ROOM) continue;
    lastLabel = y(tick);
    shapes.push({ t: "path", d: `M ${LEFT} ${y(tick).toFixed(1)} H ${(width - RIGHT).toFixed(1)}`, role: "grid" });
    const text = Number.isInteger(tick) ? String(tick) : tick.toFixed(1);
    shapes.push({ t: "text", x: LEFT - 8, y: y(tick) + 4, text, role: "label-faint", anchor: "end" });
  }
  shapes.push({ t: "text", x: LEFT - 8, y: TOP - 9, text: "V", role: "label-faint", anchor: "end" });
  if (options.scale === "ends") {
    const middle = y(top / 2);
    shapes.push({ t: "path", d: `M ${LEFT - 6} ${middle + 4} l 5 -4 l -5 -4`, role: "faint" });
  }

  const load = staircase.steps.findIndex((s) => s.side === "load");
  shapes.push(sideLabel("feed side", x(0), options.height - 6), sideLabel("ground side", x(load + 1), options.height - 6));
  for (const stretch of trace.stretches) if (stretch.verdict === "suspect") shapes.push(...tallStep(stretch, x, y, slot, trace));
  shapes.push(...treads(staircase.soundVolts, x, y, slot, "sound"));
  if (explainedVolts !== undefined) shapes.push(...treads(explainedVolts, x, y, slot, "explained"));
  shapes.push(...floatingDrops(trace, x, y));
  measuredVolts.forEach((v, i) => {
    if (v === undefined) return;
    const given = i === staircase.places.length - 1;
    shapes.push({ t: "circle", x: x(i), y: y(v), r: given ? 4 : 6, role: "measured", filled: true });
    if (!given) shapes.push({ t: "text", x: x(i), y: y(v) - 11, text: formatVolts(v), role: "label-value", anchor: "middle" });
  });
  staircase.steps.forEach((step, i) => shapes.push(...slotShapes(harness, step, i, x, slot, options)));
  staircase.places.forEach((place, i) => {
    if (place === options.selected) shapes.push({ t: "path", d: `M ${x(i)} ${TOP} V ${options.height - BOTTOM}`, role: "selected" });
    shapes.push({
      t: "target",
      x: x(i) - 14,
      y: TOP,
      w: 28,
      h: options.height - TOP - BOTTOM,
      hit: { kind: "place", id: place, name: describePlace(harness, place) },
    });
  });
  return { width, height: options.height, shapes, title: titleOf(trace) };
}

const sideLabel = (text: string, x: number, y: number): Shape => ({ t: "text", x: x - 14, y, text, role: "label-faint" });

function titleOf(trace: PathJudgement): string {
  const suspects = trace.stretches.filter((s) => s.verdict === "suspect");
  const said = suspects.map((s) => `${formatVolts(s.dropVolts)} drop between ${s.fromPlace} and ${s.toPlace}`).join("; ");
  return `Staircase of ${trace.staircase.loadId}, ${trace.staircase.steps.length} steps from battery positive to negative. ${said === "" ? "No step is over its limit" : said}.`;
}

/** Flat treads at each place with a riser in the middle of each step. */
function treads(
  volts: readonly (number | undefined)[],
  x: (i: number) => number,
  y: (v: number) => number,
  slot: number,
  role: "sound" | "explained",
): Shape[] {
  const shapes: Shape[] = [];
  let d = "";
  volts.forEach((v, i) => {
    if (v === undefined) {
      d = "";
      return;
    }
    const left = x(i) - slot / 2;
    const here = `${left.toFixed(1)} ${y(v).toFixed(1)} H ${(left + slot).toFixed(1)}`;
    d += d === "" ? `M ${here}` : ` L ${here}`;
    if (i === volts.length - 1 || volts[i + 1] === undefined) shapes.push({ t: "path", d, role });
  });
  return shapes;
}

function tallStep(stretch: Stretch, x: (i: number) => number, y: (v: number) => number, slot: number, trace: PathJudgement): Shape[] {
  const first = Math.min(...stretch.steps);
  const last = Math.max(...stretch.steps) + 1;
  const from = trace.measuredVolts[first];
  const high = from ?? trace.staircase.soundVolts[first] ?? 0;
  const left = x(first) + slot * 0.5;
  const right = x(last) - slot * 0.5;
  const middle = (left + right) / 2;
  const upper = y(high);
  const lower = y(Math.max(0, high - stretch.dropVolts));
  const labelY = lower - upper > 40 ? (upper + lower) / 2 + 4 : lower + 18;
  const wide = Math.max(14, right - left);
  return [
    { t: "path", d: `M ${middle.toFixed(1)} ${upper.toFixed(1)} V ${lower.toFixed(1)}`, role: "suspect", width: wide },
    // Left of one step there is room below its tread; a wider stretch has room to its right.
    last - first === 1
      ? { t: "text", x: middle - wide / 2 - 6, y: labelY, text: formatVolts(stretch.dropVolts), role: "label-strong", anchor: "end" }
      : { t: "text", x: middle + wide / 2 + 7, y: labelY, text: formatVolts(stretch.dropVolts), role: "label-strong" },
  ];
}

/** Drops measured with both leads on the path whose height is not known: brackets that hang from the sound line. */
function floatingDrops(trace: PathJudgement, x: (i: number) => number, y: (v: number) => number): Shape[] {
  return trace.stretches.flatMap((s): Shape[] => {
    const first = Math.min(...s.steps);
    if (trace.measuredVolts[first] !== undefined || s.verdict === "suspect" || s.limitVolts === undefined) return [];
    const top = trace.staircase.soundVolts[first];
    if (top === undefined) return [];
    const last = Math.max(...s.steps) + 1;
    const low = y(Math.max(0, top - s.dropVolts));
    return [
      { t: "path", d: `M ${x(first)} ${y(top)} V ${low} H ${x(last)}`, role: "measured" },
      { t: "text", x: x(last), y: low + 15, text: formatVolts(s.dropVolts), role: "label-value", anchor: "middle" },
    ];
  });
}

function slotShapes(harness: Harness, step: Step, i: number, x: (i: number) => number, slot: number, options: StaircaseOptions): Shape[] {
  const middle = x(i) + slot / 2;
  // Where names are wider than their steps every second one stands a line lower.
  const y = options.height - BOTTOM + (slot < ROOMY_SLOT && i % 2 === 1 ? 28 : 16);
  const chosen = options.selected === step.link.id;
  const text = step.link.kind === "joint" ? "joint" : shortened(step.link.id);
  return [
    ...(chosen ? [{ t: "path", d: `M ${middle - slot / 2} ${y + 6} h ${slot}`, role: "selected" } as const] : []),
    { t: "text", x: middle, y, text, role: step.side === "load" ? "label-strong" : "label-mono", anchor: "middle" },
    {
      t: "target",
      x: middle - slot / 2,
      y: options.height - BOTTOM,
      w: slot,
      h: 28,
      hit: { kind: "link", id: step.link.id, name: describeLink(harness, step.link) },
    },
  ];
}

/** Room under one step. */
const LABEL_LETTERS = 12;

/** "STA.hold winding" becomes "STA hold wi…". */
const shortened = (id: string): string => {
  const words = id.includes(" ") || id.length > LABEL_LETTERS ? id.replace(".", " ") : id;
  return words.length > LABEL_LETTERS ? `${words.slice(0, LABEL_LETTERS - 1)}…` : words;
};
