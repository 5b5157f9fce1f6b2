import type { MeterFunction } from "@rheonom/contract/instrument";
import {
  createScpiClient,
  identify,
  lineReader,
  METER_WORDS,
  readMeter,
  ScpiError,
  setFunction,
  type LineReading,
  type ScpiClient,
  type ScpiFailure,
} from "@rheonom/protocol/scpi";
import { unreachable } from "@rheonom/core/quantity";
import type { InstrumentPort, Told } from "./port.ts";

/** How a meter on a serial line speaks. */
export interface SerialForm {
  readonly baudRate: number;
  /** Empty: it is asked in SCPI. Otherwise it sends lines by itself, such as "{value} {unit}". */
  readonly pattern: string;
  /** What is sent to have it send a line; empty where it sends by itself. */
  readonly ask: string;
}

/** What is used of a port of the Web Serial API (WICG). */
export interface SerialLike {
  readonly open: (options: { readonly baudRate: number }) => Promise<void>;
  readonly close: () => Promise<void>;
  readonly readable: ReadableStream<Uint8Array> | null;
  readonly writable: WritableStream<Uint8Array> | null;
}

const MOST_BLOCK = 1_000_000;
/** How often a meter that waits to be asked is asked, ms. */
const ASK_MS = 250;
const MOST_LINE = 2000;
/** Without a line for so long nothing is shown any more, ms. */
const SILENT_MS = 3000;

/** Opens a meter on a serial line. Rejects with Error when the pattern is no good, before anything is opened, or the line cannot be; words for people are in its message. */
export async function openSerialPort(
  port: SerialLike,
  { baudRate, pattern, ask }: SerialForm,
  tell: (told: Told) => void,
): Promise<InstrumentPort> {
  const reads = pattern.trim() === "" ? undefined : lineReader(pattern, "volts");
  if (reads?.kind === "bad") throw new Error(`The pattern cannot be used: ${reads.why}.`);
  await port.open({ baudRate });
  const { readable, writable } = port;
  if (readable === null || writable === null) throw new Error("The serial line cannot be read and written.");
  const reader = readable.getReader();
  const writer = writable.getWriter();
  let isOver = false;
  const end = (message?: string): void => {
    if (isOver) return;
    isOver = true;
    stopAsking();
    void reader.cancel().catch(() => undefined);
    void writer
      .close()
      .catch(() => undefined)
      .then(() => port.close())
      .catch(() => undefined);
    if (message !== undefined) tell({ type: "lost", message });
  };
  const send = (bytes: Uint8Array): void =>
    void writer.write(bytes).catch(() => end("The serial line is gone. Is the plug in? Connect again."));
  const meter = pattern.trim() === "" ? scpiMeter(send, end, tell) : lineMeter(pattern, ask, send, tell);
  const stopAsking = meter.stop;
  void (async () => {
    for (;;) {
      const { value, done } = await reader.read();
      if (done) return end("The serial line was closed. Connect again.");
      meter.receive(value);
    }
  })().catch(() => end("The serial line is gone. Is the plug in? Connect again."));
  meter.start();
  return {
    read: meter.read,
    pause: meter.pause,
    leads: () => undefined,
    record: () => tell({ type: "failed", message: "A meter records no trace." }),
    close: () => end(),
  };
}

interface SerialMeter {
  readonly start: () => void;
  readonly receive: (bytes: Uint8Array) => void;
  readonly read: (what: MeterFunction) => void;
  readonly pause: () => void;
  readonly stop: () => void;
}

function scpiMeter(send: (bytes: Uint8Array) => void, end: (message?: string) => void, tell: (told: Told) => void): SerialMeter {
  let course = 0;
  const client: ScpiClient = createScpiClient(
    {
      send,
      close: () => undefined,
      later: (ms, then) => {
        const timer = setTimeout(then, ms);
        return () => clearTimeout(timer);
      },
    },
    MOST_BLOCK,
  );
  const fail = (error: unknown): void =>
    end(error instanceof ScpiError ? failureWords(error.failure) : "The meter cannot be read. Connect again.");
  return {
    start: () =>
      void identify(client).then(
        ({ maker, model, serial }) =>
          tell({ type: "connected", what: "meter", name: [maker, model, serial].filter(Boolean).join(" ") || "Serial meter" }),
        fail,
      ),
    receive: client.receive,
    read: (what) => {
      const mine = ++course;
      void (async () => {
        const objection = await setFunction(client, METER_WORDS, what);
        if (objection !== "") tell({ type: "says", text: objection });
        while (course === mine) {
          const said = await readMeter(client, METER_WORDS);
          if (course === mine) tell({ type: "reading", function: what, said });
        }
      })().catch(fail);
    },
    pause: () => void course++,
    stop: () => {
      course++;
      client.closed();
    },
  };
}

function failureWords(failure: ScpiFailure): string {
  switch (failure.kind) {
    case "late":
      return `The meter did not answer within ${failure.ms / 1000} s. Is its speed right, and does it speak SCPI? Connect again.`;
    case "unreadable":
      return `What the meter sends cannot be read (${failure.why}). Connect again.`;
    case "closed":
      return "The serial line was closed. Connect again.";
    default:
      return unreachable(failure);
  }
}

const FUNCTION_OF: Readonly<Record<MeterFunction, LineReading["quantity"]>> = {
  volts: "volts",
  ohms: "ohms",
  amps: "amps",
  continuity: "ohms",
};

function lineMeter(pattern: string, ask: string, send: (bytes: Uint8Array) => void, tell: (told: Told) => void): SerialMeter {
  let wanted: MeterFunction | undefined;
  let held = "";
  /** The first line may have lost its beginning, and with it a digit. */
  let isCut = true;
  let unread = 0;
  let asking: ReturnType<typeof setInterval> | undefined;
  let silent: ReturnType<typeof setTimeout> | undefined;
  const isHeard = (): void => {
    clearTimeout(silent);
    silent = setTimeout(() => wanted !== undefined && tell({ type: "reading", function: wanted, said: { kind: "none" } }), SILENT_MS);
  };
  const take = (line: string): void => {
    if (wanted === undefined || line.trim() === "") return;
    const reader = lineReader(pattern, FUNCTION_OF[wanted]);
    const read = reader.kind === "reader" ? reader.read(line) : undefined;
    if (read === undefined) {
      // One that was cut off by connecting is none; many say that the pattern is wrong.
      if (++unread === 5) tell({ type: "says", text: `lines such as “${line.slice(0, 40)}” do not fit the pattern` });
      return;
    }
    unread = 0;
    isHeard();
    const fits = read.quantity === FUNCTION_OF[wanted];
    tell({ type: "reading", function: wanted, said: fits ? read.said : { kind: "odd", text: `the meter is set to ${read.quantity}` } });
  };
  const stop = (): void => {
    clearInterval(asking);
    clearTimeout(silent);
    wanted = undefined;
  };
  return {
    start: () => tell({ type: "connected", what: "meter", name: "Serial meter" }),
    receive: (bytes) => {
      held += String.fromCharCode(...bytes);
      const lines = held.split(/[\r\n]+/);
      held = (lines.pop() ?? "").slice(-MOST_LINE);
      for (const line of lines) {
        if (!isCut) take(line);
        isCut = false;
      }
    },
    read: (what) => {
      stop();
      wanted = what;
      isHeard();
      if (ask !== "") asking = setInterval(() => send(Uint8Array.from(`${ask}\n`, (c) => c.charCodeAt(0) & 0xff)), ASK_MS);
    },
    pause: stop,
    stop,
  };
}
