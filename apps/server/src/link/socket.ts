import { randomUUID } from "node:crypto";
import type { Logger } from "pino";
import type { RawData, WebSocket } from "ws";
import { uuid7 } from "@rheonom/core/job";
import { CONTROL, refusalWords, SESSIONS } from "@rheonom/protocol/uds";
import { toServer, type FoundVehicle, type LinkTarget, type ToBrowser, type ToServer } from "@rheonom/contract/link";
import { MESSAGE_SHAPE, readJson } from "../doors/json.ts";
import type { SocketRoute } from "../doors/upgrade.ts";
import { AppError, problemOf } from "../errors.ts";
import type { Heavy } from "../heavy/pool.ts";
import type { LineFacts } from "../heavy/tasks.ts";
import type { Store } from "../store/store.ts";
import { connectVehicle, findVehicles, type DoipClient } from "./doip-client.ts";
import { readLive, type LiveReading } from "./live.ts";
import { askModule, clearCodes, scanVehicle } from "./scan.ts";
import { startStandIn, type StandIn, type StandIns } from "./stand-in-process.ts";
import type { Targets } from "./targets.ts";

export interface LinkParts {
  readonly store: Store;
  readonly heavy: Heavy;
  readonly root: string;
  readonly standIns: StandIns;
  readonly targets: Targets;
  readonly log: Logger;
  readonly now: () => Date;
}

const MOST_MESSAGE_BYTES = 100_000;
/** How long vehicles may take to say that they are there, ms; the simulated one is at hand. */
const FIND_MS = { network: 1500, simulated: 150 } as const;
/** Keeps a session that is not the default one from ending, ms. */
const PRESENT_MS = 2000;
/** Things that one page may ask at one time; a person asks one or two. */
const MOST_AT_ONCE = 8;

/** The line from a browser to the vehicle of a job: WebSockets at /api/jobs/:id/link. */
export function linkRoute(parts: LinkParts): SocketRoute {
  return {
    path: /^\/api\/jobs\/([0-9a-f-]{36})\/link$/,
    mostBytes: MOST_MESSAGE_BYTES,
    most: 100,
    check: async ([jobId = ""]) => {
      if (!uuid7.safeParse(jobId).success || !(await parts.store.jobExists(jobId))) throw new AppError("job-not-found", { id: jobId });
    },
    serve: (ws, [jobId = ""]) => serve(ws, jobId, parts),
  };
}

function serve(ws: WebSocket, jobId: string, parts: LinkParts): void {
  const say = (m: ToBrowser): void => {
    if (ws.readyState === ws.OPEN) ws.send(JSON.stringify(m));
  };
  let found: readonly FoundVehicle[] = [];
  let standIn: StandIn | undefined;
  let client: DoipClient | undefined;
  let live: LiveReading | undefined;
  let scanning: AbortController | undefined;
  let keeping: ReturnType<typeof setInterval> | undefined;

  const connected = (): DoipClient => {
    if (client === undefined) throw new AppError("link-not-connected");
    return client;
  };
  const hangUp = (): void => {
    live?.stop();
    scanning?.abort();
    clearInterval(keeping);
    client?.close();
    client = live = scanning = undefined;
  };

  async function find(target: LinkTarget): Promise<void> {
    hangUp();
    if (target.kind === "simulated") {
      standIn = await standInOf(jobId, parts);
      found = await findVehicles(standIn.host, standIn.port, FIND_MS.simulated);
      await told({ do: "tell" });
    } else {
      standIn = undefined;
      const address = await parts.targets.admit(target.host, target.port);
      const all = await findVehicles(address, target.port, FIND_MS.network);
      found = all.filter((v) => parts.targets.isAllowed(v.host, v.port));
    }
    say({ type: "found", vehicles: [...found] });
  }

  /** What has been mended is sound on the simulated vehicle from then on, also on a line that stays open meanwhile. */
  async function mended(): Promise<void> {
    const { faults } = await factsOf(jobId, parts);
    await standIn?.work({ do: "faults", faults });
  }

  async function told(work: object): Promise<void> {
    if (standIn === undefined) throw new AppError("stand-in-none");
    await mended();
    say({ type: "told", ...(await standIn.work(work)) });
  }

  async function handle(m: ToServer): Promise<void> {
    switch (m.type) {
      case "find":
        return find(m.target);
      case "connect": {
        const vehicle = found.find((v) => v.vin === m.vin);
        if (vehicle === undefined) throw new AppError("link-vehicle-gone", { vin: m.vin });
        hangUp();
        const made = await connectVehicle(vehicle);
        client = made;
        made.onClose((why) => {
          if (client !== made) return;
          client = undefined;
          say({ type: "disconnected", ...problem(why) });
        });
        return say({ type: "connected", vin: vehicle.vin });
      }
      case "scan": {
        const on = connected();
        scanning?.abort();
        const mine = new AbortController();
        scanning = mine;
        const result = await scanVehicle(
          on,
          m.modules,
          parts.now,
          (done, module, f) => say({ type: "progress", done, total: m.modules.length, module: module.id, ...f }),
          mine.signal,
        );
        if (scanning === mine) scanning = undefined;
        const { broken, ...scanned } = result;
        const why = broken === undefined ? "" : broken.kind === "cancelled" ? "cancelled" : problem(broken.error).message;
        return say({ type: "scanned", ...scanned, why, odd: [...result.odd] });
      }
      case "cancel":
        return scanning?.abort();
      case "clear": {
        // Whatever the browser thinks: they are written down first.
        if (!(await factsOf(jobId, parts)).codesKept) throw new AppError("link-codes-not-kept");
        return say({ type: "cleared", modules: [...(await clearCodes(connected(), m.modules, new AbortController().signal))] });
      }
      case "live":
        live?.stop();
        live = readLive(connected(), m.wishes, m.hertz, (at, values) => say({ type: "live", at, values: [...values] }));
        return;
      case "stop-live":
        return live?.stop();
      case "actuate":
        return actuate(m);
      case "work":
        return told(m.work);
    }
  }

  async function actuate({ module, did, on }: Extract<ToServer, { type: "actuate" }>): Promise<void> {
    const c = connected();
    const session = await askModule(c, module, { service: "session", session: SESSIONS.extended });
    const state = on === null ? new Uint8Array(0) : Uint8Array.of(on ? 1 : 0);
    const answer = await askModule(c, module, {
      service: "actuate",
      id: did,
      control: on === null ? CONTROL.giveBack : CONTROL.adjust,
      state,
    });
    const done = session.kind === "read" && answer.kind === "read" && answer.response.service === "actuate";
    const why = done
      ? ""
      : answer.kind === "read" && answer.response.service === "refused"
        ? refusalWords(answer.response.refusal)
        : answer.kind === "odd"
          ? answer.why
          : "the module does not answer";
    clearInterval(keeping);
    if (done && on !== null)
      keeping = setInterval(() => void askModule(c, module, { service: "present" }).catch(() => clearInterval(keeping)), PRESENT_MS);
    say({ type: "actuated", did, on: done ? on : null, why });
  }

  let busy = 0;
  /** What the page is told of a failure: words of the table. What the machine said goes to the log. */
  function problem(error: unknown): { readonly code: string; readonly message: string } {
    const id = randomUUID().slice(0, 8);
    const known = error instanceof AppError ? error : undefined;
    if (known === undefined) parts.log.error({ err: error, id, jobId }, "the line to a vehicle failed");
    else parts.log.warn({ code: known.code, cause: known.cause, jobId }, "the line to a vehicle");
    const { code, message } = problemOf(known ?? new AppError("internal", { id })).body;
    return { code, message };
  }
  const fail = (error: unknown): void => say({ type: "failed", ...problem(error) });
  const take = async (data: Uint8Array): Promise<void> => {
    if (busy >= MOST_AT_ONCE) throw new AppError("work-busy");
    busy++;
    try {
      const read = toServer.safeParse(readJson(data, MESSAGE_SHAPE));
      if (!read.success) {
        const issue = read.error.issues[0]!;
        throw new AppError("message-invalid", { why: `${issue.path.join(".")} ${issue.message}`.trim().slice(0, 200) });
      }
      await handle(read.data);
    } finally {
      busy--;
    }
  };
  const deaf = parts.store.onChange((changed) => {
    if (changed === jobId && standIn !== undefined)
      mended().catch((error: unknown) => parts.log.warn({ err: error, jobId }, "the simulated vehicle was not told"));
  });
  const end = (): void => {
    deaf();
    hangUp();
  };
  ws.on("message", (data) => void take(bytesOf(data)).catch(fail));
  ws.on("close", end);
  ws.on("error", end);
}

const bytesOf = (data: RawData): Uint8Array =>
  Array.isArray(data) ? Buffer.concat(data) : data instanceof ArrayBuffer ? new Uint8Array(data) : data;

async function factsOf(jobId: string, { store, heavy }: LinkParts): Promise<LineFacts> {
  const { log, truth } = await store.readJobWithTruth(jobId);
  return heavy.run("lineFacts", log, truth);
}

async function standInOf(jobId: string, parts: LinkParts): Promise<StandIn> {
  const { truth } = await parts.store.readJobWithTruth(jobId);
  if (truth === undefined) throw new AppError("no-stand-in");
  const { harness, faults } = await factsOf(jobId, parts);
  if (harness === undefined) throw new AppError("no-circuit");
  return parts.standIns.of(jobId, () => startStandIn(parts.root, harness, faults));
}
