import type { IncomingMessage, Server } from "node:http";
import type { Duplex } from "node:stream";
import { WebSocketServer, type WebSocket } from "ws";
import { AppError, problemOf } from "../errors.ts";
import { turnAway, type Door } from "./caller.ts";

/** One address under which WebSockets are taken. */
export interface SocketRoute {
  readonly path: RegExp;
  /** Bytes of one message. */
  readonly mostBytes: number;
  /** Sockets at one time. */
  readonly most: number;
  /** Throws AppError when this one is not taken; the socket is opened after it only. `found`: the groups of the path. */
  readonly check: (found: readonly string[]) => Promise<void>;
  readonly serve: (ws: WebSocket, found: readonly string[]) => void;
}

/** How often a silent browser is asked whether it is there, ms. */
const PULSE_MS = 30_000;

/**
 * Takes upgrades at the routes. The order is: an ear for errors of the connection, caller, address, job; nothing that fails in it leaves the handler.
 */
export function attachSockets(server: Server, door: Door, routes: readonly SocketRoute[], failed: (error: unknown) => void): void {
  const open = routes.map((route) => ({
    route,
    sockets: new WebSocketServer({ noServer: true, maxPayload: route.mostBytes, perMessageDeflate: false }),
  }));
  server.on("upgrade", (request: IncomingMessage, socket: Duplex, head: Buffer) => {
    // A caller that is gone in the middle says so by an error, which nobody else hears.
    socket.on("error", () => socket.destroy());
    take(request, socket, head).catch((error: unknown) => {
      if (!(error instanceof AppError)) failed(error);
      refuse(socket, error instanceof AppError ? error : new AppError("internal", { id: "-" }));
    });
  });

  async function take(request: IncomingMessage, socket: Duplex, head: Buffer): Promise<void> {
    const turned = turnAway(request.headers, false, door);
    if (turned !== undefined) throw new AppError(turned === "host" ? "host-unknown" : "foreign-page");
    const path = (request.url ?? "").split("?")[0]!;
    const hit = open.flatMap((o) => {
      const match = o.route.path.exec(path);
      return match === null ? [] : [{ ...o, found: match.slice(1) }];
    })[0];
    if (hit === undefined) throw new AppError("not-found", { path: path.slice(0, 100) });
    const { route, sockets, found } = hit;
    if (sockets.clients.size >= route.most) throw new AppError("work-busy");
    await route.check(found);
    if (socket.destroyed) return;
    sockets.handleUpgrade(request, socket, head, (ws) => {
      keepPulse(ws);
      ws.on("error", () => ws.terminate());
      route.serve(ws, found);
    });
  }
}

function refuse(socket: Duplex, error: AppError): void {
  if (!socket.writable) return void socket.destroy();
  const { status, body } = problemOf(error);
  const text = JSON.stringify(body);
  const head = [`HTTP/1.1 ${status} ${STATUS_WORDS[status] ?? "Refused"}`, "Connection: close", "Content-Type: application/json"];
  socket.end(`${head.join("\r\n")}\r\nContent-Length: ${Buffer.byteLength(text)}\r\n\r\n${text}`);
}
const STATUS_WORDS: Readonly<Record<number, string>> = {
  403: "Forbidden",
  404: "Not Found",
  421: "Misdirected Request",
  503: "Service Unavailable",
};

/** Ends a socket whose other end has not answered the last pulse. */
function keepPulse(ws: WebSocket): void {
  let alive = true;
  ws.on("pong", () => (alive = true));
  const timer = setInterval(() => {
    if (!alive) return ws.terminate();
    alive = false;
    ws.ping();
  }, PULSE_MS);
  ws.on("close", () => clearInterval(timer));
}
