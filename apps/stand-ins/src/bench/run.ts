import { createServer, type Socket } from "node:net";
import type { Device } from "./device.ts";

export interface RunningInstrument {
  readonly port: number;
  readonly stop: () => Promise<void>;
}

const MOST_CALLERS = 8;
/** Longest message that is taken, bytes. */
const MOST_MESSAGE = 65_536;
const NEWLINE = 10;

/** Brings an instrument up on a port of TCP, 0 for any that is free. Rejects with the reason when it is taken. */
export async function runInstrument(device: Device, host: string, port: number, mostCallers = MOST_CALLERS): Promise<RunningInstrument> {
  const open = new Set<Socket>();
  const server = createServer((socket) => {
    open.add(socket);
    let held = Buffer.alloc(0);
    let skips = false;
    // A caller that is gone says so by an error; the close that follows does the rest.
    socket.on("error", () => undefined);
    socket.on("close", () => open.delete(socket));
    socket.setNoDelay(true);
    socket.on("data", (chunk: Buffer) => {
      held = Buffer.concat([held, chunk]);
      for (let end = held.indexOf(NEWLINE); end >= 0; end = held.indexOf(NEWLINE)) {
        const message = held.subarray(0, end).toString("latin1");
        held = held.subarray(end + 1);
        const isTooLong = end > MOST_MESSAGE;
        if (isTooLong && !skips) device.raise("overrun");
        if (isTooLong || skips) {
          skips = false;
          continue;
        }
        const answer = device.handle(message);
        if (answer.length > 0 && socket.writable) socket.write(answer);
      }
      if (held.length <= MOST_MESSAGE) return;
      if (!skips) device.raise("overrun");
      skips = true;
      held = Buffer.alloc(0);
    });
  });
  server.maxConnections = mostCallers;
  await new Promise<void>((done, failed) => {
    server.once("error", failed);
    server.listen(port, host, done);
  });
  const address = server.address();
  return {
    port: typeof address === "object" && address !== null ? address.port : port,
    stop: async () => {
      for (const socket of open) socket.destroy();
      await new Promise<void>((done) => server.close(() => done()));
    },
  };
}
