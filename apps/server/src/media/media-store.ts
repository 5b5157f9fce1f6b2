import { createHash, randomUUID } from "node:crypto";
import { existsSync } from "node:fs";
import { mkdir, open, readFile, rename, rm } from "node:fs/promises";
import { dirname, join } from "node:path";
import { promisify } from "node:util";
import { gunzip } from "node:zlib";
import { pictureHash } from "@rheonom/core/job";
import type { KeptPicture, KeptTrace } from "@rheonom/contract/shop";
import { MOST_KEPT_SAMPLES, readTraceHead } from "@rheonom/core/waveform";
import { AppError } from "../errors.ts";
import { freeBytes } from "../store/folder-state.ts";
import { checkPrepared, preparePicture, thumbnailOf } from "./prepare-picture.ts";

/** Pictures as files beside the database, each under the hash of its bytes: the same picture is stored once. */
export interface MediaStore {
  readonly folder: string;
  /** Takes in what a camera gave. Throws AppError picture-refused, disk-full or data-read-only, and then nothing of it is stored. */
  readonly take: (bytes: Uint8Array) => Promise<KeptPicture>;
  /**
   * Takes in what another shop has kept, each under its hash, as it is: all of it or none. Returns how to take it back, but for what was here before. Throws AppError
   * picture-refused, trace-refused, disk-full or data-read-only.
   */
  readonly takeKept: (media: KeptMedia) => Promise<{ readonly takeBack: () => Promise<void> }>;
  /** Undefined where there is none of that name. */
  readonly read: (hash: string, size: "whole" | "thumbnail") => Promise<Buffer | undefined>;
  /** Takes in a packed trace. Throws AppError trace-refused, disk-full or data-read-only, and then nothing of it is stored. */
  readonly takeTrace: (packed: Uint8Array) => Promise<KeptTrace>;
  /** The packed trace of a name; undefined where there is none. */
  readonly readTrace: (hash: string) => Promise<Buffer | undefined>;
  readonly remove: (hash: string) => Promise<void>;
}

/** Pictures and packed traces by their hash, which whoever gives them has checked. */
export interface KeptMedia {
  readonly pictures: Readonly<Record<string, Uint8Array>>;
  readonly traces: Readonly<Record<string, Uint8Array>>;
}

/** What is kept under a name in a folder of media; undefined where nothing is. */
export const readPicture = async (folder: string, hash: string, size: "whole" | "thumbnail" = "whole"): Promise<Buffer | undefined> =>
  pictureHash.safeParse(hash).success ? readFile(pictureFile(folder, hash, size)).catch(undefinedWhenMissing) : undefined;

/** Where a picture lies; `folder` of the media. */
export const pictureFile = (folder: string, hash: string, size: "whole" | "thumbnail" = "whole"): string =>
  join(folder, hash.slice(0, 2), `${hash}${size === "thumbnail" ? ".thumb" : ""}.jpg`);

const traceFile = (folder: string, hash: string): string => join(folder, hash.slice(0, 2), `${hash}.trace.gz`);

/** The packed trace of a name in a folder of media; undefined where there is none. */
export const readTraceOf = async (folder: string, hash: string): Promise<Buffer | undefined> =>
  pictureHash.safeParse(hash).success ? readFile(traceFile(folder, hash)).catch(undefinedWhenMissing) : undefined;

function undefinedWhenMissing(error: unknown): undefined {
  if ((error as NodeJS.ErrnoException).code === "ENOENT") return undefined;
  throw error;
}

/** Bytes that a trace unpacks to at most: its samples and its head. */
const MOST_UNPACKED = 4 * MOST_KEPT_SAMPLES + 8192;

const unpacked = promisify(gunzip) as (packed: Uint8Array, options: { readonly maxOutputLength: number }) => Promise<Buffer>;

/** Unpacks a trace with a bound, and looks at it. Throws AppError trace-refused. */
async function checkTrace(packed: Uint8Array): Promise<void> {
  const bytes = await unpacked(packed, { maxOutputLength: MOST_UNPACKED }).catch((error: unknown) => {
    const tooLarge = error instanceof RangeError;
    throw new AppError(
      "trace-refused",
      { why: tooLarge ? "it unpacks to more than a trace may have" : "it is not packed as a trace is" },
      [],
      error,
    );
  });
  const read = readTraceHead(bytes);
  if (read.kind === "bad") throw new AppError("trace-refused", { why: read.why });
}

/** Left free for the database beside what a picture needs, bytes. */
const RESERVE = 64e6;

/** `whyNot`: why nothing can be written now; "" while it can. `room`: bytes that can still be written, for tests. */
export function createMediaStore(folder: string, whyNot: () => string, room: () => number = () => roomAt(folder)): MediaStore {
  // One after the other: what unfolds to a hundred megabytes must not do so ten times at once.
  let before: Promise<unknown> = Promise.resolve();
  const inTurn = <T>(work: () => Promise<T>): Promise<T> => {
    const done = before.then(work, work);
    before = done.catch(() => undefined);
    return done;
  };
  const refuseUnlessRoom = (bytes: number): void => {
    const needed = bytes + RESERVE;
    if (room() < needed)
      throw new AppError("disk-full", { free: String(Math.floor(room() / 1e6)), needed: String(Math.ceil(needed / 1e6)) });
  };
  /** Writes files that lie in one folder, the last of which says that all are there. Returns those that were made: none where they were there before. */
  const keep = async (files: readonly (readonly [file: string, bytes: Uint8Array])[]): Promise<readonly string[]> => {
    const last = files.at(-1)![0];
    if (existsSync(last)) return [];
    refuseUnlessRoom(files.reduce((sum, [, bytes]) => sum + bytes.length, 0));
    await mkdir(dirname(last), { recursive: true });
    for (const [file, bytes] of files) await writeWhole(file, bytes);
    return files.map(([file]) => file);
  };
  // The thumbnail first: where the picture itself stands, all of it does.
  const keepPicture = (hash: string, jpeg: Uint8Array, thumbnail: Uint8Array): Promise<readonly string[]> =>
    keep([
      [pictureFile(folder, hash, "thumbnail"), thumbnail],
      [pictureFile(folder, hash), jpeg],
    ]);
  const refuseUnlessWritable = (): void => {
    const why = whyNot();
    if (why !== "") throw new AppError("data-read-only", { why });
  };
  return {
    folder,
    take: (bytes) =>
      inTurn(async () => {
        refuseUnlessWritable();
        const { jpeg, thumbnail, width, height } = await preparePicture(bytes);
        const hash = sha256(jpeg);
        await keepPicture(hash, jpeg, thumbnail);
        return { hash, width, height, bytes: jpeg.length };
      }),
    takeKept: ({ pictures, traces }) =>
      inTurn(async () => {
        refuseUnlessWritable();
        for (const jpeg of Object.values(pictures)) await checkPrepared(jpeg);
        for (const packed of Object.values(traces)) await checkTrace(packed);
        const made: string[] = [];
        const takeBack = async (): Promise<void> => {
          for (const file of made) await rm(file, { force: true });
        };
        try {
          for (const [hash, jpeg] of Object.entries(pictures)) made.push(...(await keepPicture(hash, jpeg, await thumbnailOf(jpeg))));
          for (const [hash, packed] of Object.entries(traces)) made.push(...(await keep([[traceFile(folder, hash), packed]])));
        } catch (error) {
          await takeBack();
          throw error;
        }
        return { takeBack };
      }),
    takeTrace: (packed) =>
      inTurn(async () => {
        refuseUnlessWritable();
        await checkTrace(packed);
        const hash = sha256(packed);
        await keep([[traceFile(folder, hash), packed]]);
        return { hash, bytes: packed.length };
      }),
    readTrace: (hash) => readTraceOf(folder, hash),
    read: (hash, size) => readPicture(folder, hash, size),
    remove: async (hash) => {
      for (const size of ["whole", "thumbnail"] as const) await rm(pictureFile(folder, hash, size), { force: true });
    },
  };
}

const sha256 = (bytes: Uint8Array): string => createHash("sha256").update(bytes).digest("hex");

/** All of a file or nothing of it, also when the power goes. */
async function writeWhole(file: string, bytes: Uint8Array): Promise<void> {
  const made = `${file}.${randomUUID().slice(0, 8)}.part`;
  try {
    const handle = await open(made, "wx");
    try {
      await handle.writeFile(bytes);
      await handle.sync();
    } finally {
      await handle.close();
    }
    await rename(made, file);
  } catch (error) {
    await rm(made, { force: true });
    if ((error as NodeJS.ErrnoException).code === "ENOSPC")
      throw new AppError("disk-full", { free: "0", needed: String(Math.ceil((bytes.length + RESERVE) / 1e6)) }, [], error);
    throw error;
  }
}

/** Bytes free where the folder lies or will lie. */
function roomAt(folder: string): number {
  let at = folder;
  while (!existsSync(at)) at = join(at, "..");
  return freeBytes(at);
}
