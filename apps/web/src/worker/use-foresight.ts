import { useEffect } from "react";
import type { Test } from "@rheonom/core/diagnosis";
import type { Harness } from "@rheonom/core/harness";
import type { ReadingView } from "@rheonom/core/job";
import type { Asked } from "./session.ts";
import { session } from "./the-session.ts";
import type { Asking } from "./use-diagnosis.ts";
import { useSame } from "./use-query.ts";

/** How long leads rest before they are taken to be where they shall be, ms. */
const REST_MS = 250;

/** Thinks through what may come out where the leads were just put, while the meter settles; undefined: they are nowhere. Nothing hangs on it. */
export function useForesight(
  harness: Harness,
  question: Asking | undefined,
  readings: readonly ReadingView[],
  test: Test | undefined,
): void {
  const same = useSame(test);
  useEffect(() => {
    if (same === undefined) return;
    const asked: Asked<void>[] = [];
    const timer = setTimeout(() => {
      asked.push(session.ask("ready", harness, { state: same.state, readings }));
      if (question !== undefined) asked.push(session.ask("foresight", harness, { question, test: same }));
      for (const { answer } of asked) answer.catch(() => undefined);
    }, REST_MS);
    return () => {
      clearTimeout(timer);
      for (const { giveUp } of asked) giveUp();
    };
  }, [harness, question, readings, same]);
}
