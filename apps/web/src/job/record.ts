import { original } from "@reduxjs/toolkit";
import { jobEvent, uuidV7, type EventId, type JobEvent } from "@rheonom/core/job";
import { api } from "../api/api.ts";
import { failureOf, type Failure } from "../api/failure.ts";
import { forgetEvents, keepEvent, readKeptEvents } from "../api/kept-events.ts";
import { withOwn } from "../api/known-log.ts";
import { acknowledged, added, asideWords, discarded, found, notKept, postponed, setAside, triedAgain } from "../api/outbox.ts";
import { printable } from "./printable.ts";
import { store, type AppDispatch, type RootState } from "./store.ts";

/** An event without what every event has. */
export type EventBody = JobEvent extends infer E ? (E extends JobEvent ? { type: E["type"]; data: E["data"] } : never) : never;

const RETRY_MS = 2000;
/** The server takes no more in one posting. */
const BATCH = 50;

/** A new id by this device's clock, later than any made before it here, so that ids keep the order of making. */
let last = 0;
export function newId(): EventId {
  last = Math.max(last + 1, Date.now());
  return uuidV7(last, crypto.getRandomValues(new Uint8Array(10)));
}

/** Makes an event. Throws when its data do not have the form of its type. */
export function makeEvent(jobId: string, by: string, body: EventBody, { id = newId(), at = new Date().toISOString() } = {}): JobEvent {
  return jobEvent.parse({ id, jobId, at, by, ...printable(body) });
}

/** Adds an event to a job: it counts here at once, is kept on this device, and goes to the server as soon as that answers. `stamp`: its id, who made it and when, where that was settled before. */
export const record =
  (jobId: string, body: EventBody, stamp?: { readonly id: EventId; readonly by: string; readonly at: string }) =>
  (dispatch: AppDispatch, getState: () => RootState): JobEvent => {
    const event = makeEvent(jobId, stamp?.by ?? getState().session.person, body, stamp);
    dispatch(added(event));
    void keepEvent(event).then((kept) => {
      // Said before anything can be lost; it is sent all the same.
      if (!kept) dispatch(notKept(event.id));
      return sendWaiting();
    });
    return event;
  };

/** Takes up what an earlier page has kept. */
export async function takeUpKept(): Promise<void> {
  store.dispatch(found(await readKeptEvents()));
  await sendWaiting();
}

/** Sends what was set aside once more. */
export const sendAgain =
  (id: string) =>
  (dispatch: AppDispatch): void => {
    dispatch(triedAgain(id));
    void sendWaiting();
  };

/** Gives up what was set aside. */
export const discard =
  (id: string) =>
  (dispatch: AppDispatch): void => {
    dispatch(discarded(id));
    void forgetEvents([id]);
  };

let sending = false;
let again = false;
let timer: ReturnType<typeof setTimeout> | undefined;

/** Sends what waits, job by job, in order; tries again later while the server cannot be asked. */
export async function sendWaiting(): Promise<void> {
  if (sending) {
    again = true;
    return;
  }
  sending = true;
  clearTimeout(timer);
  try {
    do {
      again = false;
      for (const jobId of new Set(waiting().map((e) => e.jobId))) {
        if ((await sendJob(jobId)) === "later") {
          timer = setTimeout(() => void sendWaiting(), RETRY_MS);
          return;
        }
      }
    } while (again || waiting().length > 0);
  } finally {
    sending = false;
  }
}

const waiting = (): readonly JobEvent[] => store.getState().outbox.waiting;

/** Sends all that waits of one job. What the server refuses, or fails on, is set aside and the rest goes on. */
async function sendJob(jobId: string): Promise<"done" | "later"> {
  for (;;) {
    const events = waiting()
      .filter((e) => e.jobId === jobId)
      .slice(0, BATCH);
    if (events.length === 0) return "done";
    const failure = await post(jobId, events);
    if (failure === undefined) continue;
    if (isForLater(failure)) return later(failure);
    if (events.length > 1) {
      // One bad entry must not hold back the others: find it by sending them singly.
      for (const e of events) {
        const single = await post(jobId, [e]);
        if (single === undefined) continue;
        if (isForLater(single) || !(await isToBlame(single))) return later(single);
        store.dispatch(setAside({ id: e.id, message: asideWords(single) }));
      }
    } else {
      if (!(await isToBlame(failure))) return later(failure);
      store.dispatch(setAside({ id: events[0]!.id, message: asideWords(failure) }));
    }
  }
}

function later(failure: Failure): "later" {
  store.dispatch(postponed(failure));
  return "later";
}

const isForLater = (failure: Failure): boolean => failure.kind === "unreachable" || failure.kind === "waiting" || failure.kind === "odd";

/** Whether it is this entry that the server failed on: it answers everything else. A refusal always is. */
async function isToBlame(failure: Failure): Promise<boolean> {
  if (failure.kind !== "choked") return true;
  const asked = store.dispatch(api.endpoints.health.initiate(undefined, { forceRefetch: true, subscribe: false }));
  return "data" in (await asked);
}

/** Posts events. Undefined when the server has them. */
async function post(jobId: string, events: readonly JobEvent[]): Promise<Failure | undefined> {
  const ids = events.map((e) => e.id);
  const sent = store.dispatch(api.endpoints.appendEvents.initiate({ jobId, events: [...events] }));
  const result = await sent;
  sent.reset();
  if (!("data" in result) || result.data === undefined) return failureOf("error" in result ? result.error : undefined);
  const takeIn = (): void => void store.dispatch(api.util.updateQueryData("job", jobId, (log) => withOwn(original(log)!, events)));
  takeIn();
  // A log that was asked for before these were stored, and comes after, does not hold them.
  void store.dispatch(api.util.getRunningQueryThunk("job", jobId))?.then(takeIn);
  store.dispatch(acknowledged(ids));
  void forgetEvents(ids);
  return undefined;
}
