import type { VehicleState } from "@rheonom/core/circuit";
import { METER_OHMS, type Sample } from "@rheonom/core/instruments";
import type { MeterFunction, MeterSaid, SimulatedLeads } from "@rheonom/contract/instrument";
import type { InstrumentKind, InstrumentPort, Told } from "./port.ts";

/** How an instrument is reached. */
export type Via = "simulated" | "network" | "serial";

/** What the owner of an instrument states of it. */
export interface Stated {
  /** Input resistance on volts, Ω. */
  readonly inputOhms: number;
  /** By how much it may be off, % of a reading. */
  readonly accuracyPercent: number;
}

/** A usual meter, and what the simulated one is. */
export const USUAL: Stated = { inputOhms: METER_OHMS, accuracyPercent: 0.5 };

export interface InstrumentState extends Stated {
  readonly status: "none" | "connecting" | "connected";
  readonly via: Via | undefined;
  readonly name: string;
  /** What the meter is turned to. */
  readonly function: MeterFunction | undefined;
  /** What it said last; undefined since it was turned, or since its leads were put elsewhere. */
  readonly said: MeterSaid | undefined;
  /** Readings of the last seconds with the leads as they are, Infinity for over. */
  readonly samples: readonly Sample[];
  /** Its own words about itself: a low battery. Empty when it has none. */
  readonly says: string;
  /** What went wrong last; empty when nothing did. */
  readonly trouble: string;
  /** A recording is being made. */
  readonly isRecording: boolean;
}

export const NO_INSTRUMENT: InstrumentState = {
  status: "none",
  via: undefined,
  name: "",
  ...USUAL,
  function: undefined,
  said: undefined,
  samples: [],
  says: "",
  trouble: "",
  isRecording: false,
};

export type InstrumentAction =
  | (Told & { readonly atMs: number })
  | { readonly type: "connecting"; readonly via: Via; readonly stated: Stated }
  | { readonly type: "turned"; readonly to: MeterFunction | undefined }
  | { readonly type: "moved" }
  | { readonly type: "recording" }
  | { readonly type: "closed" };

/** Readings that are kept, ms. */
const KEPT_MS = 3000;

export function reduceInstrument(s: InstrumentState, a: InstrumentAction): InstrumentState {
  switch (a.type) {
    case "connecting":
      return { ...NO_INSTRUMENT, status: "connecting", via: a.via, ...a.stated };
    case "connected":
      return { ...s, status: "connected", name: a.name, trouble: "" };
    case "turned":
      return { ...s, function: a.to, said: undefined, samples: [], says: "" };
    case "moved":
      return { ...s, said: undefined, samples: [] };
    case "reading": {
      // What was measured before it was turned is not of this function.
      if (a.function !== s.function) return s;
      const value = a.said.kind === "value" ? a.said.value : a.said.kind === "over" ? Infinity : undefined;
      const recent = s.samples.filter((x) => x.atMs >= a.atMs - KEPT_MS);
      // Where it has none, what went before is no course any more.
      return { ...s, said: a.said, samples: value === undefined ? [] : [...recent, { atMs: a.atMs, value }] };
    }
    case "says":
      return { ...s, says: a.text };
    case "recording":
      return { ...s, isRecording: true, trouble: "" };
    case "recorded":
      return { ...s, isRecording: false };
    case "failed":
      return { ...s, trouble: a.message, isRecording: false, ...(s.status === "connecting" ? { status: "none" as const } : {}) };
    case "lost":
      return { ...NO_INSTRUMENT, trouble: a.message };
    case "closed":
      return NO_INSTRUMENT;
  }
}

/** The line to the meter, or to the scope, of a job; it stays when a screen is left. */
export interface InstrumentLine {
  readonly state: () => InstrumentState;
  readonly subscribe: (heard: () => void) => () => void;
  /** Opens it anew. `open` may refuse with an Error whose message is for people. */
  readonly connect: (via: Via, stated: Stated, open: (tell: (told: Told) => void) => Promise<InstrumentPort>) => void;
  /** Turns the meter and reads on; undefined rests. */
  readonly turn: (to: MeterFunction | undefined) => void;
  /** The leads were put elsewhere. A simulated instrument is told where. */
  readonly moveLeads: (leads: readonly SimulatedLeads[], state: VehicleState, moving?: string) => void;
  /** Resolves with the packed samples, or with undefined when it failed or was ended; the reason stands in the state. */
  readonly record: (channels: readonly number[], seconds: number, points: number) => Promise<ArrayBuffer | undefined>;
  readonly close: () => void;
}

function createLine(): InstrumentLine {
  let state = NO_INSTRUMENT;
  let port: InstrumentPort | undefined;
  let recorded: ((packed: ArrayBuffer | undefined) => void) | undefined;
  /** One for each connection; what comes of an earlier one is left. */
  let connection = 0;
  const heard = new Set<() => void>();
  const take = (action: InstrumentAction): void => {
    state = reduceInstrument(state, action);
    for (const tell of heard) tell();
  };
  const settle = (packed: ArrayBuffer | undefined): void => {
    recorded?.(packed);
    recorded = undefined;
  };
  const close = (): void => {
    connection++;
    settle(undefined);
    port?.close();
    port = undefined;
    take({ type: "closed" });
  };
  return {
    state: () => state,
    subscribe: (tell) => {
      heard.add(tell);
      return () => void heard.delete(tell);
    },
    connect: (via, stated, open) => {
      close();
      const mine = connection;
      take({ type: "connecting", via, stated });
      const tell = (told: Told): void => {
        if (connection !== mine) return;
        take({ ...told, atMs: Date.now() });
        if (told.type === "recorded") settle(told.packed);
        if (told.type === "failed") settle(undefined);
        if (told.type === "lost") {
          settle(undefined);
          port?.close();
          port = undefined;
        }
      };
      open(tell).then(
        (made) => {
          if (connection === mine) port = made;
          else made.close();
        },
        (error: unknown) => tell({ type: "failed", message: error instanceof Error ? error.message : "The instrument cannot be reached." }),
      );
    },
    turn: (to) => {
      if (state.status !== "connected" || to === state.function) return;
      take({ type: "turned", to });
      if (to === undefined) port?.pause();
      else port?.read(to);
    },
    moveLeads: (leads, vehicle, moving) => {
      if (state.status !== "connected") return;
      take({ type: "moved" });
      if (state.via === "simulated") port?.leads(leads, vehicle, moving);
    },
    record: (channels, seconds, points) =>
      new Promise((done) => {
        if (port === undefined || state.isRecording) return done(undefined);
        take({ type: "recording" });
        recorded = done;
        port.record(channels, seconds, points);
      }),
    close,
  };
}

const lines = new Map<string, InstrumentLine>();
/** The line of a job to its meter or its scope. One person works one vehicle: lines of other jobs are closed. */
export function instrumentOf(jobId: string, what: InstrumentKind): InstrumentLine {
  for (const [key, other] of lines)
    if (!key.startsWith(jobId)) {
      other.close();
      lines.delete(key);
    }
  const key = `${jobId} ${what}`;
  const known = lines.get(key) ?? createLine();
  lines.set(key, known);
  return known;
}
