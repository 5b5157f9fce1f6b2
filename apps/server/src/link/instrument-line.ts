import { connect, type Socket } from "node:net";
import { createScpiClient, ScpiError, type ScpiClient } from "@rheonom/protocol/scpi";
import { AppError } from "../errors.ts";

const CONNECT_MS = 2000;
/** Largest block that is taken: four megabytes hold a million samples. */
const MOST_BLOCK = 16_000_000;

export interface InstrumentLine {
  readonly client: ScpiClient;
  readonly close: () => void;
}

/** A line over TCP to an instrument. `lost` is told once, when it goes away by itself. Rejects with AppError instrument-no-answer. */
export async function openInstrument(host: string, port: number, lost: (why: AppError) => void): Promise<InstrumentLine> {
  const socket = await opened(host, port);
  let isOurs = false;
  const client = createScpiClient(
    {
      send: (bytes) => void (socket.writable && socket.write(bytes)),
      close: () => socket.destroy(),
      later: (ms, then) => {
        const timer = setTimeout(then, ms);
        return () => clearTimeout(timer);
      },
    },
    MOST_BLOCK,
  );
  socket.setNoDelay(true);
  socket.on("data", (chunk) => client.receive(chunk));
  socket.on("error", () => undefined);
  socket.on("close", () => {
    const wasOpen = client.isOpen();
    client.closed();
    if (!isOurs && wasOpen) lost(new AppError("instrument-lost"));
  });
  return {
    client,
    close: () => {
      isOurs = true;
      client.closed();
      socket.destroy();
    },
  };
}

async function opened(host: string, port: number): Promise<Socket> {
  return new Promise((done, failed) => {
    const socket = connect({ host, port });
    const fail = (cause?: Error): void => {
      clearTimeout(timer);
      socket.destroy();
      failed(new AppError("instrument-no-answer", { host, port: String(port) }, [], cause));
    };
    const timer = setTimeout(fail, CONNECT_MS);
    socket.once("error", fail);
    socket.once("connect", () => {
      clearTimeout(timer);
      socket.removeListener("error", fail);
      done(socket);
    });
  });
}

/** A failure of the line in the words of the table; anything else as it is. */
export function asAppError(error: unknown): unknown {
  if (!(error instanceof ScpiError)) return error;
  const { failure } = error;
  switch (failure.kind) {
    case "late":
      return new AppError("instrument-late", { seconds: String(failure.ms / 1000) });
    case "unreadable":
      return new AppError("instrument-unreadable", { why: failure.why });
    case "closed":
      return new AppError("instrument-lost");
  }
}
