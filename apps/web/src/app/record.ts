import { jobEvent, uuidV7, type EventId, type JobEvent } from "@rheonom/core/job";
import { api } from "../api/api.ts";
import { failureOf, mayPass } from "../api/failure.ts";
import { acknowledged, added, failed, keep, letGo } from "../api/outbox.ts";
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
export function makeEvent(jobId: string, by: string, body: EventBody): JobEvent {
  return jobEvent.parse({ id: newId(), jobId, at: new Date().toISOString(), by, ...body });
}

/** Adds an event to a job: it counts here at once, is kept on this device, and goes to the server as soon as that answers. */
export const record =
  (jobId: string, body: EventBody) =>
  (dispatch: AppDispatch, getState: () => RootState): JobEvent => {
    const event = makeEvent(jobId, getState().session.person, body);
    keep(event);
    dispatch(added(event));
    void sendWaiting();
    return event;
  };

let sending = false;
let timer: ReturnType<typeof setTimeout> | undefined;

/** Sends what waits, job by job, in order; tries again later while the server is silent. */
export async function sendWaiting(): Promise<void> {
  if (sending) return;
  sending = true;
  clearTimeout(timer);
  try {
    for (;;) {
      const first = store.getState().outbox.waiting[0];
      if (first === undefined) return;
      const { jobId } = first;
      const events = store
        .getState()
        .outbox.waiting.filter((e) => e.jobId === jobId)
        .slice(0, BATCH);
      const answer = await post(jobId, events);
      if (answer === "silent") {
        timer = setTimeout(() => void sendWaiting(), RETRY_MS);
        return;
      }
      // One bad event must not hold back the others: find it by sending them singly.
      if (answer === "refused" && events.length > 1) for (const e of events) if ((await post(jobId, [e], true)) === "silent") break;
    }
  } finally {
    sending = false;
  }
}

async function post(jobId: string, events: JobEvent[], single = events.length === 1): Promise<"stored" | "refused" | "silent"> {
  const ids = events.map((e) => e.id);
  const sent = store.dispatch(api.endpoints.appendEvents.initiate({ jobId, events }));
  const result = await sent;
  sent.reset();
  if ("data" in result && result.data !== undefined) {
    store.dispatch(
      api.util.updateQueryData("job", jobId, (log) => {
        const known = new Set(log.events.map((e) => e.id));
        log.events.push(...events.filter((e) => !known.has(e.id)));
      }),
    );
    store.dispatch(acknowledged(ids));
    ids.forEach(letGo);
    return "stored";
  }
  const failure = failureOf("error" in result ? result.error : undefined);
  if (mayPass(failure)) {
    store.dispatch(failed({ ids, failure }));
    return "silent";
  }
  // A refused event stays on this device until somebody has read why and put it aside.
  if (single) store.dispatch(failed({ ids, failure }));
  return "refused";
}
