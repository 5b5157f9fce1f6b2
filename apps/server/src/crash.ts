import { AsyncLocalStorage } from "node:async_hooks";
import { randomUUID } from "node:crypto";
import type { IncomingMessage, RequestListener } from "node:http";
import type { Logger } from "pino";

/** A request that is being answered. */
interface Flight {
  readonly id: string;
  readonly method: string;
  readonly url: string;
  readonly since: number;
}

const current = new AsyncLocalStorage<Flight>();
const flights = new Set<Flight>();

/** The exit code after a failure that nothing caught: whoever watches over the process starts it anew. */
export const CRASHED = 70;
const MOST_TOLD = 20;

/** Remembers which request is being answered, for the words about a failure that nothing caught. */
export function inFlight(listener: RequestListener): RequestListener {
  return (request, response) => {
    const flight: Flight = { id: randomUUID().slice(0, 8), method: request.method ?? "", url: urlOf(request), since: Date.now() };
    flights.add(flight);
    response.on("close", () => flights.delete(flight));
    current.run(flight, () => listener(request, response));
  };
}

const urlOf = (request: IncomingMessage): string => (request.url ?? "").slice(0, 200);

/** Logs what nothing has caught, with the request it came from and all others that were being answered, and stops in order. */
export function guardProcess(log: Logger, stop: (code: number) => void): void {
  const crash =
    (what: string) =>
    (error: unknown): void => {
      log.fatal({ err: error, request: current.getStore() ?? null, open: [...flights].slice(0, MOST_TOLD) }, what);
      stop(CRASHED);
    };
  process.on("uncaughtException", crash("nothing caught this; the server is started anew"));
  process.on("unhandledRejection", crash("nobody waited for this to fail; the server is started anew"));
}
