import { useCallback, useEffect, useState } from "react";
import type { CaseAnswer, Question, SearchExtent } from "@rheonom/core/diagnosis";
import type { Harness } from "@rheonom/core/harness";
import type { Asked } from "./session.ts";
import { session } from "./the-session.ts";
import { useSame } from "./use-query.ts";

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

/** What is asked about a harness. */
export type Asking = Omit<Question, "harness">;

interface State {
  readonly of: Asking | undefined;
  /** How far it was looked for the next test. */
  readonly extent: SearchExtent;
  readonly answer: CaseAnswer | undefined;
  readonly failed: string | undefined;
  readonly stopped: Asking | undefined;
}

const NOTHING: State = { of: undefined, extent: "none", answer: undefined, failed: undefined, stopped: undefined };

/** How long a ranking waits for the next test that belongs to it, ms. */
const TOGETHER_MS = 60;

/**
 * Weighs the suspects of a job whenever the question is another one; of what comes in while one is weighed only the latest is taken up. What is left stands there while the next test is
 * still worked out, and a test at hand while better ones are looked for. Undefined: nothing to weigh.
 */
export function useDiagnosis(harness: Harness, question: Asking | undefined): Diagnosing {
  const asking = useSame(question);
  const [shown, setShown] = useState(NOTHING);
  useEffect(() => {
    if (asking === undefined) return;
    let isStale = false;
    let ahead: Asked<void> | undefined;
    let soon: ReturnType<typeof setTimeout> | undefined;
    const show = (extent: SearchExtent, answer: CaseAnswer): void => {
      clearTimeout(soon);
      if (isStale) return;
      const now = (): void => setShown({ ...NOTHING, of: asking, extent, answer });
      // Mostly the next test follows at once: drawing the screen twice would only make it come later.
      if (extent === "none") soon = setTimeout(now, TOGETHER_MS);
      else now();
    };
    const asked = session.ask("diagnosis", harness, asking, ({ extent, answer }) => show(extent, answer));
    asked.answer.then(
      (answer) => {
        if (answer === undefined || isStale) return;
        show("as needed", answer);
        // Nobody waits for this, and nothing hangs on it.
        ahead = session.ask("foresight", harness, { question: asking });
        ahead.answer.catch(() => undefined);
      },
      (error: unknown) => {
        clearTimeout(soon);
        const failed = error instanceof Error ? error.message : String(error);
        if (!isStale) setShown((s) => ({ ...s, of: asking, extent: "as needed", failed, stopped: undefined }));
      },
    );
    return () => {
      isStale = true;
      clearTimeout(soon);
      asked.giveUp();
      ahead?.giveUp();
    };
  }, [harness, asking]);
  const stop = useCallback((): void => {
    session.stop("thinking");
    setShown((s) => ({ ...s, stopped: asking }));
  }, [asking]);
  if (asking === undefined)
    return { answer: undefined, busy: false, choosing: false, better: false, stopped: false, failed: undefined, stop };
  const stopped = shown.stopped === asking;
  const fresh = shown.of === asking && !stopped;
  return {
    answer: shown.answer,
    busy: !stopped && !(fresh && shown.extent === "as needed"),
    choosing: fresh && shown.extent === "none",
    better: fresh && shown.extent === "at hand",
    stopped,
    failed: shown.failed,
    stop,
  };
}
