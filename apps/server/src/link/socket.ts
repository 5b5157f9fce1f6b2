import type { Logger } from "pino";
import type { WebSocket } from "ws";
import { CONTROL, refusalWords, SESSIONS } from "@rheonom/protocol/uds";
import { toServer, type FoundVehicle, type LinkTarget, type ToBrowser, type ToServer } from "@rheonom/contract/link";
import type { SocketRoute } from "../doors/upgrade.ts";
import { AppError } from "../errors.ts";
import { connectVehicle, findVehicles, type DoipClient } from "./doip-client.ts";
import { readLive, type LiveReading } from "./live.ts";
import { problemFor, takeMessages, type Problem } from "./messages.ts";
import { askModule, clearCodes, scanVehicle } from "./scan.ts";
import { checkJob, factsOf, standInOf, tellFaults, type StandInParts } from "./stand-in-of.ts";
import type { StandIn } from "./stand-in-process.ts";
import type { Targets } from "./targets.ts";

export interface LinkParts extends StandInParts {
  readonly targets: Targets;
  readonly log: Logger;
  readonly now: () => Date;
}

const MOST_MESSAGE_BYTES = 100_000;
/** How long vehicles may take to say that they are there, ms; the simulated one is at hand. */
const FIND_MS = { network: 1500, simulated: 150 } as const;
/** The simulated one is asked so often until it is found. */
const MOST_TRIES = 40;
/** Keeps a session that is not the default one from ending, ms. */
const PRESENT_MS = 2000;

/** The line from a browser to the vehicle of a job: WebSockets at /api/jobs/:id/link. */
export function linkRoute(parts: LinkParts): SocketRoute {
  return {
    path: /^\/api\/jobs\/([0-9a-f-]{36})\/link$/,
    mostBytes: MOST_MESSAGE_BYTES,
    most: 100,
    check: ([jobId = ""]) => checkJob(jobId, parts.store),
    serve: (ws, [jobId = ""]) => serve(ws, jobId, parts),
  };
}

function serve(ws: WebSocket, jobId: string, parts: LinkParts): void {
  const say = (m: ToBrowser): void => {
    if (ws.readyState === ws.OPEN) ws.send(JSON.stringify(m));
  };
  let found: readonly FoundVehicle[] = [];
  let standIn: StandIn | undefined;
  /** What somebody moves on the simulated vehicle. */
  let moving: string | undefined;
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
      standIn = await standInOf(jobId, "vehicle", parts);
      // One that has just been started may still be busy with the drives before it came in.
      for (let tries = 0; tries === 0 || (found.length === 0 && tries < MOST_TRIES); tries++)
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

  const tellNow = (): Promise<void> => tellFaults(jobId, standIn, parts, moving);

  async function told(work: Extract<ToServer, { type: "work" }>["work"]): Promise<void> {
    if (standIn === undefined) throw new AppError("stand-in-none");
    if (work.do === "move") moving = work.at;
    await tellNow();
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

  const problem = (error: unknown): Problem => problemFor(error, parts.log, jobId, "the line to a vehicle");
  const fail = (error: unknown): void => say({ type: "failed", ...problem(error) });
  const deaf = parts.store.onChange((changed) => {
    if (changed === jobId && standIn !== undefined)
      tellNow().catch((error: unknown) => parts.log.warn({ err: error, jobId }, "the simulated vehicle was not told"));
  });
  const end = (): void => {
    deaf();
    hangUp();
  };
  takeMessages(ws, toServer, handle, fail);
  ws.on("close", end);
  ws.on("error", end);
}
