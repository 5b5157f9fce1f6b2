import { fromLatin1, latin1Of } from "../bytes/index.ts";

/** What has come whole: a line of text, or a block of bytes (IEEE 488.2, 8.7.9), or what is wrong with the stream. */
export type ScpiAnswer =
  | { readonly kind: "text"; readonly text: string }
  | { readonly kind: "block"; readonly bytes: Uint8Array }
  /** Nothing after it can be trusted; the framer gives nothing more. */
  | { readonly kind: "fault"; readonly why: "block head" | "block too long" | "line too long"; readonly bytes: number };

export interface ScpiFramer {
  /** Takes what has come, in any cut, and gives what is whole. */
  readonly push: (chunk: Uint8Array) => readonly ScpiAnswer[];
  /** Lets go of what has come of an answer that nobody waits for any more. */
  readonly reset: () => void;
}

const NEWLINE = 10;
const RETURN = 13;
const HASH = 35;
/** Longest line of text, bytes: a hundred thousand points as text come as several megabytes. */
const MOST_LINE = 16_000_000;

/**
 * Cuts what an instrument sends into its answers: each ends with a newline, that of a block after so many bytes as its head says. A block of more than
 * `mostBytes` is refused as soon as its head is there; no memory is set aside by what a head says.
 */
export function createScpiFramer(mostBytes: number): ScpiFramer {
  let chunks: Uint8Array[] = [];
  let held = 0;
  let dead = false;
  /** Bytes of the block that is coming with its head; undefined while a line is, or nothing. */
  let block: { readonly head: number; readonly length: number } | undefined;
  /** Where the search for a newline goes on. */
  let searched = 0;

  const joined = (): Uint8Array => {
    if (chunks.length === 1) return chunks[0]!;
    const all = new Uint8Array(held);
    let at = 0;
    for (const c of chunks) {
      all.set(c, at);
      at += c.length;
    }
    chunks = [all];
    return all;
  };
  const keepFrom = (at: number): void => {
    const rest = joined().subarray(at);
    chunks = rest.length === 0 ? [] : [rest];
    held = rest.length;
    searched = 0;
    block = undefined;
  };
  const fail = (why: Extract<ScpiAnswer, { kind: "fault" }>["why"], bytes: number): ScpiAnswer => {
    dead = true;
    chunks = [];
    held = 0;
    return { kind: "fault", why, bytes };
  };

  function next(): ScpiAnswer | undefined {
    if (held === 0) return undefined;
    if (block === undefined && chunks[0]![0] === HASH) {
      const head = joined();
      if (head.length < 2) return undefined;
      const digits = head[1]! - 48;
      // #H, #Q and #B are numbers; #0 has no length, and ends with a signal that no line of bytes has.
      if (digits === 0) return fail("block head", 0);
      if (digits >= 1 && digits <= 9) {
        if (head.length < 2 + digits) return undefined;
        const text = String.fromCharCode(...head.subarray(2, 2 + digits));
        if (!/^\d+$/.test(text)) return fail("block head", 0);
        const length = Number(text);
        if (length > mostBytes) return fail("block too long", length);
        block = { head: 2 + digits, length };
      }
    }
    if (block !== undefined) {
      const { head, length } = block;
      if (held < head + length + 1) return undefined;
      const all = joined();
      const bytes = all.slice(head, head + length);
      let end = head + length;
      if (all[end] === RETURN) {
        if (held < end + 2) return undefined;
        end++;
      }
      if (all[end] !== NEWLINE) return fail("block head", length);
      keepFrom(end + 1);
      return { kind: "block", bytes };
    }
    const all = joined();
    const end = all.indexOf(NEWLINE, searched);
    if (end < 0) {
      searched = all.length;
      return held > MOST_LINE ? fail("line too long", held) : undefined;
    }
    const line = all.subarray(0, all[end - 1] === RETURN ? end - 1 : end);
    const text = latin1Of(line);
    keepFrom(end + 1);
    return { kind: "text", text };
  }

  return {
    push: (chunk) => {
      if (dead || chunk.length === 0) return [];
      chunks.push(chunk);
      held += chunk.length;
      // While a block is coming it is not joined again and again.
      if (block !== undefined && held < block.head + block.length + 1) return [];
      const found: ScpiAnswer[] = [];
      for (let answer = next(); answer !== undefined; answer = next()) {
        found.push(answer);
        if (answer.kind === "fault") break;
      }
      return found;
    },
    reset: () => {
      if (dead) return;
      chunks = [];
      held = 0;
      searched = 0;
      block = undefined;
    },
  };
}

/** A block as an instrument sends it: its head, its bytes, a newline. */
export function blockOf(bytes: Uint8Array): Uint8Array {
  const count = String(bytes.length);
  const head = fromLatin1(`#${count.length}${count}`);
  const all = new Uint8Array(head.length + bytes.length + 1);
  all.set(head);
  all.set(bytes, head.length);
  all[all.length - 1] = NEWLINE;
  return all;
}
