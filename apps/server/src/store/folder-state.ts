import { createHash } from "node:crypto";
import fs from "node:fs";
import { join } from "node:path";
import { z } from "zod";
import { syncFolder, walk } from "./embedded-files.ts";

/** What lies in the database's folder, told without writing to it. */
export type FolderState =
  /** Nothing: a new database is made. */
  | { readonly kind: "empty" }
  /** As this program left it when it was stopped in order. */
  | { readonly kind: "sealed" }
  /** A database, but not as it was left: the process was killed, an older version closed it, or somebody changed files. */
  | { readonly kind: "unsealed" }
  /** Nothing that this program may write to. */
  | { readonly kind: "unusable"; readonly why: string };

/** Version of the embedded database's files that this program reads and writes. */
const PG_VERSION = "18";
/** Without these it is no database, or only a part of one. */
const NEEDED = ["global/pg_control", "global/pg_filenode.map", "base", "pg_wal", "pg_xact"];
const SEAL = "seal.json";
const seal = z.object({ files: z.number().int(), digest: z.string() });

/** Looks at `<dataFolder>/pg`. Throws what the file system throws when the folder cannot be read. */
export function inspectFolder(dataFolder: string): FolderState {
  const folder = join(dataFolder, "pg");
  if (!fs.existsSync(folder) || fs.readdirSync(folder).length === 0) {
    if (fs.existsSync(join(dataFolder, SEAL)))
      return { kind: "unusable", why: "a database was closed here in order, and its files are gone" };
    return { kind: "empty" };
  }
  const versionFile = join(folder, "PG_VERSION");
  if (!fs.existsSync(versionFile)) return { kind: "unusable", why: "it holds files, but not PG_VERSION, which every database folder has" };
  const version = fs.readFileSync(versionFile, "utf8").trim();
  if (version !== PG_VERSION)
    return { kind: "unusable", why: `it was made by version ${version.slice(0, 20)} of the database; this program needs ${PG_VERSION}` };
  const missing = NEEDED.find((name) => !fs.existsSync(join(folder, name)));
  if (missing !== undefined) return { kind: "unusable", why: `${missing} is missing in it` };
  const control = fs.statSync(join(folder, "global/pg_control")).size;
  if (control !== 8192) return { kind: "unusable", why: `global/pg_control has ${control} bytes in place of 8192` };
  return { kind: sealOf(dataFolder) === fingerprint(folder) ? "sealed" : "unsealed" };
}

function sealOf(dataFolder: string): string | undefined {
  try {
    return seal.parse(JSON.parse(fs.readFileSync(join(dataFolder, SEAL), "utf8"))).digest;
  } catch {
    return undefined;
  }
}

/** Names, sizes and times of change of all files: another after any change that goes through the file system. */
function fingerprint(folder: string): string {
  const hash = createHash("sha256");
  const paths = [...walk(folder)].filter((e) => !e.isFolder).map((e) => e.path);
  for (const path of paths.sort()) {
    const { size, mtimeNs } = fs.statSync(path, { bigint: true });
    hash.update(`${path.slice(folder.length)} ${size} ${mtimeNs}\n`);
  }
  return hash.digest("hex");
}

/** Says that the folder was left in order. Without a seal the next start tries the folder out first, which takes a second longer. */
export function sealFolder(dataFolder: string): void {
  const folder = join(dataFolder, "pg");
  const files = [...walk(folder)].length;
  fs.writeFileSync(join(dataFolder, SEAL), JSON.stringify({ files, digest: fingerprint(folder) }));
}

/** Taken off before the first write. */
export function breakSeal(dataFolder: string): void {
  fs.rmSync(join(dataFolder, SEAL), { force: true });
  syncFolder(dataFolder);
}

/** Bytes of the folder's files. */
export const bytesOf = (folder: string): number => {
  let sum = 0;
  for (const e of walk(folder)) if (!e.isFolder) sum += fs.statSync(e.path).size;
  return sum;
};

/** Bytes that can still be written where the folder lies. */
export function freeBytes(folder: string): number {
  const { bavail, bsize } = fs.statfsSync(folder);
  return bavail * bsize;
}

/** Whether the folder takes files, told without writing: undefined, or the system's code for why not. */
export function unwritable(dataFolder: string): string | undefined {
  try {
    for (const path of [dataFolder, join(dataFolder, "pg")]) if (fs.existsSync(path)) fs.accessSync(path, fs.constants.W_OK);
    return undefined;
  } catch (error) {
    return (error as NodeJS.ErrnoException).code ?? String(error);
  }
}
