import { useCallback, useEffect, useRef, useState } from "react";
import { wrap, type Remote } from "comlink";
import type { VehicleState } from "@rheonom/core/circuit";
import type { CaseAnswer } from "@rheonom/core/diagnosis";
import type { Harness } from "@rheonom/core/harness";
import type { JobView } from "@rheonom/core/job";
import { identityOf } from "./identity.ts";
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
  /** What is left is of the latest finding already; where to measure next is not. */
  readonly choosing: boolean;
  /** The next test is the best of what lies at hand; others are still looked through. */
  readonly better: boolean;
  readonly stopped: boolean;
  readonly failed: string | undefined;
  /** Gives up what is being computed; the next finding starts it anew. */
  readonly stop: () => void;
}

interface State {
  readonly key: string | undefined;
  /** How far it was looked for the next test. */
  readonly stage: "none" | "at hand" | "as needed";
  readonly answer: CaseAnswer | undefined;
  readonly failed: string | undefined;
  readonly stopped: string | undefined;
}

/**
 * Weighs the suspects of a job whenever `key` changes. One computation at a time: what comes in meanwhile waits, and only the latest of it is taken up. Undefined: nothing to weigh.
 */
export function useDiagnosis(key: string | undefined, harness: Harness, view: JobView, load: string, state: VehicleState): Diagnosing {
  const [shown, setShown] = useState<State>({
    key: undefined,
    stage: "none",
    answer: undefined,
    failed: undefined,
    stopped: undefined,
  });
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
          // What is left stands on the screen while the next test is still worked out, and a test at hand while better ones are looked for.
          for (const next of ["none", "at hand", "as needed"] as const) {
            const answer = await used.host.answer(String(identityOf(now.harness)), now.harness, now.view, now.load, now.state, next);
            setShown({ key: now.key, stage: next, answer, failed: undefined, stopped: undefined });
            if (latest.current.key !== now.key) break;
          }
          // Nobody waits for this, and nothing hangs on it.
          void used.host.foresee(String(identityOf(now.harness)), now.harness, now.view, now.load, now.state).catch(() => undefined);
        } catch (error) {
          setShown((s) => ({
            ...s,
            key: now.key,
            stage: "as needed",
            failed: error instanceof Error ? error.message : String(error),
            stopped: undefined,
          }));
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
  if (key === undefined) return { answer: undefined, busy: false, choosing: false, better: false, stopped: false, failed: undefined, stop };
  const stopped = shown.stopped === key;
  const fresh = shown.key === key && !stopped;
  return {
    answer: shown.answer,
    busy: !stopped && !(fresh && shown.stage === "as needed"),
    choosing: fresh && shown.stage === "none",
    better: fresh && shown.stage === "at hand",
    stopped,
    failed: shown.failed,
    stop,
  };
}
