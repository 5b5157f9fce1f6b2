import { promisify } from "node:util";
import { gzip } from "node:zlib";
import type { Logger } from "pino";
import type { WebSocket } from "ws";
import { writeTraceFile } from "@rheonom/core/waveform";
import {
  identify,
  METER_WORDS,
  oldestError,
  readMeter,
  recordScope,
  SCOPE_WORDS,
  setFunction,
  type MeterFunction,
} from "@rheonom/protocol/scpi";
import { toInstrument, type FromInstrument, type ToInstrument } from "@rheonom/contract/instrument";
import type { SocketRoute } from "../doors/upgrade.ts";
import { AppError } from "../errors.ts";
import { asAppError, openInstrument, type InstrumentLine } from "./instrument-line.ts";
import { problemFor, takeMessages, type Problem } from "./messages.ts";
import { checkJob, standInOf, tellFaults, type StandInParts } from "./stand-in-of.ts";
import type { StandIn } from "./stand-in-process.ts";
import type { Targets } from "./targets.ts";

export interface InstrumentParts extends StandInParts {
  readonly targets: Targets;
  readonly log: Logger;
}

const zipped = promisify(gzip);
const MOST_MESSAGE_BYTES = 100_000;
/** Shortest time from one reading to the next, ms. */
const PACE_MS = 100;
/** Readings between two looks at the instrument's own complaints. */
const LOOK_EVERY = 20;

/** The line from a browser to a meter or scope: WebSockets at /api/jobs/:id/instrument. */
export function instrumentRoute(parts: InstrumentParts): SocketRoute {
  return {
    path: /^\/api\/jobs\/([0-9a-f-]{36})\/instrument$/,
    mostBytes: MOST_MESSAGE_BYTES,
    most: 100,
    check: ([jobId = ""]) => checkJob(jobId, parts.store),
    serve: (ws, [jobId = ""]) => serve(ws, jobId, parts),
  };
}

type Connect = Extract<ToInstrument, { type: "connect" }>;

function serve(ws: WebSocket, jobId: string, parts: InstrumentParts): void {
  const say = (m: FromInstrument): void => {
    if (ws.readyState === ws.OPEN) ws.send(JSON.stringify(m));
  };
  let line: InstrumentLine | undefined;
  let asked: Connect | undefined;
  let standIn: StandIn | undefined;
  let began = 0;
  /** The leads of a simulated instrument are on their way to their places; what it shows meanwhile is of neither. */
  let moving: Promise<void> | undefined;
  let moves = 0;
  /** One for each course of readings; another one ends the last. */
  let course = 0;

  const problem = (error: unknown): Problem => problemFor(asAppError(error), parts.log, jobId, "the line to an instrument");
  const fail = (error: unknown): void => say({ type: "failed", ...problem(error) });
  const hangUp = (): void => {
    course++;
    line?.close();
    line = undefined;
  };
  /** The instrument is gone: nothing is read any more, and the page is told why. */
  const lose = (on: InstrumentLine | undefined, why: unknown): void => {
    if (line === undefined || line !== on) return;
    hangUp();
    say({ type: "disconnected", ...problem(why) });
  };
  const connected = (what: Connect["what"]): InstrumentLine => {
    if (line === undefined || asked === undefined) throw new AppError("instrument-none");
    if (asked.what !== what) throw new AppError("instrument-other", { what });
    return line;
  };

  async function connect(m: Connect): Promise<void> {
    hangUp();
    standIn = undefined;
    let at: { readonly host: string; readonly port: number };
    if (m.target.kind === "simulated") {
      standIn = await standInOf(jobId, m.what, parts);
      at = standIn;
    } else at = { host: await parts.targets.admit(m.target.host, m.target.port), port: m.target.port };
    let made: InstrumentLine | undefined = undefined;
    made = await openInstrument(at.host, at.port, (why) => lose(made, why));
    try {
      made.client.tell("*CLS");
      const identity = await identify(made.client);
      line = made;
      asked = m;
      began = Date.now();
      say({ type: "connected", what: m.what, identity, isSimulated: m.target.kind === "simulated" });
    } catch (error) {
      made.close();
      throw error;
    }
  }

  /** Reads on and on until another course begins; an instrument that is gone ends it, and nothing is made up for what did not come. */
  async function readOn(on: InstrumentLine, to: MeterFunction): Promise<void> {
    const mine = ++course;
    const words = asked?.meterWords ?? METER_WORDS;
    const goesOn = (): boolean => course === mine && ws.readyState === ws.OPEN;
    try {
      const objection = await setFunction(on.client, words, to);
      if (objection !== "") say({ type: "says", text: objection });
      for (let n = 1; goesOn(); n++) {
        const from = Date.now();
        await moving;
        const before = moves;
        const said = await readMeter(on.client, words);
        if (!goesOn()) return;
        if (before === moves) say({ type: "reading", function: to, at: Date.now() - began, said });
        if (n % LOOK_EVERY === 0) {
          const complaint = await oldestError(on.client);
          if (complaint !== undefined) say({ type: "says", text: `${complaint.code}, ${complaint.text}` });
        }
        await new Promise((done) => setTimeout(done, Math.max(0, PACE_MS - (Date.now() - from))));
      }
    } catch (error) {
      if (course === mine) lose(on, error);
    }
  }

  async function putLeads(at: StandIn, m: Extract<ToInstrument, { type: "leads" }>): Promise<void> {
    await moving;
    await tellFaults(jobId, at, parts, m.moving);
    await at.work({ do: "state", state: m.state });
    await at.work({ do: "move", ...(m.moving === undefined ? {} : { at: m.moving }) });
    for (const [i, leads] of m.leads.entries()) await at.work({ do: "leads", channel: i + 1, leads });
  }

  async function handle(m: ToInstrument): Promise<void> {
    switch (m.type) {
      case "connect":
        return connect(m);
      case "disconnect":
        return hangUp();
      case "pause":
        return void course++;
      case "read":
        return void readOn(connected("meter"), m.function);
      case "leads": {
        if (standIn === undefined) throw new AppError("stand-in-none");
        const put = putLeads(standIn, m);
        moves++;
        moving = put.catch(() => undefined);
        return put;
      }
      case "record": {
        const on = connected("scope");
        await moving;
        let recorded: Awaited<ReturnType<typeof recordScope>>;
        try {
          recorded = await recordScope(on.client, asked?.scopeWords ?? SCOPE_WORDS, m);
        } catch (error) {
          return lose(on, error);
        }
        if (recorded.kind === "odd") throw new AppError("instrument-odd", { why: recorded.why });
        const { channels, intervalS } = recorded;
        const file = writeTraceFile({
          startS: 0,
          rateHz: 1 / intervalS,
          count: channels[0]!.length,
          channels: channels.map((samples, i) => ({ name: `CH${m.channels[i]}`, unit: "V", samples })),
        });
        const packed = await zipped(file, { level: 1 });
        if (ws.readyState !== ws.OPEN) return;
        say({ type: "recorded", channels: m.channels, bytes: packed.length });
        return ws.send(packed);
      }
    }
  }
  takeMessages(ws, toInstrument, handle, fail);
  ws.on("close", hangUp);
  ws.on("error", hangUp);
}
