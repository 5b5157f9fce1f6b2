import { FolderHeldError } from "./hold-folder.ts";

/** Why the data cannot be opened for writing. */
export type StartFailure =
  /** Another process has it. */
  | { readonly kind: "held"; readonly message: string }
  /** Not a database of this program, or a damaged one: nothing was written to it. */
  | { readonly kind: "damaged"; readonly message: string }
  /** The disk is full; it may be looked at. */
  | { readonly kind: "full"; readonly message: string }
  /** The folder takes no files; it may be looked at. */
  | { readonly kind: "read-only"; readonly message: string }
  | { readonly kind: "other"; readonly message: string };

export class StartError extends Error {
  readonly kind: StartFailure["kind"];
  constructor(failure: StartFailure) {
    super(failure.message);
    this.kind = failure.kind;
  }
}

export const failureOfStart = (error: unknown): StartFailure => {
  if (error instanceof StartError) return { kind: error.kind, message: error.message };
  if (error instanceof FolderHeldError) return { kind: "held", message: error.message };
  const code = (error as NodeJS.ErrnoException | undefined)?.code;
  const message = error instanceof Error ? error.message : String(error);
  if (code === "ENOSPC") return { kind: "full", message };
  if (code === "EACCES" || code === "EROFS" || code === "EPERM") return { kind: "read-only", message };
  return { kind: "other", message };
};

/** What to do about a folder that nobody may write to. */
export const damagedWords = (folder: string, why: string): string =>
  [
    `The data folder ${folder} cannot be used: ${why}. Nothing was written to it. Choose one:`,
    `  restore      stop here, and copy a backup of the folder over it`,
    `  look at it   RHEONOM_LOOK=1 opens a copy of it in memory, as far as it can still be read; nothing can be entered`,
    `  move aside   mv ${folder} ${folder}.damaged, and start again with an empty board`,
  ].join("\n");
