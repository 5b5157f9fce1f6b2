import { spawn } from "node:child_process";
import { dirname, resolve } from "node:path";
import { fileURLToPath } from "node:url";

/** Top folder of the project. */
export const root = resolve(dirname(fileURLToPath(import.meta.url)), "..");

/**
 * Runs a command in the project's folder and passes its output on. Resolves with the exit code and what was printed on
 * standard output.
 */
export function run(command, args, { env = {}, quiet = false } = {}) {
  return new Promise((done) => {
    const child = spawn(command, args, { cwd: root, env: { ...process.env, ...env }, stdio: ["ignore", "pipe", "pipe"] });
    let output = "";
    const take = (stream) => (chunk) => {
      output += chunk;
      if (!quiet) stream.write(chunk);
    };
    child.stdout.on("data", take(process.stdout));
    child.stderr.on("data", take(process.stderr));
    child.on("error", (error) => done({ code: 127, output: `${command}: ${error.message}\n` }));
    child.on("close", (code) => done({ code: code ?? 1, output }));
  });
}

/** A program of the installed packages, run by this Node.js. */
export const bin = (path, args, options) => run(process.execPath, [resolve(root, "node_modules", path), ...args], options);
