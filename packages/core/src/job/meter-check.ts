import { z } from "zod";
import type { EventOf } from "./events.ts";
import type { ReadingView } from "./fold.ts";

/** How a reading came in: typed, from the simulated vehicle at a touch, from an instrument that is connected, or worked out from another quantity. */
export const READ_BY = ["typed", "simulated", "connected", "worked out"] as const;

const meterName = z.string().trim().min(1).max(80);
/** The instrument that a reading came from. */
export const meterData = z.strictObject({
  name: meterName,
  /** Of the leads, taken off the ohms that were shown, Ω. */
  nulledOhms: z.number().min(0).max(10).optional(),
  /** What it may be off by as it was stated, % of a reading; left out for the usual 0.5 % on volts. */
  accuracyPercent: z.number().min(0.001).max(50).optional(),
});
/** A meter's test in the job: what it showed with its leads held together, and at both battery posts. Left out is what was not tried. */
export const meterCheckData = z.strictObject({
  meter: meterName,
  /** Ω, leads together. */
  leadsOhms: z.union([z.number().min(0).max(1e9), z.literal("over")]).optional(),
  /** V, red on the positive post, black on the negative one. */
  postVolts: z.number().min(-1000).max(1000).optional(),
  nominalVolts: z.number().min(1).max(1000),
});
type MeterCheckData = EventOf<"meter-checked">["data"];

/** Leads of a meter have 0.1 to 0.3 Ω; a good deal more is a plug or a break. */
const MOST_LEADS_OHMS = 1;
/** Shares of the nominal voltage between which a battery's posts are, flat or charged. */
const POSTS = { low: 0.7, high: 1.3 } as const;

/** What is wrong with a meter by its test; empty when nothing is. */
export function meterCheckFails({ leadsOhms, postVolts, nominalVolts }: MeterCheckData): readonly string[] {
  const fails: string[] = [];
  if (leadsOhms === "over") fails.push("leads together read OL: a lead or its fuse is open");
  else if (leadsOhms !== undefined && leadsOhms > MOST_LEADS_OHMS)
    fails.push(`leads together read ${leadsOhms.toFixed(1)} Ω: a lead or its plug is bad`);
  if (postVolts !== undefined && postVolts < -1) fails.push("negative at the battery: the leads are swapped");
  else if (postVolts !== undefined && (postVolts < POSTS.low * nominalVolts || postVolts > POSTS.high * nominalVolts))
    fails.push(`${postVolts.toFixed(2)} V at the battery's posts: a lead, the meter's battery or its range`);
  return fails;
}

/** What of the test was not done. */
const leftOut = ({ leadsOhms, postVolts }: MeterCheckData): readonly string[] => [
  ...(leadsOhms === undefined ? ["leads together not tried"] : []),
  ...(postVolts === undefined ? ["not tried at the battery"] : []),
];

/** The test of a meter in words: passed, what failed, or what was left out. */
export function meterCheckWords(check: MeterCheckData | undefined): string {
  if (check === undefined) return "self-test skipped";
  const fails = meterCheckFails(check);
  if (fails.length > 0) return `self-test failed: ${fails.join("; ")}`;
  const left = leftOut(check);
  return left.length === 0 ? "self-test passed" : left.length === 2 ? "self-test skipped" : `self-test passed in part: ${left[0]}`;
}

/** Which meter a reading came from and how its test went; empty for what was typed. */
export const meterWords = ({ data, check }: Pick<ReadingView, "data" | "check">): string =>
  data.meter === undefined
    ? ""
    : [
        data.meter.name,
        meterCheckWords(check),
        ...(data.meter.nulledOhms === undefined ? [] : [`leads of ${data.meter.nulledOhms.toFixed(2)} Ω taken off`]),
        ...(data.meter.accuracyPercent === undefined ? [] : [`stated ±${data.meter.accuracyPercent} %`]),
      ].join(", ");
