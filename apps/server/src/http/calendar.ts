import { Router } from "express";
import ical, { ICalCalendarMethod } from "ical-generator";
import { DATES_PATH } from "@rheonom/contract/light";
import type { JobDate } from "@rheonom/contract/shop";
import type { Store } from "../store/store.ts";

/** How long something that has an hour is shown, ms. */
const EVENT_MS = 30 * 60_000;
const SUMMARY: Readonly<Record<JobDate["kind"], (named: string, what: string) => string>> = {
  waits: (named, what) => `${named}: ${what === "" ? "wait ends" : what}`,
  ask: (named) => `Ask whether it came back: ${named}`,
  promised: (named) => `Promised: ${named}`,
};

/** The shop's days as a calendar that other programs follow (RFC 5545): what jobs wait for, and when somebody should ask whether a fault came back. */
export function calendarRoutes(store: Store, now: () => Date): Router {
  const router = Router();
  router.get(DATES_PATH.replace("/api", ""), async (request, response) => {
    const calendar = ical({ name: "Rheonom: days of the workshop", prodId: { company: "Rheonom", product: "days", language: "EN" } });
    calendar.method(ICalCalendarMethod.PUBLISH);
    const top = `${request.protocol}://${request.get("host") ?? "localhost"}`;
    for (const { jobId, vehicle, registration, whose, on, kind, what } of await store.listDates()) {
      const named = [vehicle, registration].filter((t) => t !== "").join(", ");
      calendar.createEvent({
        // The same day of the same job stays the same event, so that a change moves it.
        id: `${jobId}-${kind}@rheonom`,
        // A minute is the shop's, whose server this is.
        ...(on.includes("T")
          ? { start: new Date(on), end: new Date(Date.parse(on) + EVENT_MS) }
          : { start: new Date(`${on}T12:00:00Z`), allDay: true }),
        stamp: now(),
        summary: SUMMARY[kind](named, what),
        description: [kind === "ask" ? what : "", whose === "" ? "" : `Whose job: ${whose}`].filter((t) => t !== "").join("\n"),
        url: `${top}/jobs/${jobId}/${kind === "ask" ? "record" : "trace"}`,
      });
    }
    response.setHeader("Content-Disposition", 'inline; filename="rheonom-dates.ics"');
    // Only what the standard names: the package adds lines for single programs.
    response.type("text/calendar").send(calendar.toString().replace(/^X-.*\r\n/gm, ""));
  });
  return router;
}
