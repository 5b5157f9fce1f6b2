import { useState } from "react";
import { ShieldCheck } from "lucide-react";
import { chainedLogSchema, checkChain, type ChainChecked } from "@rheonom/core/job";
import { FileButton } from "../../ui/file-button.tsx";
import { Notice } from "../../ui/notice.tsx";

/** Larger files are no log of a job, bytes. */
const MOST_BYTES = 64e6;

const hex = (bytes: ArrayBuffer): string => [...new Uint8Array(bytes)].map((b) => b.toString(16).padStart(2, "0")).join("");
const sha256 = async (text: string): Promise<string> => hex(await crypto.subtle.digest("SHA-256", new TextEncoder().encode(text)));

type Answer = { readonly kind: "unread"; readonly message: string } | (ChainChecked & { readonly of: number });

async function checked(file: File): Promise<Answer> {
  if (file.size > MOST_BYTES)
    return { kind: "unread", message: `${file.name} has ${(file.size / 1e6).toFixed(0)} MB; a log has less than ${MOST_BYTES / 1e6} MB.` };
  try {
    const read = chainedLogSchema.safeParse(JSON.parse(await file.text()));
    if (!read.success)
      return {
        kind: "unread",
        message: `${file.name} is not the log of a job: ${read.error.issues[0]?.path.join(".")} ${read.error.issues[0]?.message}.`,
      };
    return { ...(await checkChain(read.data, sha256)), of: read.data.entries.length };
  } catch (error) {
    return { kind: "unread", message: `${file.name} is not valid JSON: ${error instanceof Error ? error.message : String(error)}` };
  }
}

/** Checks a saved log, of this shop or another: whether every entry is as it was stored. */
export function CheckLog() {
  const [answer, setAnswer] = useState<Answer | undefined>(undefined);
  return (
    <>
      <FileButton label="Saved log to check" accept="application/json,.json" onFiles={([file]) => void checked(file!).then(setAnswer)}>
        <ShieldCheck size={18} aria-hidden /> Check a log
      </FileButton>
      {answer === undefined ? null : (
        <Notice tone={answer.kind === "fits" ? "info" : "danger"} title={TITLE[answer.kind]}>
          {said(answer)}
        </Notice>
      )}
    </>
  );
}

const TITLE: Readonly<Record<Answer["kind"], string>> = { fits: "Every entry fits", broken: "Not as it was stored", unread: "Not read" };

function said(answer: Answer): string {
  switch (answer.kind) {
    case "unread":
      return answer.message;
    case "broken":
      return `Entry ${answer.number} of ${answer.of} does not fit: ${answer.entry.type}, ${answer.entry.at}, ${answer.entry.by}. It, or one before it, was changed after it was stored.`;
    case "fits":
      return `${answer.entries - answer.unchained} chained entries, last ${answer.hash === "" ? "none" : answer.hash}.${answer.unchained === 0 ? "" : ` ${answer.unchained} are older than the chain: nothing can be said of them.`}${answer.removed === 0 ? "" : ` The customer was taken out of ${answer.removed}, so what those said cannot be checked.`}`;
  }
}
