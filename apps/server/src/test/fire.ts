import { Agent, request } from "node:http";
import type { Shot } from "./fuzz-api.ts";

const agent = new Agent({ keepAlive: true, maxSockets: 40 });
/** An answer that takes longer is none. */
const HANG_MS = 15_000;

/** Sends one request as it is. Rejects when the connection is lost or nothing comes. */
export function fire(
  url: string,
  { method, path, body, type = "application/json" }: Shot,
): Promise<{ readonly status: number; readonly body: string }> {
  return new Promise((done, failed) => {
    const headers = body === undefined ? {} : { "content-type": type, "content-length": Buffer.byteLength(body) };
    const { hostname, port } = new URL(url);
    const asked = request({ hostname, port, path, method, headers, agent, timeout: HANG_MS }, (answer) => {
      const chunks: Buffer[] = [];
      answer.on("data", (c: Buffer) => chunks.push(c));
      answer.on("end", () => done({ status: answer.statusCode ?? 0, body: Buffer.concat(chunks).toString("utf8") }));
      answer.on("error", failed);
    });
    asked.on("error", failed);
    asked.on("timeout", () =>
      asked.destroy(new Error(`no answer within ${HANG_MS / 1000} s: ${method} ${path} ${body?.slice(0, 500) ?? ""}`)),
    );
    asked.end(body);
  });
}
