import { fromRaw } from "@rheonom/core/codes";
import { createReader } from "@rheonom/protocol/bytes";
import { decodeObdResponse, encodeObd, PIDS } from "@rheonom/protocol/obd";
import { encodeUds, decodeResponse } from "@rheonom/protocol/uds";
import type { LiveWish } from "@rheonom/contract/link";
import type { DoipClient } from "./doip-client.ts";

/** Identifiers and values in one request. */
const MOST_DIDS = 8;
const MOST_PIDS = 6;
/** Longer than a round: late is better than lost. ms */
const ANSWER_MS = 1000;

/** One request that fetches several wishes. */
interface Round {
  readonly address: number;
  readonly request: Uint8Array;
  /** Values by index of the wish. */
  readonly read: (bytes: Uint8Array) => readonly (readonly [index: number, value: number])[];
}

export interface LiveReading {
  readonly stop: () => void;
}

/**
 * Reads the wishes again and again. A round that takes longer than its time is followed by the next at once: none is left out, they come later. Ends by itself when the
 * connection is lost. `told`: ms since the beginning, and a value or null for each wish.
 */
export function readLive(
  client: DoipClient,
  wishes: readonly LiveWish[],
  hertz: number,
  told: (at: number, values: readonly (number | null)[]) => void,
): LiveReading {
  const rounds = roundsOf(wishes);
  const began = performance.now();
  let stopped = false;
  let timer: ReturnType<typeof setTimeout> | undefined;
  const stop = (): void => {
    stopped = true;
    clearTimeout(timer);
  };
  client.onClose(stop);
  let count = 0;
  const turn = async (): Promise<void> => {
    const values: (number | null)[] = wishes.map(() => null);
    await Promise.all(
      rounds.map(async (r) => {
        const answer = await client.ask(r.address, r.request, { timeoutMs: ANSWER_MS });
        if (answer.kind === "answer") for (const [i, v] of r.read(answer.bytes)) values[i] = v;
      }),
    );
    if (stopped) return;
    told(Math.round(performance.now() - began), values);
    count++;
    timer = setTimeout(next, Math.max(0, began + (count * 1000) / hertz - performance.now()));
  };
  const next = (): void => void turn().catch(stop);
  next();
  return { stop };
}

function roundsOf(wishes: readonly LiveWish[]): readonly Round[] {
  const rounds: Round[] = [];
  const byModule = new Map<number, number[]>();
  wishes.forEach((w, i) => byModule.set(w.module.address, [...(byModule.get(w.module.address) ?? []), i]));
  for (const [address, indices] of byModule) {
    const dids = indices.filter((i) => "did" in wishes[i]!.what);
    const pids = indices.filter((i) => "pid" in wishes[i]!.what);
    for (let k = 0; k < dids.length; k += MOST_DIDS) rounds.push(didRound(address, wishes, dids.slice(k, k + MOST_DIDS)));
    for (let k = 0; k < pids.length; k += MOST_PIDS) rounds.push(pidRound(address, wishes, pids.slice(k, k + MOST_PIDS)));
  }
  return rounds;
}

function didRound(address: number, wishes: readonly LiveWish[], indices: readonly number[]): Round {
  const byDid = new Map(
    indices.flatMap((i) => {
      const { what } = wishes[i]!;
      return "did" in what ? [[what.did, { i, unit: what.unit }] as const] : [];
    }),
  );
  return {
    address,
    request: encodeUds({ service: "read", ids: [...byDid.keys()] }),
    read: (bytes) => {
      const read = decodeResponse(bytes, () => 2);
      if (read.kind !== "response" || read.response.service !== "read") return [];
      return read.response.values.flatMap(({ id, data }) => {
        const wish = byDid.get(id);
        return wish === undefined || data.length !== 2 ? [] : [[wish.i, fromRaw(wish.unit, createReader(data).u16())] as const];
      });
    },
  };
}

function pidRound(address: number, wishes: readonly LiveWish[], indices: readonly number[]): Round {
  const byPid = new Map(
    indices.flatMap((i) => {
      const { what } = wishes[i]!;
      return "pid" in what ? [[what.pid, i] as const] : [];
    }),
  );
  return {
    address,
    request: encodeObd({ service: "live", pids: [...byPid.keys()] }),
    read: (bytes) => {
      const read = decodeObdResponse(bytes);
      if (read.kind !== "response" || read.response.service !== "live") return [];
      return read.response.values.flatMap(({ pid, data }) => {
        const [i, known] = [byPid.get(pid), PIDS.get(pid)];
        if (i === undefined || known === undefined || data.length !== known.bytes) return [];
        const r = createReader(data);
        return [[i, known.fromRaw(known.bytes === 1 ? r.u8() : r.u16())] as const];
      });
    },
  };
}
