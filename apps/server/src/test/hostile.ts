import { connect } from "node:net";
import { request } from "node:http";

/** An answer as it stands on the wire. */
export interface RawAnswer {
  readonly status: number;
  readonly body: string;
}

/** Sends bytes on a connection of their own and reads what comes until the other end is done, or `waitMs` have passed. */
export function sendRaw(port: number, bytes: string | Buffer, waitMs = 2000): Promise<RawAnswer> {
  return new Promise((done) => {
    const socket = connect(port, "127.0.0.1");
    let said = "";
    const finish = (): void => {
      socket.destroy();
      done({ status: Number(/^HTTP\/1\.1 (\d{3})/.exec(said)?.[1] ?? 0), body: said.split("\r\n\r\n").slice(1).join("\r\n\r\n") });
    };
    socket.setTimeout(waitMs, finish);
    socket.on("data", (chunk) => (said += chunk.toString("latin1")));
    socket.on("end", finish);
    socket.on("error", finish);
    socket.write(bytes);
  });
}

/** A request for a WebSocket with these headers. */
export const upgradeRequest = (path: string, host: string, more = ""): string =>
  `GET ${path} HTTP/1.1\r\nHost: ${host}\r\n${more}Connection: Upgrade\r\nUpgrade: websocket\r\nSec-WebSocket-Version: 13\r\nSec-WebSocket-Key: dGhlIHNhbXBsZSBub25jZQ==\r\n\r\n`;

/** A request with any headers; fetch keeps some to itself. */
export function ask(
  url: string,
  { method = "GET", headers = {}, body }: { method?: string; headers?: Record<string, string>; body?: string | Buffer } = {},
): Promise<RawAnswer> {
  return new Promise((done, failed) => {
    const asked = request(url, { method, headers, timeout: 20_000 }, (answer) => {
      const chunks: Buffer[] = [];
      answer.on("data", (c: Buffer) => chunks.push(c));
      answer.on("end", () => done({ status: answer.statusCode ?? 0, body: Buffer.concat(chunks).toString("utf8") }));
    });
    asked.on("error", failed);
    asked.on("timeout", () => asked.destroy(new Error(`no answer from ${url}`)));
    asked.end(body);
  });
}
