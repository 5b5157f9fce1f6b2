import { spawn } from "node:child_process";
import { fileURLToPath } from "node:url";
import type { Output } from "./usage.ts";

/** `rheonom check`: the server's program looks through its own data, since nobody else knows how that is stored. Returns its exit code. */
export function checkCommand(args: readonly string[], out: Output, err: Output): Promise<number> {
  const here = (path: string): string => fileURLToPath(new URL(path, import.meta.url));
  const program = ["--import", here("../../../scripts/ts-hook.mjs"), here("../../server/src/main.ts")];
  const child = spawn(process.execPath, [...program, "check", ...args], { stdio: ["ignore", "pipe", "pipe"] });
  child.stdout.on("data", (text: Buffer) => out.write(text.toString()));
  child.stderr.on("data", (text: Buffer) => err.write(text.toString()));
  return new Promise((done) => child.on("close", (code) => done(code ?? 1)));
}
