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
  readonly NODEFS: { stream_ops: { fsync?: (stream: Stream) => number }; realPath(node: unknown): string };
}
interface Stream {
  readonly nfd?: number;
  readonly node: unknown;
}
type InitOptions = Parameters<EmscriptenBuiltinFilesystem["init"]>[1];
type Init = ReturnType<EmscriptenBuiltinFilesystem["init"]>;

/**
 * The data folder on disk, with a sync that reaches the disk. The embedded database asks for it at every commit and checkpoint (`fsync = on`), but its own file system layer
 * has nothing to answer with, so that without this a power cut takes what was acknowledged.
 */
export class DurableFiles extends NodeFS {
  override async init(pg: PGlite, options: InitOptions): Init {
    const made = await super.init(pg, options);
    const hook = (runtime: unknown): void => {
      const { NODEFS } = runtime as Runtime;
      NODEFS.stream_ops.fsync = (stream) => {
        if (stream.nfd !== undefined && fs.fstatSync(stream.nfd).isFile()) fs.fdatasyncSync(stream.nfd);
        else syncFolder(NODEFS.realPath(stream.node));
        return 0;
      };
    };
    return { emscriptenOpts: { ...made.emscriptenOpts, preRun: [hook as never, ...(made.emscriptenOpts.preRun ?? [])] } };
  }
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
  // The folder of a shop is some 100 MB: the system's own cache of files does the rest.
  ...["-c", "shared_buffers=24MB", "-c", "wal_buffers=1MB", "-c", "work_mem=8MB"],
  ...["-c", "jit=off", "-c", "max_wal_size=64MB", "-c", "min_wal_size=32MB"],
];
/** Start parameters of the embedded database, with every commit synced; `-F` turns that off. */
export const DURABLE_START = [
  ...PGlite.defaultStartParams.filter((p) => p !== "-F"),
  ...["-c", "fsync=on", "-c", "wal_sync_method=fsync", "-c", "synchronous_commit=on", "-c", "full_page_writes=on"],
  ...MEMORY,
];
/** For a copy in memory there is nothing to sync. */
export const PASSING_START = [...PGlite.defaultStartParams, ...MEMORY];
