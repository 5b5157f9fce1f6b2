import { createHash } from "node:crypto";
import { unzipSync, type UnzipFileInfo } from "fflate";
import { HARNESS_SHAPE, readJson } from "../doors/json.ts";
import { AppError } from "../errors.ts";

export const sha256 = (bytes: Uint8Array | string): string => createHash("sha256").update(bytes).digest("hex");
/** JSON as it lies in a file that people open. */
export const jsonBytes = (value: unknown): Uint8Array => new TextEncoder().encode(JSON.stringify(value, null, 1));

/** What a file of ours may hold when it comes in as a zip. */
export interface ZipForm {
  /** Names that it holds; no way out of a folder can be written in them. */
  readonly name: RegExp;
  /** Names of pictures and traces, the hash in a group each; they have bounds of their own. */
  readonly media: readonly RegExp[];
  readonly refused: (why: string) => AppError;
  /** How it is called where something has no place in it. */
  readonly what: string;
}

/** Bounds of what is unpacked: a log of many years, never a bomb. */
const MOST_FILES = 40;
const MOST_BYTES = 48e6;
const MOST_MEDIA = 200;
export const MOST_MEDIA_BYTES = 96e6;
const MOST_JSON_BYTES = 24e6;

/** Unpacks a zip: its names and sizes before anything of it. Throws what `refused` makes. */
export function unpack(zip: Uint8Array, { name: allowed, media, refused, what }: ZipForm): Record<string, Uint8Array> {
  const [files, kept] = [
    { count: 0, bytes: 0 },
    { count: 0, bytes: 0 },
  ];
  const look = ({ name, originalSize }: UnzipFileInfo): boolean => {
    if (!allowed.test(name))
      throw refused(`it holds a file with the name “${name.replace(/[^\x20-\x7e]/g, "?").slice(0, 60)}”, which no ${what} has`);
    const sum = media.some((m) => m.test(name)) ? kept : files;
    sum.count++;
    sum.bytes += originalSize;
    if (files.count > MOST_FILES) throw refused(`it holds more than ${MOST_FILES} files`);
    if (files.bytes > MOST_BYTES) throw refused(`it unpacks to more than ${MOST_BYTES / 1e6} MB`);
    if (kept.count > MOST_MEDIA || kept.bytes > MOST_MEDIA_BYTES)
      throw refused(`it holds more than ${MOST_MEDIA} pictures and traces, or ${MOST_MEDIA_BYTES / 1e6} MB of them`);
    return true;
  };
  try {
    return unzipSync(zip, { filter: look });
  } catch (error) {
    throw error instanceof AppError
      ? error
      : refused(`it is not a zip file that can be read (${error instanceof Error ? error.message.slice(0, 80) : "damaged"})`);
  }
}

/** Every file of a kind under the hash that its name says. */
export function namedIn(
  files: Readonly<Record<string, Uint8Array>>,
  kind: RegExp,
  { refused }: Pick<ZipForm, "refused">,
): Readonly<Record<string, Uint8Array>> {
  const found: Record<string, Uint8Array> = {};
  for (const [name, data] of Object.entries(files)) {
    const hash = kind.exec(name)?.[1];
    if (hash === undefined) continue;
    if (sha256(data) !== hash) throw refused(`${name.slice(0, 30)}… is not what its name says`);
    found[hash] = data;
  }
  return found;
}

/** A file as JSON, in shape. */
export function jsonIn(files: Readonly<Record<string, Uint8Array>>, name: string, { refused }: Pick<ZipForm, "refused">): unknown {
  const data = files[name];
  if (data === undefined) throw refused(`${name} is missing`);
  if (data.length > MOST_JSON_BYTES) throw refused(`${name} has more than ${MOST_JSON_BYTES / 1e6} MB`);
  try {
    return readJson(data, { ...HARNESS_SHAPE, text: 250_000 });
  } catch (error) {
    if (error instanceof AppError) throw refused(`${name} is not valid JSON, or not in shape`);
    throw error;
  }
}
