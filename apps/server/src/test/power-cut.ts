import fs from "node:fs";
import { createRequire } from "node:module";
import { dirname, join, relative } from "node:path";
import { walk } from "../store/embedded-files.ts";

/**
 * A disk that can lose its power. All that is done to a folder through Node's file system is written down; later the folder is made as it would be found when the power went at
 * any moment: what was synced is there, what was not is there in part, in any order, in pieces of 512 bytes. Names of files come and go in order, as in a journal; a sync of a file
 * brings its name along, a sync of a folder the names within it.
 */
export type DiskOp =
  | { readonly kind: "write"; readonly file: number; readonly at: number; readonly bytes: Buffer }
  | { readonly kind: "truncate"; readonly file: number; readonly size: number }
  | { readonly kind: "sync"; readonly file: number }
  | { readonly kind: "sync folder"; readonly path: string }
  | { readonly kind: "create"; readonly file: number; readonly path: string }
  | { readonly kind: "make folder"; readonly path: string }
  | { readonly kind: "remove"; readonly path: string }
  | { readonly kind: "rename"; readonly from: string; readonly to: string };

export interface Recording {
  /** In the order of doing. */
  readonly ops: readonly DiskOp[];
  /** Files that were there from the beginning, by number. */
  readonly before: ReadonlyMap<number, { readonly path: string; readonly bytes: Buffer }>;
  readonly foldersBefore: readonly string[];
  readonly stop: () => void;
}

/** Writes down what is done to a folder from now on, by this thread. */
export function recordDisk(folder: string): Recording {
  const target = createRequire(import.meta.url)("node:fs") as Record<string, (...args: never[]) => unknown>;
  const names = new Map<string, number>();
  const open = new Map<number, number | string>();
  const before = new Map<number, { path: string; bytes: Buffer }>();
  const foldersBefore: string[] = [];
  const ops: DiskOp[] = [];
  let last = 0;
  for (const { path, isFolder } of walk(folder)) {
    const name = relative(folder, path);
    if (isFolder) foldersBefore.push(name);
    else {
      names.set(name, ++last);
      before.set(last, { path: name, bytes: fs.readFileSync(path) });
    }
  }
  const inside = (path: unknown): string | undefined =>
    typeof path === "string" && path.startsWith(folder) ? relative(folder, path) : undefined;
  const fileOf = (name: string): number => {
    const known = names.get(name);
    if (known !== undefined) return known;
    names.set(name, ++last);
    ops.push({ kind: "create", file: last, path: name });
    return last;
  };
  const originals = new Map<string, (...args: never[]) => unknown>();
  const watch = (name: string, told: (args: unknown[], result: unknown) => void): void => {
    const original = target[name]!;
    originals.set(name, original);
    target[name] = (...args: never[]) => {
      const result = original(...args);
      told(args, result);
      return result;
    };
  };
  watch("openSync", ([path, flags], fd) => {
    const name = inside(path);
    if (name === undefined) return;
    if (fs.statSync(path as string).isDirectory()) return void open.set(fd as number, name);
    const file = fileOf(name);
    open.set(fd as number, file);
    if (flags === "w" || (typeof flags === "number" && (flags & fs.constants.O_TRUNC) !== 0)) ops.push({ kind: "truncate", file, size: 0 });
  });
  watch("closeSync", ([fd]) => void open.delete(fd as number));
  watch("writeSync", ([fd, data, offset, length, position], written) => {
    const file = open.get(fd as number);
    if (typeof file !== "number") return;
    const view = data as Uint8Array;
    const bytes = Buffer.from(view.buffer, view.byteOffset + (offset as number), Math.min(length as number, written as number));
    ops.push({ kind: "write", file, at: position as number, bytes: Buffer.from(bytes) });
  });
  watch("writeFileSync", ([path, data]) => {
    const name = inside(path);
    if (name === undefined) return;
    const file = fileOf(name);
    ops.push({ kind: "truncate", file, size: 0 }, { kind: "write", file, at: 0, bytes: Buffer.from(String(data)) });
  });
  const truncate = (file: number | string | undefined, size: unknown): void => {
    if (typeof file === "number") ops.push({ kind: "truncate", file, size: (size as number | undefined) ?? 0 });
  };
  watch("ftruncateSync", ([fd, size]) => truncate(open.get(fd as number), size));
  watch("truncateSync", ([path, size]) => truncate(inside(path) === undefined ? undefined : fileOf(inside(path)!), size));
  watch("renameSync", ([from, to]) => {
    const [old, next] = [inside(from), inside(to)];
    if (old === undefined || next === undefined) return;
    const moved = names.get(old);
    names.delete(old);
    if (moved !== undefined) names.set(next, moved);
    ops.push({ kind: "rename", from: old, to: next });
  });
  const remove = ([path]: unknown[]): void => {
    const name = inside(path);
    if (name === undefined) return;
    names.delete(name);
    ops.push({ kind: "remove", path: name });
  };
  watch("unlinkSync", remove);
  watch("rmdirSync", remove);
  watch("mkdirSync", ([path]) => void (inside(path) !== undefined && ops.push({ kind: "make folder", path: inside(path)! })));
  const sync = ([fd]: unknown[]): void => {
    const file = open.get(fd as number);
    if (typeof file === "number") ops.push({ kind: "sync", file });
    else if (file !== undefined) ops.push({ kind: "sync folder", path: file });
  };
  watch("fsyncSync", sync);
  watch("fdatasyncSync", sync);
  return {
    ops,
    before,
    foldersBefore,
    stop: () => {
      for (const [name, original] of originals) target[name] = original;
    },
  };
}

type NameOp = Extract<DiskOp, { kind: "create" | "make folder" | "remove" | "rename" }>;
type DataOp = Extract<DiskOp, { kind: "write" | "truncate" }>;

const SECTOR = 512;

/** Makes the folder as it is found after the power went before operation `cut`. `chance`: numbers from 0 to below 1. */
export function afterPowerCut({ ops, before, foldersBefore }: Recording, cut: number, chance: () => number, into: string): void {
  const synced = new Map<number, Buffer>([...before].map(([file, b]) => [file, b.bytes]));
  const pending = new Map<number, DataOp[]>();
  const names = new Map<string, number | "folder">([
    ...foldersBefore.map((f) => [f, "folder"] as const),
    ...[...before].map(([file, b]) => [b.path, file] as const),
  ]);
  let journal: { readonly op: NameOp; readonly file: number | undefined }[] = [];
  const current = new Map(names);
  const commit = (count: number): void => {
    for (const { op } of journal.slice(0, count)) applyName(names, op);
    journal = journal.slice(count);
  };
  for (const op of ops.slice(0, cut)) {
    switch (op.kind) {
      case "write":
      case "truncate":
        pending.set(op.file, [...(pending.get(op.file) ?? []), op]);
        break;
      case "sync":
        synced.set(op.file, (pending.get(op.file) ?? []).reduce(applyData, synced.get(op.file) ?? Buffer.alloc(0)));
        pending.delete(op.file);
        commit(1 + journal.findLastIndex((j) => j.file === op.file));
        break;
      case "sync folder":
        commit(1 + journal.findLastIndex(({ op: n }) => dirname(n.kind === "rename" ? n.to : n.path) === (op.path === "" ? "." : op.path)));
        break;
      default: {
        const moved = op.kind === "rename" ? current.get(op.from) : op.kind === "create" ? op.file : undefined;
        journal.push({ op, file: typeof moved === "number" ? moved : undefined });
        applyName(current, op);
      }
    }
  }
  commit(Math.floor(chance() * (journal.length + 1)));
  fs.rmSync(into, { recursive: true, force: true });
  fs.mkdirSync(into, { recursive: true });
  for (const [name, what] of [...names].sort(([p], [q]) => (p < q ? -1 : 1))) {
    const path = join(into, name);
    if (what === "folder") fs.mkdirSync(path, { recursive: true });
    else {
      fs.mkdirSync(dirname(path), { recursive: true });
      fs.writeFileSync(
        path,
        (pending.get(what) ?? []).flatMap((op) => inPart(op, chance)).reduce(applyData, synced.get(what) ?? Buffer.alloc(0)),
      );
    }
  }
}

/** What of an operation that was not synced has reached the disk: each piece of it or not. */
function inPart(op: DataOp, chance: () => number): DataOp[] {
  if (op.kind === "truncate") return chance() < 0.5 ? [op] : [];
  const pieces: DataOp[] = [];
  for (let at = 0; at < op.bytes.length; at += SECTOR)
    if (chance() < 0.5) pieces.push({ ...op, at: op.at + at, bytes: op.bytes.subarray(at, at + SECTOR) });
  return pieces;
}

function applyData(bytes: Buffer, op: DataOp): Buffer {
  if (op.kind === "truncate")
    return op.size <= bytes.length ? bytes.subarray(0, op.size) : Buffer.concat([bytes, Buffer.alloc(op.size - bytes.length)]);
  const end = op.at + op.bytes.length;
  const grown = Buffer.concat([bytes, Buffer.alloc(Math.max(0, end - bytes.length))]);
  op.bytes.copy(grown, op.at);
  return grown;
}

function applyName(names: Map<string, number | "folder">, op: NameOp): void {
  switch (op.kind) {
    case "create":
      names.set(op.path, op.file);
      return;
    case "make folder":
      names.set(op.path, "folder");
      return;
    case "remove":
      names.delete(op.path);
      return;
    case "rename": {
      const moved = [...names].filter(([name]) => name === op.from || name.startsWith(`${op.from}/`));
      for (const [name] of moved) names.delete(name);
      for (const [name, what] of moved) names.set(op.to + name.slice(op.from.length), what);
    }
  }
}
