import { spawnSync } from "node:child_process";
import fs from "node:fs";
import { join, relative } from "node:path";
import { PGlite } from "@electric-sql/pglite";
import { EmscriptenBuiltinFilesystem } from "@electric-sql/pglite/basefs";
import { NodeFS } from "@electric-sql/pglite/nodefs";

/** What the embedded database's own file system layer offers before it starts. */
interface Runtime {
  readonly FS: {
    mkdirTree(path: string, mode?: number): void;
    writeFile(path: string, data: Uint8Array, o?: { canOwn?: boolean }): void;
    chmod(path: string, mode: number): void;
  };
  readonly NODEFS: {
    readonly node_ops: {
      mknod: (parent: Node, name: string, ...rest: never[]) => unknown;
      rename: (node: Node, folder: Node, name: string) => void;
      unlink: (parent: Node, name: string) => void;
      rmdir: (parent: Node, name: string) => void;
      setattr: (node: Node, attr: { readonly size?: number }) => void;
    };
    readonly stream_ops: {
      write: (stream: Stream, ...rest: never[]) => number;
      setattr: (stream: Stream, attr: { readonly size?: number }) => void;
      fsync?: (stream: Stream) => number;
    };
    realPath(node: Node): string;
  };
}
interface Node {
  readonly parent: Node;
}
interface Stream {
  readonly nfd?: number;
  readonly node: Node;
}
type InitOptions = Parameters<EmscriptenBuiltinFilesystem["init"]>[1];
type Init = ReturnType<EmscriptenBuiltinFilesystem["init"]>;

/**
 * The data folder on disk, with a sync that reaches the disk. The embedded database asks for it at every commit and checkpoint (`fsync = on`), but its own file system layer
 * has nothing to answer with, so that without this a power cut takes what was acknowledged.
 *
 * At its start after a crash the database syncs each of its thousand files, at a flush of the disk each. The folder is brought to the disk once before (`syncAll`), and from then on only
 * what was written to needs another sync.
 */
export class DurableFiles extends NodeFS {
  readonly #folder: string;
  constructor(folder: string) {
    super(folder);
    this.#folder = folder;
  }
  override async init(pg: PGlite, options: InitOptions): Init {
    const made = await super.init(pg, options);
    const unsynced = syncAll(this.#folder) ? new Set<string>() : undefined;
    const hook = (runtime: unknown): void => reachDisk(runtime as Runtime, unsynced);
    return { emscriptenOpts: { ...made.emscriptenOpts, preRun: [hook as never, ...(made.emscriptenOpts.preRun ?? [])] } };
  }
}

/** `unsynced`: paths that have been written to since all was on the disk; undefined when that was never so, and everything is synced when asked for. */
function reachDisk({ NODEFS }: Runtime, unsynced: Set<string> | undefined): void {
  const { node_ops, stream_ops } = NODEFS;
  const touch = (node: Node): void => void unsynced?.add(NODEFS.realPath(node));
  const after =
    <A extends unknown[], R>(work: (...args: A) => R, touched: (...args: A) => void) =>
    (...args: A): R => {
      const result = work(...args);
      touched(...args);
      return result;
    };
  stream_ops.write = after(stream_ops.write, (stream) => touch(stream.node));
  stream_ops.setattr = after(stream_ops.setattr, (stream, { size }) => size !== undefined && touch(stream.node));
  node_ops.setattr = after(node_ops.setattr, (node, { size }) => size !== undefined && touch(node));
  node_ops.unlink = after(node_ops.unlink, touch);
  node_ops.rmdir = after(node_ops.rmdir, touch);
  node_ops.mknod = after(node_ops.mknod, (parent, name) => {
    touch(parent);
    unsynced?.add(join(NODEFS.realPath(parent), name));
  });
  const { rename } = node_ops;
  node_ops.rename = (node, folder, name) => {
    touch(node.parent);
    rename(node, folder, name);
    touch(folder);
    unsynced?.add(join(NODEFS.realPath(folder), name));
  };
  stream_ops.fsync = (stream) => {
    const path = NODEFS.realPath(stream.node);
    if (unsynced?.has(path) === false) return 0;
    if (stream.nfd !== undefined && fs.fstatSync(stream.nfd).isFile()) fs.fdatasyncSync(stream.nfd);
    else syncFolder(path);
    unsynced?.delete(path);
    return 0;
  };
}

/** Brings the whole file system of a folder to the disk at once. False where the system has no command for it. */
export function syncAll(folder: string): boolean {
  return process.platform === "linux" && spawnSync("sync", ["-f", folder], { stdio: "ignore" }).status === 0;
}

/** A copy of the data folder in memory: for looking at it, or trying whether it opens, without writing to it. */
export class CopyInMemory extends EmscriptenBuiltinFilesystem {
  readonly #folder: string;
  constructor(folder: string) {
    super(folder);
    this.#folder = folder;
  }
  override async init(pg: PGlite, options: InitOptions): Init {
    const made = await super.init(pg, options);
    const load = (runtime: unknown): void => {
      const { FS } = runtime as Runtime;
      FS.mkdirTree(PGlite.paths.PGDATA, 0o700);
      for (const entry of walk(this.#folder)) {
        const target = `${PGlite.paths.PGDATA}/${relative(this.#folder, entry.path).split("\\").join("/")}`;
        if (entry.isFolder) FS.mkdirTree(target, 0o700);
        else {
          FS.writeFile(target, fs.readFileSync(entry.path), { canOwn: true });
          FS.chmod(target, 0o600);
        }
      }
    };
    return { emscriptenOpts: { ...made.emscriptenOpts, preRun: [...(made.emscriptenOpts.preRun ?? []), load as never] } };
  }
}

export function syncFolder(path: string): void {
  const fd = fs.openSync(path, "r");
  try {
    fs.fsyncSync(fd);
  } finally {
    fs.closeSync(fd);
  }
}

/** Brings a whole new folder to the disk: its first files are written without being synced one by one. */
export function syncTree(folder: string): void {
  if (syncAll(folder)) return;
  for (const { path } of walk(folder)) syncFolder(path);
  syncFolder(folder);
}

/** Every file and folder below one, folders ahead of what they hold. */
export function* walk(folder: string): Generator<{ readonly path: string; readonly isFolder: boolean }> {
  for (const entry of fs.readdirSync(folder, { withFileTypes: true })) {
    const path = join(folder, entry.name);
    yield { path, isFolder: entry.isDirectory() };
    if (entry.isDirectory()) yield* walk(path);
  }
}

const MEMORY = [
  // A table that is larger than a quarter of it is read from the files at every look through it: the jobs of twenty years have 15 MB.
  ...["-c", "shared_buffers=64MB", "-c", "random_page_cost=1.1", "-c", "wal_buffers=1MB", "-c", "work_mem=8MB"],
  ...["-c", "jit=off", "-c", "max_wal_size=64MB", "-c", "min_wal_size=32MB"],
  // Its clock would go on after a folder that cannot be opened, and hold the process.
  ...["-c", "log_startup_progress_interval=0"],
];
/** Start parameters of the embedded database, with every commit synced; `-F` turns that off. */
export const DURABLE_START = [
  ...PGlite.defaultStartParams.filter((p) => p !== "-F"),
  ...["-c", "fsync=on", "-c", "wal_sync_method=fsync", "-c", "synchronous_commit=on", "-c", "full_page_writes=on"],
  ...MEMORY,
];
/** For a copy in memory there is nothing to sync. */
export const PASSING_START = [...PGlite.defaultStartParams, ...MEMORY];
