import { useCallback, useState, useSyncExternalStore } from "react";
import {
  toBrowser,
  type FoundVehicle,
  type LinkModule,
  type LinkTarget,
  type LiveWish,
  type StandInWork,
  type ToBrowser,
  type ToServer,
} from "@rheonom/contract/link";
import { parsedJson } from "../api/parsed-json.ts";

export type ScanMessage = Extract<ToBrowser, { type: "scanned" }>;
export type ClearMessage = Extract<ToBrowser, { type: "cleared" }>;
type Told = Extract<ToBrowser, { type: "told" }>;

export interface Progress {
  readonly total: number;
  readonly rows: readonly { readonly module: string; readonly answers: boolean; readonly codes: number }[];
}

/** Values as they come in, by index of the wish. */
export interface Live {
  readonly wishes: readonly LiveWish[];
  readonly now: readonly (number | null)[];
  readonly low: readonly number[];
  readonly high: readonly number[];
  readonly rounds: number;
  /** ms since it began. */
  readonly at: number;
}

export interface LinkState {
  readonly status: "idle" | "finding" | "choosing" | "connecting" | "connected";
  readonly vehicles: readonly FoundVehicle[];
  readonly vin: string;
  /** What went wrong last; empty when nothing did. */
  readonly trouble: string;
  readonly progress: Progress | undefined;
  readonly told: Told | undefined;
  readonly live: Live | undefined;
  /** Outputs that are worked, by identifier, and what was said to the last one. */
  readonly worked: ReadonlyMap<number, boolean>;
}

const START: LinkState = {
  status: "idle",
  vehicles: [],
  vin: "",
  trouble: "",
  progress: undefined,
  told: undefined,
  live: undefined,
  worked: new Map(),
};

type Action = ToBrowser | { readonly type: "sent"; readonly message: ToServer } | { readonly type: "broken"; readonly message: string };

export function reduceLink(s: LinkState, a: Action): LinkState {
  switch (a.type) {
    case "sent":
      return sent(s, a.message);
    case "broken":
    case "disconnected":
      return { ...s, status: "idle", trouble: a.message, progress: undefined, live: undefined, worked: new Map() };
    case "found":
      return {
        ...s,
        status: a.vehicles.length === 0 ? "idle" : "choosing",
        vehicles: a.vehicles,
        trouble: a.vehicles.length === 0 ? "No vehicle answers. Is the ignition on, the cable in, and the address right?" : "",
      };
    case "connected":
      return { ...s, status: "connected", vin: a.vin, trouble: "" };
    case "progress":
      return { ...s, progress: { total: a.total, rows: [...(s.progress?.rows ?? []), a] } };
    case "scanned":
      return { ...s, progress: undefined };
    case "cleared":
      return s;
    case "live":
      return s.live === undefined ? s : { ...s, live: withValues(s.live, a.at, a.values) };
    case "actuated": {
      const worked = new Map(s.worked);
      if (a.on === null) worked.delete(a.did);
      else worked.set(a.did, a.on);
      return { ...s, worked, trouble: a.why === "" ? "" : `Not worked: ${a.why}.` };
    }
    case "told":
      return { ...s, told: a };
    case "failed":
      return {
        ...s,
        status: s.status === "finding" || s.status === "connecting" ? "idle" : s.status,
        trouble: a.message,
        progress: undefined,
      };
  }
}

function sent(s: LinkState, m: ToServer): LinkState {
  switch (m.type) {
    case "find":
      return { ...START, status: "finding" };
    case "connect":
      return { ...s, status: "connecting", trouble: "" };
    case "scan":
      return { ...s, progress: { total: m.modules.length, rows: [] }, trouble: "" };
    case "live":
      return { ...s, live: { wishes: m.wishes, now: [], low: [], high: [], rounds: 0, at: 0 } };
    case "stop-live":
      return { ...s, live: undefined };
    case "cancel":
    case "clear":
    case "actuate":
      return { ...s, trouble: "" };
    case "work":
      return m.work.do === "tell" ? s : { ...s, trouble: "" };
  }
}

const withValues = (live: Live, at: number, now: readonly (number | null)[]): Live => ({
  ...live,
  at,
  now,
  rounds: live.rounds + 1,
  low: now.map((v, i) => Math.min(live.low[i] ?? Infinity, v ?? Infinity)),
  high: now.map((v, i) => Math.max(live.high[i] ?? -Infinity, v ?? -Infinity)),
});

export interface Link extends LinkState {
  readonly find: (target: LinkTarget) => void;
  readonly connect: (vin: string) => void;
  readonly scan: (modules: readonly LinkModule[], then: (m: ScanMessage) => void) => void;
  readonly cancel: () => void;
  readonly clear: (modules: readonly LinkModule[], then: (m: ClearMessage) => void) => void;
  readonly readLive: (wishes: readonly LiveWish[], hertz: number) => void;
  readonly stopLive: () => void;
  readonly actuate: (module: LinkModule, did: number, on: boolean | null) => void;
  readonly work: (work: StandInWork) => void;
}

/** A line that is kept for the screen that comes back to it. */
interface Line {
  readonly state: () => LinkState;
  readonly subscribe: (heard: () => void) => () => void;
  readonly send: (message: ToServer) => void;
  /** What is to be done with the next scan, and when codes were cleared. */
  readonly whenScanned: (then: (m: ScanMessage) => void) => void;
  readonly whenCleared: (then: (m: ClearMessage) => void) => void;
  readonly close: () => void;
}

/** How long a line is kept that no screen looks at, ms. */
const KEPT_MS = 10 * 60 * 1000;

function openLine(jobId: string): Line {
  let state = START;
  let socket: WebSocket | undefined;
  let onScanned: ((m: ScanMessage) => void) | undefined;
  let onCleared: ((m: ClearMessage) => void) | undefined;
  let waiting: ReturnType<typeof setTimeout> | undefined;
  const heard = new Set<() => void>();
  const take = (action: Action): void => {
    state = reduceLink(state, action);
    for (const tell of heard) tell();
  };
  const connected = (): WebSocket => {
    if (socket !== undefined && socket.readyState <= WebSocket.OPEN) return socket;
    const made = new WebSocket(`${location.origin.replace(/^http/, "ws")}/api/jobs/${jobId}/link`);
    socket = made;
    made.addEventListener("message", (e) => {
      const read = toBrowser.safeParse(parsedJson(String(e.data)));
      if (!read.success) return;
      take(read.data);
      if (read.data.type === "scanned") onScanned?.(read.data);
      if (read.data.type === "cleared") onCleared?.(read.data);
    });
    made.addEventListener("close", () => {
      if (socket !== made) return;
      socket = undefined;
      take({ type: "broken", message: "The line to the server is lost. What was read stays. Look for the vehicle again." });
    });
    return made;
  };
  const send = (message: ToServer): void => {
    take({ type: "sent", message });
    const text = JSON.stringify(message);
    const open = connected();
    if (open.readyState === WebSocket.OPEN) open.send(text);
    else open.addEventListener("open", () => open.send(text), { once: true });
  };
  /** What runs on the vehicle ends with the screen that shows it. */
  const letGo = (): void => {
    if (state.live !== undefined) send({ type: "stop-live" });
  };
  const close = (): void => {
    clearTimeout(waiting);
    const open = socket;
    socket = undefined;
    open?.close();
    if (lines.get(jobId) === line) lines.delete(jobId);
  };
  const line: Line = {
    state: () => state,
    subscribe: (tell) => {
      clearTimeout(waiting);
      // One person works one vehicle.
      for (const [id, other] of lines) if (id !== jobId) other.close();
      heard.add(tell);
      return () => {
        heard.delete(tell);
        if (heard.size > 0) return;
        letGo();
        // An output that is worked is let go with its line; anything else may be come back to.
        if (state.worked.size > 0 || state.status !== "connected") close();
        else waiting = setTimeout(close, KEPT_MS);
      };
    },
    send,
    whenScanned: (then) => (onScanned = then),
    whenCleared: (then) => (onCleared = then),
    close,
  };
  return line;
}

const lines = new Map<string, Line>();
function lineOf(jobId: string): Line {
  const known = lines.get(jobId) ?? openLine(jobId);
  lines.set(jobId, known);
  return known;
}

/** The line through the server to the vehicle of a job. It is opened when it is first used, and stays for a while when its screen is left. */
export function useLink(jobId: string): Link {
  const [line] = useState(() => lineOf(jobId));
  const state = useSyncExternalStore(line.subscribe, line.state);
  const { send } = line;
  const work = useCallback((what: StandInWork): void => send({ type: "work", work: what }), [send]);
  return {
    ...state,
    work,
    find: (target) => send({ type: "find", target }),
    connect: (vin) => send({ type: "connect", vin }),
    scan: (modules, then) => {
      line.whenScanned(then);
      send({ type: "scan", modules: [...modules] });
    },
    cancel: () => send({ type: "cancel" }),
    clear: (modules, then) => {
      line.whenCleared(then);
      send({ type: "clear", modules: [...modules] });
    },
    readLive: (wishes, hertz) => send({ type: "live", wishes: [...wishes], hertz }),
    stopLive: () => send({ type: "stop-live" }),
    actuate: (module, did, on) => send({ type: "actuate", module, did, on }),
  };
}
