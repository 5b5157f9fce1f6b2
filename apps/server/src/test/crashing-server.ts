import { createServer } from "node:http";
import { pino } from "pino";
import { guardProcess, inFlight } from "../crash.ts";

/** A server that fails on /throw and /reject as none should, where nothing catches it. A program of its own. */
const server = createServer(
  inFlight((request) => {
    if (request.url?.startsWith("/throw") === true)
      setTimeout(() => {
        throw new Error("nobody expected this");
      }, 5);
    if (request.url?.startsWith("/reject") === true) setTimeout(() => void Promise.reject(new Error("nobody expected this")), 5);
  }),
);
guardProcess(pino(), (code) => {
  process.stdout.write("stopping in order\n");
  server.closeAllConnections();
  setTimeout(() => process.exit(code), 50);
});
server.listen(0, "127.0.0.1", () => {
  const address = server.address();
  process.stdout.write(`port ${typeof address === "object" ? address?.port : ""}!\n`);
});
