import { useEffect, useMemo, useState } from "react";
import sameValue from "fast-deep-equal/es6/index.js";
import type { Harness } from "@rheonom/core/harness";
import type { ParseResult } from "@rheonom/core/notation";
import type { AnswerOf, HarnessQuery, InputOf, OtherQuery } from "./queries.ts";
import type { Asked } from "./session.ts";
import { session } from "./the-session.ts";

export interface Computed<T> {
  /** The latest result; an older one stays while a newer one is made. */
  readonly value: T | undefined;
  readonly busy: boolean;
  readonly failed: string | undefined;
}

/** The same object as long as what it holds is the same: the one key of every question. */
export function useSame<T>(value: T): T {
  const [kept, setKept] = useState(value);
  if (Object.is(kept, value) || sameValue(kept, value)) return kept;
  setKept(value);
  return value;
}

interface Result<T> {
  /** The question that it answers. */
  readonly of: unknown;
  readonly value: T | undefined;
  readonly failed: string | undefined;
}

const NOTHING: Result<never> = { of: undefined, value: undefined, failed: undefined };

/** Asks whenever `ask` is another one, gives the question before up, and keeps the last result meanwhile. Undefined: nothing is asked. */
function useAsked<T>(ask: (() => Asked<T>) | undefined): Computed<T> {
  const [result, setResult] = useState<Result<T>>(NOTHING);
  useEffect(() => {
    if (ask === undefined) return;
    let isStale = false;
    const asked = ask();
    asked.answer.then(
      (value) => !isStale && setResult({ of: ask, value, failed: undefined }),
      (error: unknown) =>
        !isStale && setResult((r) => ({ of: ask, value: r.value, failed: error instanceof Error ? error.message : String(error) })),
    );
    return () => {
      isStale = true;
      asked.giveUp();
    };
  }, [ask]);
  if (ask === undefined) return { value: undefined, busy: false, failed: undefined };
  return { value: result.value, busy: result.of !== ask, failed: result.failed };
}

/** The answer to a question about a harness; undefined harness or input: nothing is asked. */
export function useQuery<K extends HarnessQuery>(
  name: K,
  harness: Harness | undefined,
  input: InputOf<K> | undefined,
): Computed<AnswerOf<K>> {
  const same = useSame(input);
  const ask = useMemo(
    () => (harness === undefined || same === undefined ? undefined : () => session.ask(name, harness, same)),
    [name, harness, same],
  );
  return useAsked(ask);
}

/** The answer to a question that needs no harness. */
export function useQueryAlone<K extends OtherQuery>(name: K, input: InputOf<K> | undefined): Computed<AnswerOf<K>> {
  const same = useSame(input);
  const ask = useMemo(() => (same === undefined ? undefined : () => session.askAlone(name, same)), [name, same]);
  return useAsked(ask);
}

/** Circuits that were read last, by their text: the next screen that reads the same one gets the same harness, with everything that was computed for it. */
const read = new Map<string, Promise<ParseResult | undefined>>();
const MOST_READ = 4;

function readOf(text: string): Asked<ParseResult> {
  const known = read.get(text);
  if (known !== undefined) return { answer: known, giveUp: () => undefined };
  const asked = session.askAlone("parse", { text });
  read.set(text, asked.answer);
  const forget = (): void => {
    if (read.get(text) === asked.answer) read.delete(text);
  };
  // What was given up or failed is read anew by whoever asks next.
  asked.answer.then((value) => (value === undefined ? forget() : undefined), forget);
  for (const oldest of read.keys()) {
    if (read.size <= MOST_READ) break;
    read.delete(oldest);
  }
  return { answer: asked.answer as Promise<ParseResult>, giveUp: () => undefined };
}

export function useParsed(text: string | undefined): Computed<ParseResult> {
  const ask = useMemo(() => (text === undefined ? undefined : () => readOf(text)), [text]);
  return useAsked(ask);
}
