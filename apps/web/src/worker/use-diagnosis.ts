import { useCallback, useEffect, useRef, useState } from "react";
import { wrap, type Remote } from "comlink";
import type { VehicleState } from "@rheonom/core/circuit";
import type { CaseAnswer } from "@rheonom/core/diagnosis";
import type { Harness } from "@rheonom/core/harness";
import type { JobView } from "@rheonom/core/job";
import { identityOf } from "../app/identity.ts";
import type { DiagnosisHost } from "./diagnosis.worker.ts";

interface Helper {
  readonly worker: Worker;
  readonly host: Remote<DiagnosisHost>;
}

let helper: Helper | undefined;
function helperNow(): Helper {
  if (helper !== undefined) return helper;
  const worker = new Worker(new URL("./diagnosis.worker.ts", import.meta.url), { type: "module" });
  helper = { worker, host: wrap<DiagnosisHost>(worker) };
  return helper;
}

export interface Diagnosing {
  readonly answer: CaseAnswer | undefined;
  /** The answer is of what was found before the latest. */
  readonly busy: boolean;
  readonly stopped: boolean;
  readonly failed: string | undefined;
  /** Gives up what is being computed; the next finding starts it anew. */
  readonly stop: () => void;
}

interface State {
  readonly key: string | undefined;
  readonly answer: CaseAnswer | undefined;
  readonly failed: string | undefined;
  readonly stopped: string | undefined;
}

/**
 * Weighs the suspects of a job whenever `key` changes. One computation at a time: what comes in meanwhile waits, and only the latest of it is taken up. Undefined: nothing to weigh.
 */
export function useDiagnosis(key: string | undefined, harness: Harness, view: JobView, load: string, state: VehicleState): Diagnosing {
  const [shown, setShown] = useState<State>({ key: undefined, answer: undefined, failed: undefined, stopped: undefined });
  const latest = useRef({ key, harness, view, load, state });
  const running = useRef(false);
  useEffect(() => {
    latest.current = { key, harness, view, load, state };
  });
  const run = useCallback(async (): Promise<void> => {
    if (running.current) return;
    running.current = true;
    try {
      for (let done: string | undefined; latest.current.key !== undefined && latest.current.key !== done;) {
        const now = latest.current;
        done = now.key;
        const used = helperNow();
        try {
          const answer = await used.host.answer(String(identityOf(now.harness)), now.harness, now.view, now.load, now.state);
          setShown({ key: now.key, answer, failed: undefined, stopped: undefined });
        } catch (error) {
          setShown((s) => ({ ...s, key: now.key, failed: error instanceof Error ? error.message : String(error), stopped: undefined }));
        }
      }
    } finally {
      running.current = false;
    }
  }, []);
  useEffect(() => {
    if (key !== undefined) void run();
  }, [key, run]);
  const stop = useCallback((): void => {
    helper?.worker.terminate();
    helper = undefined;
    running.current = false;
    setShown((s) => ({ ...s, stopped: latest.current.key }));
  }, []);
  if (key === undefined) return { answer: undefined, busy: false, stopped: false, failed: undefined, stop };
  const stopped = shown.stopped === key;
  return { answer: shown.answer, busy: shown.key !== key && !stopped, stopped, failed: shown.failed, stop };
}
