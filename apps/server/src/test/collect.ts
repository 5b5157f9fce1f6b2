import type request from "supertest";

/** Gathers an answer that is bytes, for `.buffer(true).parse(collect)`: its body is then a Buffer. */
export function collect(response: request.Response, done: (error: Error | null, body: Buffer) => void): void {
  const chunks: Buffer[] = [];
  const stream = response as unknown as NodeJS.ReadableStream;
  stream.on("data", (c: Buffer) => chunks.push(c));
  stream.on("end", () => done(null, Buffer.concat(chunks)));
}
