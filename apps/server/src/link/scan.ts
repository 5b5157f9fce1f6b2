import {
  codeFromNumber,
  fromRaw,
  isLiveIdentifier,
  liveNameOf,
  liveUnitOf,
  readyMonitors,
  statusWord,
  type CodeEntry,
  type ReadinessEntry,
  type Scan,
} from "@rheonom/core/codes";
import { createReader } from "@rheonom/protocol/bytes";
import { decodeObdResponse, decodeReadiness, encodeObd } from "@rheonom/protocol/obd";
import { ALL_CODES, decodeResponse, encodeUds, refusalWords, type UdsRequest, type UdsResponse } from "@rheonom/protocol/uds";
import type { LinkModule } from "@rheonom/contract/link";
import type { Answer, DoipClient } from "./doip-client.ts";

/** What a module was found to be. */
interface Found {
  readonly answers: boolean;
  readonly codes: readonly CodeEntry[];
  /** What was odd about its answers. */
  readonly odd: string;
  readonly readiness?: ReadinessEntry;
}

export interface ScanResult {
  readonly scan: Scan;
  readonly complete: boolean;
  /** Why it ended before all were asked; undefined when it did not. */
  readonly broken: { readonly kind: "cancelled" } | { readonly kind: "failed"; readonly error: unknown } | undefined;
  readonly odd: readonly { readonly module: string; readonly why: string }[];
}

/** How long a module may take to its first answer, ms: P2 of ISO 14229-2 with what the way costs. */
const ANSWER_MS = 400;
/** Modules that are asked at the same time. */
const AT_ONCE = 6;
/** Codes of a module whose snapshot is fetched. */
const MOST_SNAPSHOTS = 20;
/** Failed, failed this cycle, pending, confirmed, failed since clearing. */
const MASK = 0x2f;
/** Bytes of a value whose length is known. */
const lengthOf = (did: number): number | undefined => (isLiveIdentifier(did) ? 2 : undefined);

/** Asks all modules; what has been read stays when it is broken off. `progress` is told after each. Never rejects for what a vehicle does. */
export async function scanVehicle(
  client: DoipClient,
  modules: readonly LinkModule[],
  now: () => Date,
  progress: (done: number, module: LinkModule, found: { readonly answers: boolean; readonly codes: number }) => void,
  signal: AbortSignal,
): Promise<ScanResult> {
  const found = new Map<string, Found>();
  const takenAt = now().toISOString();
  const left = [...modules];
  let broken: ScanResult["broken"];
  const worker = async (): Promise<void> => {
    for (let m = left.shift(); m !== undefined && broken === undefined; m = left.shift()) {
      try {
        const one = await scanModule(client, m, signal);
        found.set(m.id, one);
        progress(found.size, m, { answers: one.answers, codes: one.codes.length });
      } catch (error) {
        broken ??= signal.aborted ? { kind: "cancelled" } : { kind: "failed", error };
      }
    }
  };
  await Promise.all(Array.from({ length: AT_ONCE }, worker));
  const asked = modules.filter((m) => found.has(m.id));
  return {
    scan: {
      format: "rheonom-scan",
      version: 1,
      takenAt,
      source: "scan",
      modules: asked.map((m) => ({ id: m.id, answers: found.get(m.id)!.answers })),
      codes: asked.flatMap((m) => found.get(m.id)!.codes),
      ...withReadiness(asked.flatMap((m) => found.get(m.id)!.readiness ?? [])),
    },
    complete: asked.length === modules.length,
    broken,
    odd: asked.flatMap((m) => (found.get(m.id)!.odd === "" ? [] : [{ module: m.id, why: found.get(m.id)!.odd }])),
  };
}

async function scanModule(client: DoipClient, m: LinkModule, signal: AbortSignal): Promise<Found> {
  const ask = (request: UdsRequest): Promise<Read> => askModule(client, m, request, signal);
  let list = await ask({ service: "codes", report: "by mask", mask: MASK });
  // One word may be lost on the way; a module is silent only when it says nothing twice.
  if (list.kind === "silent") list = await ask({ service: "codes", report: "by mask", mask: MASK });
  if (list.kind === "silent") return { answers: false, codes: [], odd: list.why };
  if (list.kind === "odd") return { answers: true, codes: [], odd: list.why };
  if (list.response.service === "refused")
    return { answers: true, codes: [], odd: `does not tell its codes: ${refusalWords(list.response.refusal)}` };
  if (list.response.service !== "codes") return { answers: true, codes: [], odd: "answered something else than was asked" };
  const codes: CodeEntry[] = [];
  let odd = "";
  for (const [i, { code, status }] of list.response.codes.entries()) {
    const word = statusWord(status);
    if (word === undefined) continue;
    const failureType = (code & 0xff).toString(16).toUpperCase().padStart(2, "0");
    const snapshot = i < MOST_SNAPSHOTS ? await ask({ service: "codes", report: "snapshot", code, record: 0xff }) : undefined;
    if (snapshot?.kind === "odd") odd = snapshot.why;
    codes.push({
      module: m.id,
      code: codeFromNumber(code >> 8),
      // Zero says that there is no more to say.
      ...(failureType === "00" ? {} : { failureType }),
      status: word,
      statusByte: status,
      ...(snapshot?.kind === "read" ? snapshotOf(snapshot.response) : {}),
    });
  }
  const permanent = await permanentOf(client, m, signal);
  for (const id of permanent ?? []) if (!codes.some((c) => c.code === id)) codes.push({ module: m.id, code: id, status: "permanent" });
  // Only who answers one of the emissions services is asked for another.
  const ready = permanent === undefined ? undefined : await readinessOf(client, m, signal);
  return { answers: true, codes, odd, ...(ready === undefined ? {} : { readiness: ready }) };
}

/** Values by identifier: "supply, V" where it is known, else its number. */
function snapshotOf(response: UdsResponse): Pick<CodeEntry, "snapshot"> {
  if (response.service !== "snapshot") return {};
  const values = response.records.flatMap((r) =>
    r.data.flatMap(({ id, data }) =>
      isLiveIdentifier(id) && data.length === 2 ? [[liveNameOf(id), fromRaw(liveUnitOf(id), createReader(data).u16())] as const] : [],
    ),
  );
  return values.length === 0 ? {} : { snapshot: Object.fromEntries(values) };
}

const withReadiness = (readiness: ReadinessEntry[]): Pick<Scan, "readiness"> => (readiness.length === 0 ? {} : { readiness });

/** How long an answer of the emissions services is waited for, ms: most modules have none. */
const EMISSIONS_MS = 250;

/** Codes that no tester clears; undefined where a module does not answer the emissions services. */
async function permanentOf(client: DoipClient, m: LinkModule, signal: AbortSignal): Promise<readonly string[] | undefined> {
  const answer = await client.ask(m.address, encodeObd({ service: "permanent" }), { timeoutMs: EMISSIONS_MS, signal });
  if (answer.kind !== "answer") return undefined;
  const read = decodeObdResponse(answer.bytes);
  return read.kind === "response" && read.response.service === "permanent" ? read.response.codes.map(codeFromNumber) : undefined;
}

/** Which monitors have run since codes were cleared. */
async function readinessOf(client: DoipClient, m: LinkModule, signal: AbortSignal): Promise<ReadinessEntry | undefined> {
  const answer = await client.ask(m.address, encodeObd({ service: "live", pids: [READINESS_PID] }), { timeoutMs: EMISSIONS_MS, signal });
  if (answer.kind !== "answer") return undefined;
  const read = decodeObdResponse(answer.bytes);
  if (read.kind !== "response" || read.response.service !== "live") return undefined;
  const data = read.response.values.find((v) => v.pid === READINESS_PID)?.data;
  if (data?.length !== READINESS_BYTES) return undefined;
  const ready = decodeReadiness(data);
  return { module: m.id, lamp: ready.lamp, monitors: readyMonitors(ready) };
}
const READINESS_PID = 0x01;
const READINESS_BYTES = 4;

export interface Cleared {
  readonly id: string;
  readonly cleared: boolean;
  readonly why: string;
}

/** Clears the codes of the modules, one after the other. */
export async function clearCodes(client: DoipClient, modules: readonly LinkModule[], signal: AbortSignal): Promise<readonly Cleared[]> {
  const done: Cleared[] = [];
  for (const m of modules) {
    const answer = await askModule(client, m, { service: "clear", group: ALL_CODES }, signal);
    const cleared = answer.kind === "read" && answer.response.service === "clear";
    const why =
      answer.kind === "silent"
        ? answer.why || "does not answer"
        : answer.kind === "odd"
          ? answer.why
          : answer.response.service === "refused"
            ? refusalWords(answer.response.refusal)
            : "";
    done.push({ id: m.id, cleared, why: cleared ? "" : why });
  }
  return done;
}

export type Read =
  | { readonly kind: "read"; readonly response: UdsResponse }
  | { readonly kind: "silent"; readonly why: string }
  /** It answered, but not as the standard wants it. */
  | { readonly kind: "odd"; readonly why: string };

export async function askModule(
  client: DoipClient,
  m: LinkModule,
  request: UdsRequest,
  signal?: AbortSignal,
  timeoutMs = ANSWER_MS,
): Promise<Read> {
  return readOf(await client.ask(m.address, encodeUds(request), { timeoutMs, signal }));
}

function readOf(answer: Answer): Read {
  if (answer.kind === "silent") return { kind: "silent", why: "" };
  if (answer.kind === "undelivered") return { kind: "silent", why: answer.why };
  const read = decodeResponse(answer.bytes, lengthOf);
  return read.kind === "response" ? { kind: "read", response: read.response } : { kind: "odd", why: read.why };
}
