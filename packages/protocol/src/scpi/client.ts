import { fromLatin1 } from "../bytes/index.ts";
import { createScpiFramer, type ScpiAnswer } from "./framer.ts";

/** Why a question was not answered. After it the line is closed: a late answer would be taken for that of the next question. */
export type ScpiFailure =
  | { readonly kind: "late"; readonly ms: number }
  | { readonly kind: "unreadable"; readonly why: string }
  /** The other end went away, or this one. */
  | { readonly kind: "closed" };

/**
 *
 */
export class ScpiError extends Error {
  readonly failure: ScpiFailure;
  constructor(failure: ScpiFailure) {
    super(failure.kind);
    this.failure = failure;
  }
}

/** What carries the bytes, and the clock. */
export interface ScpiLine {
  readonly send: (bytes: Uint8Array) => void;
  readonly close: () => void;
  /** Calls once, later; gives what calls it off. */
  readonly later: (ms: number, then: () => void) => () => void;
}

export interface ScpiClient {
  /** One question, one answer; questions wait for each other. Rejects with ScpiError. */
  readonly ask: (message: string, timeoutMs?: number) => Promise<Exclude<ScpiAnswer, { kind: "fault" }>>;
  /** A message without an answer. */
  readonly tell: (message: string) => void;
  readonly receive: (chunk: Uint8Array) => void;
  /** To be called when the line is gone. */
  readonly closed: () => void;
  readonly isOpen: () => boolean;
}

/** How long an answer may take when nothing else is said, ms. */
const TIMEOUT_MS = 3000;

/** The asking end of a line to an instrument. An answer that comes in pieces has its time anew with each of them, but never more than ten times in all. */
export function createScpiClient(line: ScpiLine, mostBytes: number): ScpiClient {
  const framer = createScpiFramer(mostBytes);
  let waiting:
    | {
        readonly done: (a: Exclude<ScpiAnswer, { kind: "fault" }>) => void;
        readonly failed: (f: ScpiFailure) => void;
        readonly more: () => void;
      }
    | undefined;
  let before: Promise<unknown> = Promise.resolve();
  /** Why the line is closed; whoever asks later is told so too. */
  let over: ScpiFailure | undefined;
  const end = (failure: ScpiFailure): void => {
    if (over !== undefined) return;
    over = failure;
    waiting?.failed(failure);
    waiting = undefined;
    line.close();
  };
  const send = (message: string): void => line.send(fromLatin1(`${message}\n`));

  const once = (message: string, ms: number): Promise<Exclude<ScpiAnswer, { kind: "fault" }>> =>
    new Promise((done, failed) => {
      if (over !== undefined) return failed(new ScpiError(over));
      let patience = 10;
      const late = (): void => end({ kind: "late", ms });
      let cancel = line.later(ms, late);
      waiting = {
        done: (answer) => {
          cancel();
          done(answer);
        },
        failed: (failure) => {
          cancel();
          failed(new ScpiError(failure));
        },
        more: () => {
          if (patience-- <= 0) return;
          cancel();
          cancel = line.later(ms, late);
        },
      };
      send(message);
    });

  return {
    isOpen: () => over === undefined,
    tell: (message) => {
      if (over === undefined) send(message);
    },
    ask: (message, timeoutMs = TIMEOUT_MS) => {
      const mine = before.then(() => once(message, timeoutMs));
      before = mine.catch(() => undefined);
      return mine;
    },
    receive: (chunk) => {
      if (over !== undefined) return;
      const answers = framer.push(chunk);
      if (answers.length === 0) waiting?.more();
      for (const answer of answers) {
        if (answer.kind === "fault")
          return end({ kind: "unreadable", why: `${answer.why}${answer.bytes > 0 ? `, ${answer.bytes} bytes` : ""}` });
        const asked = waiting;
        waiting = undefined;
        // What nobody asked for means that question and answer no longer belong together.
        if (asked === undefined) return end({ kind: "unreadable", why: "an answer to no question" });
        asked.done(answer);
      }
    },
    closed: () => end({ kind: "closed" }),
  };
}
