import type { IncomingMessage, Server } from "node:http";
import type { Duplex } from "node:stream";
import { WebSocketServer, type WebSocket } from "ws";
import { foldJob, latestScan, type JobView } from "@rheonom/core/job";
import { parseNotation } from "@rheonom/core/notation";
import { CONTROL, refusalWords, SESSIONS } from "@rheonom/protocol/uds";
import { toServer, type FoundVehicle, type LinkTarget, type ToBrowser, type ToServer } from "@rheonom/contract/link";
import { standingFaults } from "../demo/stand-in.ts";
import { AppError, problemOf } from "../errors.ts";
import type { JobStore, StoredJob } from "../store/job-store.ts";
import { connectVehicle, findVehicles, LinkError, type DoipClient } from "./doip-client.ts";
import { readLive, type LiveReading } from "./live.ts";
import { askModule, clearCodes, scanVehicle } from "./scan.ts";
import { startStandIn, type StandIn, type StandIns } from "./stand-in-process.ts";

export interface LinkParts {
  readonly store: JobStore;
  readonly root: string;
  readonly standIns: StandIns;
  readonly now: () => Date;
}

const PATH = /^\/api\/jobs\/([0-9a-f-]{36})\/link$/;
const MOST_MESSAGE_BYTES = 100_000;
/** How long vehicles may take to say that they are there, ms; the simulated one is at hand. */
const FIND_MS = { network: 1500, simulated: 150 } as const;
/** Keeps a session that is not the default one from ending, ms. */
const PRESENT_MS = 2000;

/** Answers WebSockets at /api/jobs/:id/link: the line from a browser to the vehicle of a job. */
export function attachLink(server: Server, parts: LinkParts): void {
  const sockets = new WebSocketServer({ noServer: true, maxPayload: MOST_MESSAGE_BYTES });
  server.on("upgrade", (request: IncomingMessage, socket: Duplex, head: Buffer) => {
    const jobId = PATH.exec(new URL(request.url ?? "/", "http://local").pathname)?.[1];
    if (jobId === undefined || !isOwnPage(request)) {
      socket.end("HTTP/1.1 403 Forbidden\r\nConnection: close\r\n\r\n");
      return;
    }
    sockets.handleUpgrade(request, socket, head, (ws) => serve(ws, jobId, parts));
  });
}

/** Another site's page may open a WebSocket here too; it is told by its origin. */
function isOwnPage({ headers }: IncomingMessage): boolean {
  if (headers.origin === undefined) return true;
  try {
    return new URL(headers.origin).host === headers.host;
  } catch {
    return false;
  }
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
    if (client === undefined) throw new LinkError("Not connected to a vehicle. Look for it first.");
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
      standIn = await standInOf(await parts.store.read(jobId), parts);
      found = await findVehicles(standIn.host, standIn.port, FIND_MS.simulated);
      await told({ do: "tell" });
    } else {
      standIn = undefined;
      found = await findVehicles(target.host, target.port, FIND_MS.network);
    }
    say({ type: "found", vehicles: [...found] });
  }

  async function told(work: object): Promise<void> {
    if (standIn === undefined) throw new LinkError("No simulated vehicle is in use. Look for it first.");
    // What has been mended meanwhile is sound from now on.
    await standIn.work({ do: "faults", faults: standingFaults(await parts.store.read(jobId)) });
    say({ type: "told", ...(await standIn.work(work)) });
  }

  async function handle(m: ToServer): Promise<void> {
    switch (m.type) {
      case "find":
        return find(m.target);
      case "connect": {
        const vehicle = found.find((v) => v.vin === m.vin);
        if (vehicle === undefined) throw new LinkError(`No vehicle ${m.vin} was found. Look for it again.`);
        hangUp();
        const made = await connectVehicle(vehicle);
        client = made;
        made.onClose((why) => {
          if (client !== made) return;
          client = undefined;
          say({ type: "disconnected", why });
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
        return say({ type: "scanned", ...result, odd: [...result.odd] });
      }
      case "cancel":
        return scanning?.abort();
      case "clear": {
        // Whatever the browser thinks: they are written down first.
        const view = foldJob((await parts.store.read(jobId)).events);
        const latest = view === undefined ? undefined : latestScan(view);
        if (view === undefined || latest === undefined || latest.clearsBefore < view.clears)
          throw new LinkError("The codes are not written down yet. Scan and keep them, then clear.");
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

  ws.on("message", (data) => {
    const read = toServer.safeParse(parsed(String(data)));
    if (!read.success) {
      say({
        type: "failed",
        message: `The message does not have the expected form: ${read.error.issues[0]!.path.join(".")} ${read.error.issues[0]!.message}.`,
      });
      return;
    }
    handle(read.data).catch((error: unknown) => say({ type: "failed", message: wordsOf(error) }));
  });
  ws.on("close", hangUp);
  ws.on("error", hangUp);
}

function parsed(text: string): unknown {
  try {
    return JSON.parse(text);
  } catch {
    return undefined;
  }
}

function wordsOf(error: unknown): string {
  if (error instanceof AppError) return problemOf(error).body.message;
  return error instanceof Error ? error.message : String(error);
}

async function standInOf(job: StoredJob, { root, standIns }: LinkParts): Promise<StandIn> {
  const view: JobView | undefined = foldJob(job.events);
  if (job.hiddenTruth === undefined || view === undefined) throw new AppError("no-stand-in");
  const harness = view.circuit === undefined ? undefined : parseNotation(view.circuit.notation).harness;
  if (harness === undefined) throw new AppError("no-circuit");
  return standIns.of(job.id, () => startStandIn(root, harness, standingFaults(job)));
}
