import { countFaults } from "@rheonom/core/faults";
import type { Harness } from "@rheonom/core/harness";
import { HARNESS_QUERIES, OTHER_QUERIES, type HarnessQuery, type QueryName, type Work } from "./queries.ts";

/** How a question ends that was not given up. */
export type Ended =
  | { readonly kind: "answer"; readonly value: unknown }
  /** Given up before it was answered. */
  | { readonly kind: "cancelled" }
  /** The harness was closed meanwhile: open it and ask again. */
  | { readonly kind: "not open" };

/** The worker's side of the computing session: harnesses that stay open, so that what was computed for them stays warm, and questions by their numbers. */
export interface SessionHost {
  readonly open: (id: number, harness: Harness) => void;
  readonly close: (id: number) => void;
  /** `ticket`: a number of its own, for giving it up. Throws what the query throws. */
  readonly ask: (
    ticket: number,
    name: QueryName,
    harness: number | undefined,
    input: unknown,
    report: (progress: unknown) => void,
  ) => Promise<Ended>;
  readonly cancel: (ticket: number) => void;
}

/** `pause`: lets messages that have come meanwhile be heard. */
export function createHost(pause: () => Promise<void>): SessionHost {
  const open = new Map<number, Harness>();
  const cancelled = new Set<number>();
  const waiting = new Set<number>();
  const warm = new WeakSet<Harness>();

  /** Lists what can go wrong with the harnesses that are open while nobody waits, so that the first complaint finds it done. */
  async function warmUp(): Promise<void> {
    await pause();
    for (const harness of open.values()) {
      if (waiting.size > 0) return;
      if (warm.has(harness)) continue;
      warm.add(harness);
      try {
        countFaults(harness);
      } catch {
        // Whoever asks of such a harness is told what is wrong with it.
      }
      await pause();
    }
  }

  return {
    open: (id, harness) => {
      open.set(id, harness);
      void warmUp();
    },
    close: (id) => void open.delete(id),
    async ask(ticket, name, id, input, report) {
      waiting.add(ticket);
      const goOn = async (): Promise<boolean> => {
        await pause();
        return !cancelled.has(ticket);
      };
      const work: Work<never> = { report, goOn };
      try {
        // What nobody waits for any more is not begun.
        if (!(await goOn())) return { kind: "cancelled" };
        if (!isOfHarness(name)) {
          const query = OTHER_QUERIES[name] as (input: unknown, work: Work<never>) => unknown;
          return { kind: "answer", value: await query(input, work) };
        }
        const harness = open.get(id ?? -1);
        if (harness === undefined) return { kind: "not open" };
        const query = HARNESS_QUERIES[name] as (harness: Harness, input: unknown, work: Work<never>) => unknown;
        const value = await query(harness, input, work);
        return cancelled.has(ticket) ? { kind: "cancelled" } : { kind: "answer", value };
      } finally {
        waiting.delete(ticket);
        cancelled.delete(ticket);
        if (waiting.size === 0) void warmUp();
      }
    },
    cancel: (ticket) => {
      if (waiting.has(ticket)) cancelled.add(ticket);
    },
  };
}

const isOfHarness = (name: QueryName): name is HarnessQuery => name in HARNESS_QUERIES;
