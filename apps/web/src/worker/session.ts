import type { Harness } from "@rheonom/core/harness";
import type { Ended, SessionHost } from "./host.ts";
import { identityOf } from "./identity.ts";
import type { AnswerOf, HarnessQuery, InputOf, OtherQuery, ProgressOf, QueryName } from "./queries.ts";

/** The host as the page sees it: the same, a message away. */
export type RemoteHost = {
  readonly [K in keyof SessionHost]: (...args: Parameters<SessionHost[K]>) => Promise<Awaited<ReturnType<SessionHost[K]>>>;
};

/** A worker: its host, and its end. */
export interface Lane {
  readonly host: RemoteHost;
  readonly end: () => void;
}

/** Quick questions, and those that take seconds and may be stopped without the others losing what they know. */
export const LANES = ["quick", "thinking"] as const;
export type LaneName = (typeof LANES)[number];

/** What asks the engine shares one lane, where what was computed for one question serves the next. */
const THINKING: ReadonlySet<QueryName> = new Set<QueryName>([
  "diagnosis",
  "foresight",
  "ahead",
  "standing",
  "outcomes",
  "weighed",
  "suspectTraces",
]);
const laneOf = (name: QueryName): LaneName => (THINKING.has(name) ? "thinking" : "quick");

/** Harnesses that stay open in a worker at a time. */
const MOST_OPEN = 4;

export interface Asked<T> {
  /** Undefined when it was given up or stopped. */
  readonly answer: Promise<T | undefined>;
  readonly giveUp: () => void;
}

/** One computing session for the page: a harness is handed over once and stays open, every question goes by its number. */
export interface Session {
  readonly ask: <K extends HarnessQuery>(
    name: K,
    harness: Harness,
    input: InputOf<K>,
    onProgress?: (progress: ProgressOf<K>) => void,
  ) => Asked<AnswerOf<K>>;
  readonly askAlone: <K extends OtherQuery>(
    name: K,
    input: InputOf<K>,
    onProgress?: (progress: ProgressOf<K>) => void,
  ) => Asked<AnswerOf<K>>;
  /** Opens a harness of which somebody is about to ask, so that what can go wrong with it is listed by then. */
  readonly begin: (harness: Harness) => void;
  /** Ends what is being computed in a lane, at once; the next question begins anew. */
  readonly stop: (lane: LaneName) => void;
}

interface OpenLane {
  readonly lane: Lane;
  /** Numbers of harnesses that are open, the last used at the end. */
  readonly open: Set<number>;
  readonly stopped: Promise<undefined>;
  readonly stop: () => void;
}

/** `begin`: starts a worker; `report`: makes a callback that a worker can call. */
export function createSession(
  begin: (lane: LaneName) => Lane,
  report: (callback: (progress: unknown) => void) => (progress: unknown) => void = (callback) => callback,
): Session {
  const lanes = new Map<LaneName, OpenLane>();
  let tickets = 0;

  function laneNow(name: LaneName): OpenLane {
    const known = lanes.get(name);
    if (known !== undefined) return known;
    let stop = (): void => undefined;
    const stopped = new Promise<undefined>((resolve) => (stop = () => resolve(undefined)));
    const made: OpenLane = { lane: begin(name), open: new Set(), stopped, stop };
    lanes.set(name, made);
    return made;
  }

  /** Hands a harness over unless it is there; the one that was not used for longest goes. Messages arrive in order, so that nothing has to be waited for. */
  function openIn({ lane, open }: OpenLane, harness: Harness): number {
    const id = identityOf(harness);
    if (!open.delete(id)) void lane.host.open(id, harness);
    open.add(id);
    const [oldest] = open;
    if (open.size > MOST_OPEN && oldest !== undefined) {
      open.delete(oldest);
      void lane.host.close(oldest);
    }
    return id;
  }

  function ask(
    name: QueryName,
    harness: Harness | undefined,
    input: unknown,
    onProgress: (progress: never) => void = () => undefined,
  ): Asked<never> {
    const used = laneNow(laneOf(name));
    const ticket = ++tickets;
    let isOver = false;
    // Progress comes by a way of its own and may be overtaken by the answer.
    const whileOpen = report((progress) => {
      if (!isOver) onProgress(progress as never);
    });
    const send = async (): Promise<Ended> => {
      const id = harness === undefined ? undefined : openIn(used, harness);
      const ended = await used.lane.host.ask(ticket, name, id, input, whileOpen);
      if (ended.kind !== "not open" || id === undefined) return ended;
      used.open.delete(id);
      return send();
    };
    const value = async (): Promise<never> => {
      const ended = await send().finally(() => (isOver = true));
      return (ended.kind === "answer" ? ended.value : undefined) as never;
    };
    return {
      answer: Promise.race([value(), used.stopped]) as Promise<never>,
      giveUp: () => void used.lane.host.cancel(ticket),
    };
  }

  return {
    ask: (name, harness, input, onProgress) => ask(name, harness, input, onProgress as never),
    askAlone: (name, input, onProgress) => ask(name, undefined, input, onProgress as never),
    begin: (harness) => void openIn(laneNow("thinking"), harness),
    stop: (name) => {
      const used = lanes.get(name);
      if (used === undefined) return;
      lanes.delete(name);
      used.stop();
      used.lane.end();
    },
  };
}
