import { createSocket } from "node:dgram";
import { connect as connectTcp, type Socket } from "node:net";
import { asciiOf } from "@rheonom/protocol/bytes";
import {
  ACTIVATION,
  activationWords,
  ANY_VERSION,
  createFramer,
  encodeDoip,
  readDatagram,
  undeliveredWords,
  type DoipMessage,
} from "@rheonom/protocol/doip";
import { decodeResponse, isPending } from "@rheonom/protocol/uds";
import type { FoundVehicle } from "@rheonom/contract/link";
import { AppError } from "../errors.ts";

/** Address of this tester. */
const TESTER = 0x0e80;
/** Largest answer that is taken, bytes. */
const MOST_BYTES = 65_536;
/** Vehicles that may answer one call; a workshop has a few. */
const MOST_FOUND = 64;
const CONNECT_MS = 2000;
const ACTIVATE_MS = 2000;

/** Asks a host which vehicles there are, and waits so long for all of them, ms. Two may answer. Rejects with AppError link-not-asked. */
export async function findVehicles(host: string, port: number, waitMs: number): Promise<readonly FoundVehicle[]> {
  const socket = createSocket("udp4");
  const found = new Map<string, FoundVehicle>();
  try {
    await new Promise<void>((done, failed) => {
      socket.on("error", (error) => failed(new AppError("link-not-asked", { host }, [], error)));
      socket.on("message", (bytes, from) => {
        const framed = readDatagram(bytes);
        if (framed.kind !== "message" || framed.message.type !== "announcement" || found.size >= MOST_FOUND) return;
        const { vin, address } = framed.message;
        found.set(asciiOf(vin), { vin: asciiOf(vin), host: from.address, port, address });
      });
      socket.bind(0, () => {
        if (host.endsWith(".255")) socket.setBroadcast(true);
        socket.send(encodeDoip({ type: "identify" }, ANY_VERSION), port, host, (error) => {
          if (error !== null) failed(new AppError("link-not-asked", { host }, [], error));
        });
      });
      setTimeout(done, waitMs);
    });
  } finally {
    socket.close();
  }
  return [...found.values()];
}

export interface AskOptions {
  /** How long the first answer may take, ms. */
  readonly timeoutMs: number;
  readonly signal?: AbortSignal | undefined;
}

/** What came back from a module. */
export type Answer =
  | { readonly kind: "answer"; readonly bytes: Uint8Array }
  /** Nothing within the time. */
  | { readonly kind: "silent" }
  /** The vehicle's gateway says why not. */
  | { readonly kind: "undelivered"; readonly why: string };

export interface DoipClient {
  /** Asks one module; one question at a time for each, several modules at once. Rejects with AppError when the connection is lost, or with the signal's reason. */
  readonly ask: (address: number, data: Uint8Array, options: AskOptions) => Promise<Answer>;
  readonly close: () => void;
  /** Told once, with the reason. */
  readonly onClose: (told: (why: AppError) => void) => void;
}

interface Waiting {
  readonly settle: (answer: Answer) => void;
  readonly fail: (error: Error) => void;
  readonly extend: () => void;
}

/** Patience after "the answer takes longer", ms (P2* of ISO 14229-2). */
const PENDING_MS = 5000;
/** Times in a row that a module may ask for patience. */
const MOST_PENDING = 20;

/** Connects and activates routing. Rejects with AppError: link-no-answer, link-late, link-not-admitted. */
export async function connectVehicle({ host, port }: Pick<FoundVehicle, "host" | "port">): Promise<DoipClient> {
  const socket = await open(host, port);
  const framer = createFramer(MOST_BYTES);
  const waiting = new Map<number, Waiting>();
  const queues = new Map<number, Promise<unknown>>();
  const closers: ((why: AppError) => void)[] = [];
  let closed: AppError | undefined;
  let activated: ((code: number) => void) | undefined;

  const shut = (why: AppError): void => {
    if (closed !== undefined) return;
    closed = why;
    socket.destroy();
    for (const w of waiting.values()) w.fail(why);
    waiting.clear();
    for (const told of closers) told(why);
  };
  socket.on("error", (error) => shut(new AppError("link-lost", {}, [], error)));
  socket.on("close", () => shut(new AppError("link-closed")));
  socket.on("data", (chunk) => {
    for (const framed of framer.push(chunk)) {
      if (framed.kind === "fault") {
        if (framed.fatal) return shut(new AppError("link-unreadable", { why: framed.why }));
        continue;
      }
      take(framed.message);
    }
  });

  function take(m: DoipMessage): void {
    if (m.type === "activated") activated?.(m.code);
    else if (m.type === "alive?") socket.write(encodeDoip({ type: "alive", source: TESTER }));
    else if (m.type === "not received") waiting.get(m.source)?.settle({ kind: "undelivered", why: undeliveredWords(m.code) });
    else if (m.type === "diagnostic" && m.target === TESTER) {
      // What nobody asked for, or comes from another address than was asked, is not an answer.
      const w = waiting.get(m.source);
      const read = decodeResponse(m.data);
      if (read.kind === "response" && isPending(read.response)) w?.extend();
      else w?.settle({ kind: "answer", bytes: m.data });
    }
  }

  async function once(address: number, data: Uint8Array, { timeoutMs, signal }: AskOptions): Promise<Answer> {
    signal?.throwIfAborted();
    if (closed !== undefined) throw closed;
    return new Promise<Answer>((done, failed) => {
      let patience = MOST_PENDING;
      const finish = (): void => {
        clearTimeout(timer);
        signal?.removeEventListener("abort", aborted);
        if (waiting.get(address) === mine) waiting.delete(address);
      };
      const late = (): void => {
        finish();
        done({ kind: "silent" });
      };
      let timer = setTimeout(late, timeoutMs);
      const mine: Waiting = {
        settle: (answer) => {
          finish();
          done(answer);
        },
        fail: (error) => {
          finish();
          failed(error);
        },
        extend: () => {
          if (patience-- <= 0) return;
          clearTimeout(timer);
          timer = setTimeout(late, PENDING_MS);
        },
      };
      const aborted = (): void => mine.fail(signal!.reason instanceof Error ? signal!.reason : new Error("cancelled"));
      signal?.addEventListener("abort", aborted);
      waiting.set(address, mine);
      socket.write(encodeDoip({ type: "diagnostic", source: TESTER, target: address, data }));
    });
  }

  const code = await new Promise<number>((done, failed) => {
    const timer = setTimeout(() => failed(new AppError("link-late")), ACTIVATE_MS);
    activated = (c) => {
      clearTimeout(timer);
      done(c);
    };
    closers.push((why) => {
      clearTimeout(timer);
      failed(why);
    });
    socket.write(encodeDoip({ type: "activate", source: TESTER, activation: 0 }));
  });
  if (code !== ACTIVATION.done) {
    const refused = new AppError("link-not-admitted", { why: activationWords(code) });
    shut(refused);
    throw refused;
  }

  return {
    ask: (address, data, options) => {
      const before = queues.get(address) ?? Promise.resolve();
      const mine = before.then(
        () => once(address, data, options),
        () => once(address, data, options),
      );
      queues.set(
        address,
        mine.catch(() => undefined),
      );
      return mine;
    },
    close: () => shut(new AppError("link-hung-up")),
    onClose: (told) => void closers.push(told),
  };
}

async function open(host: string, port: number): Promise<Socket> {
  return new Promise((done, failed) => {
    const socket = connectTcp({ host, port, noDelay: true });
    const timer = setTimeout(() => {
      socket.destroy();
      failed(new AppError("link-no-answer", { host, port: String(port) }));
    }, CONNECT_MS);
    socket.once("connect", () => {
      clearTimeout(timer);
      socket.removeAllListeners("error");
      done(socket);
    });
    socket.once("error", (error) => {
      clearTimeout(timer);
      failed(new AppError("link-no-answer", { host, port: String(port) }, [], error));
    });
  });
}
