import { createHash } from "node:crypto";
import { closeSync, existsSync, ftruncateSync, mkdirSync, openSync, readFileSync, realpathSync, rmSync, writeSync } from "node:fs";
import { connect, createServer, type Server } from "node:net";
import { join } from "node:path";
import { tryLock } from "fs-native-extensions";

/** Thrown when another process has the data folder open. */
export class FolderHeldError extends Error {
  constructor(folder: string, holder: string) {
    super(`The data folder ${folder} is open in another process (${holder}). Stop that one first, or set RHEONOM_DATA to another folder.`);
  }
}

const ANSWER_MS = 1500;

/** Asks whoever listens who they are; undefined when nobody answers. */
function askHolder(address: string): Promise<string | undefined> {
  return new Promise((resolve) => {
    const socket = connect(address);
    let said = "";
    const done = (answer: string | undefined): void => {
      socket.destroy();
      resolve(answer);
    };
    socket.setTimeout(ANSWER_MS, () => done(said === "" ? "a process that does not answer" : said));
    socket.on("data", (chunk) => (said += chunk.toString("utf8")));
    socket.on("end", () => done(said));
    socket.on("error", () => done(undefined));
  });
}

function listen(address: string, who: string): Promise<Server | "busy"> {
  return new Promise((resolve, reject) => {
    const server = createServer((socket) => {
      socket.on("error", () => socket.destroy());
      socket.end(who);
    });
    server.once("error", (error: NodeJS.ErrnoException) => (error.code === "EADDRINUSE" ? resolve("busy") : reject(error)));
    server.listen(address, () => {
      server.unref();
      resolve(server);
    });
  });
}

/** Lets go. `leaveNoTrace`: the file of the lock goes too when this hold has made it, as in a folder that turned out to be none of ours. */
export type Release = (leaveNoTrace?: boolean) => void;

/**
 * Holds a data folder for this process alone. The embedded database takes no lock of its own and two processes would lose rows silently.
 *
 * Two holds, both gone with the process, also after `kill -9`: a lock of the system on the file `lock` in the folder, which belongs to the file and so is seen through every
 * bind mount, container and network namespace of the machine; and a socket named after the folder's path, by which older versions knew of each other.
 * Throws FolderHeldError. Returns the release.
 */
export async function holdFolder(folder: string, who: string): Promise<Release> {
  mkdirSync(folder, { recursive: true });
  const real = realpathSync(folder);
  const unlock = lockFile(real, who);
  try {
    const close = await listenFor(real, who);
    return (leaveNoTrace = false) => {
      close();
      unlock(leaveNoTrace);
    };
  } catch (error) {
    unlock(false);
    throw error;
  }
}

function lockFile(folder: string, who: string): (leaveNoTrace: boolean) => void {
  const isNew = !existsSync(join(folder, "lock"));
  const fd = openSync(join(folder, "lock"), "a+");
  let granted = false;
  try {
    granted = tryLock(fd);
    if (!granted) throw new FolderHeldError(folder, readFileSync(join(folder, "lock"), "utf8").trim().slice(0, 200) || "unknown");
    ftruncateSync(fd);
    writeSync(fd, who);
    return (leaveNoTrace) => {
      ftruncateSync(fd);
      // While it is still held, so that nobody else has come to hold it meanwhile.
      if (leaveNoTrace && isNew) rmSync(join(folder, "lock"), { force: true });
      closeSync(fd);
    };
  } finally {
    if (!granted) closeSync(fd);
  }
}

/**
 * A share of the hold, for reading the folder: nobody may write to it meanwhile. Throws FolderHeldError when somebody does. Returns the release; there is nothing to hold
 * where no process has ever written.
 */
export function shareFolder(folder: string): () => void {
  const path = join(folder, "lock");
  if (!existsSync(path)) return () => undefined;
  const fd = openSync(path, "r");
  if (tryLock(fd, { shared: true })) return () => closeSync(fd);
  closeSync(fd);
  throw new FolderHeldError(folder, readFileSync(path, "utf8").trim().slice(0, 200) || "unknown");
}

async function listenFor(real: string, who: string): Promise<() => void> {
  const abstract = process.platform === "linux";
  const name = createHash("sha256").update(real).digest("hex").slice(0, 40);
  const address = abstract
    ? `\0rheonom-${name}`
    : process.platform === "win32"
      ? `\\\\.\\pipe\\rheonom-${name}`
      : join(real, "holder.sock");
  for (let attempt = 0; attempt < 2; attempt++) {
    const server = await listen(address, who);
    if (server !== "busy") return () => void server.close();
    const holder = await askHolder(address);
    if (holder !== undefined || abstract || attempt > 0) throw new FolderHeldError(real, holder ?? "unknown");
    rmSync(address, { force: true });
  }
  throw new FolderHeldError(real, "unknown");
}
