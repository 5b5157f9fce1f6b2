import type { Capture } from "@rheonom/contract/api";
import type { VehicleState } from "@rheonom/core/circuit";
import {
  batteryNegative,
  endsOfNet,
  netAt,
  parsePlace,
  partOfPlace,
  type Harness,
  type PlaceAnswer,
  type PlaceId,
} from "@rheonom/core/harness";

/** Where the leads of a channel are, as typed. */
export interface LeadPair {
  readonly red: string;
  readonly black: string;
}

/** How long is recorded, and how finely. */
const RECORDED = {
  "5 ms": { seconds: 0.005, rateHz: 1e7 },
  "50 ms": { seconds: 0.05, rateHz: 1e6 },
  "200 ms": { seconds: 0.2, rateHz: 1e6 },
  "1 s": { seconds: 1, rateHz: 1e6 },
} as const;
export type Length = keyof typeof RECORDED;
export const LENGTHS = (Object.keys(RECORDED) as Length[]).map((id) => ({ id, text: id }));

export type CaptureRead =
  { readonly kind: "ask"; readonly ask: Capture; readonly leads: readonly LeadPair[] } | { readonly kind: "wrong"; readonly why: string };

/** What is asked of the simulated vehicle; `moving`: what is moved by hand meanwhile, "" for nothing; black is the battery's negative post where nothing was typed. Probes without a red lead are left out. */
export function captureOf(harness: Harness, state: VehicleState, pairs: readonly LeadPair[], length: Length, moving = ""): CaptureRead {
  const typed = pairs.map((p, i) => ({ ...p, of: pairs.length === 1 ? "" : ` of probe ${i + 1}` })).filter((p) => p.red.trim() !== "");
  if (typed.length === 0) return { kind: "wrong", why: "Where is the red lead? Type a place, such as a cavity or a pin." };
  const leads: LeadPair[] = [];
  for (const { red, black, of } of typed) {
    const [r, b] = [parsePlace(harness, red), black.trim() === "" ? undefined : parsePlace(harness, black)];
    for (const [lead, text, read] of [
      ["red", red, r],
      ["black", black, b],
    ] as const) {
      if (read === undefined || read.kind === "place") continue;
      return { kind: "wrong", why: `The ${lead} lead${of}: ${wrongPlace(text, read)}` };
    }
    const pair = { red: placeIn(r)!, black: placeIn(b) ?? batteryNegative(harness) };
    if (pair.red === pair.black) return { kind: "wrong", why: `Both leads${of} on one point always show 0. Move one.` };
    leads.push(pair);
  }
  const probes = leads.map((at) => ({ at, probe: 10 as const }));
  const what = moving.trim();
  return { kind: "ask", ask: { state, probes, ...RECORDED[length], ...(what === "" ? {} : { moving: what }) }, leads };
}

const placeIn = (read: PlaceAnswer | undefined): PlaceId | undefined => (read?.kind === "place" ? read.place : undefined);

function wrongPlace(text: string, read: Exclude<PlaceAnswer, { kind: "place" }>): string {
  return read.kind === "ambiguous"
    ? `“${text}” could be either of ${read.choices.join(", ")}. Which side?`
    : `there is no “${text.slice(0, 20)}” in this circuit.${read.nearest.length > 0 ? ` Near it: ${read.nearest.slice(0, 4).join(", ")}.` : ""}`;
}

function endsOf(harness: Harness, place: PlaceId): readonly PlaceId[] {
  const net = netAt(harness, place);
  return net === undefined ? [] : endsOfNet(harness, net).filter((end) => partOfPlace(harness, end)?.kind === "device");
}

/** Ends of one wire that are offered beside the first. */
const MOST_ENDS = 2;

/** Pins of other parts on the wire of the probes, which have none yet: the same pulses at both ends tell what lies between. */
export function otherEndsOf(harness: Harness, pairs: readonly LeadPair[]): readonly string[] {
  const reds = pairs.flatMap(({ red }) => placeIn(red.trim() === "" ? undefined : parsePlace(harness, red)) ?? []);
  const parts = new Set(reds.flatMap((p) => partOfPlace(harness, p)?.id ?? []));
  return [...new Set(reds.flatMap((p) => endsOf(harness, p).filter((end) => !parts.has(partOfPlace(harness, end)?.id ?? ""))))].slice(
    0,
    MOST_ENDS,
  );
}
