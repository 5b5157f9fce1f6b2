import { useEffect, useMemo, useState } from "react";
import type { Harness } from "@rheonom/core/harness";
import { askedOfJob, EMPTY_COMPLAINT, foldJob, type JobView, type SymptomOffer } from "@rheonom/core/job";
import { makeEvent, newId } from "../../job/record.ts";
import { session } from "../../worker/the-session.ts";
import { useParsed, useQuery, useSame } from "../../worker/use-query.ts";

const SETTLE_MS = 300;

/** While somebody still reads the offers, what the first of them would come to is worked out. */
export function useAhead(harness: Harness | undefined, view: JobView, offer: SymptomOffer | undefined): void {
  const line = useSame(offer?.lines[0]);
  const state = useQuery("symptomState", harness, line).value;
  const question = useMemo(() => {
    if (harness === undefined || line === undefined || state === undefined) return undefined;
    const { part, word, wrong } = line;
    const data = { state, observe: { kind: "part" as const, part }, word, wrong, source: "customer" as const };
    const taken = { id: "ahead", at: view.lastAt, by: "", data, mendsBefore: 0, struck: undefined };
    return askedOfJob(harness, { ...view, seen: [...view.seen, taken] }, part, state);
  }, [harness, view, line, state]);
  const same = useSame(question);
  useEffect(() => {
    if (harness === undefined || same === undefined) return;
    const asked = session.ask("ahead", harness, same);
    // Nobody waits for it, and nothing hangs on it.
    asked.answer.catch(() => undefined);
    return asked.giveUp;
  }, [harness, same]);
}

/**
 * While a job is still being written down: the wiring of the vehicle that was chosen is read and made ready as soon as it is there, and what the words would come to is worked out, so that
 * the first ranking need not begin from nothing. `notation`: undefined where no vehicle is chosen.
 */
export function useReady(notation: string | undefined, words: string): void {
  const settled = useSettled(words);
  const harness = useParsed(notation).value?.harness;
  useEffect(() => {
    if (harness !== undefined) session.begin(harness);
  }, [harness]);
  const offers = useQuery("symptoms", harness, settled === "" ? undefined : { words: settled }).value;
  const [view] = useState(emptyJob);
  useAhead(harness, view, settled === "" ? undefined : offers?.[0]);
}

/** A job of which nothing is known but its vehicle; words are no evidence. */
const emptyJob = (): JobView =>
  foldJob([makeEvent(newId(), "nobody", { type: "job-opened", data: { ...EMPTY_COMPLAINT, vehicle: "?", words: "?" } })])!;

/** What was typed, once nothing more was typed for a moment. */
function useSettled(text: string): string {
  const [settled, setSettled] = useState(text);
  useEffect(() => {
    const timer = setTimeout(() => setSettled(text), SETTLE_MS);
    return () => clearTimeout(timer);
  }, [text]);
  return settled.trim();
}
