import type { VehicleState } from "@rheonom/core/circuit";
import type { Leads } from "@rheonom/core/instruments";
import type { JobView } from "@rheonom/core/job";
import type { InstrumentLine } from "./instrument-line.ts";
import { liveReading, type LiveReading } from "./live-reading.ts";
import { simulatedAt } from "./use-meter.ts";

/** How long it may take until the meter stands still, ms. */
const PATIENCE_MS = 8000;

/**
 * Turns the connected meter, waits until it stands still at these leads, and gives what it shows; or why there is nothing. It rests afterwards. On amps a real meter is not turned: it is nearly a
 * short between its leads.
 */
export function takeOnce(
  line: InstrumentLine,
  leads: Leads,
  state: VehicleState,
  view: Pick<JobView, "meterChecks">,
): Promise<NonNullable<LiveReading["kept"]> | string> {
  const { quantity } = leads;
  if (quantity === "amps" && line.state().via !== "simulated")
    return Promise.resolve("On amps a meter is nearly a short between its leads. Read it off the clamp and type it.");
  line.turn(quantity);
  line.moveLeads([simulatedAt(leads)], state);
  return new Promise((done) => {
    const end = (with_: NonNullable<LiveReading["kept"]> | string): void => {
      clearTimeout(timer);
      leave();
      line.turn(undefined);
      done(with_);
    };
    const look = (): void => {
      const now = line.state();
      if (now.status !== "connected") return end(now.trouble === "" ? "The meter is not connected any more." : now.trouble);
      const live = liveReading(now, quantity, view);
      if (live?.steadiness.kind === "steady" && live.kept !== undefined) end(live.kept);
    };
    const leave = line.subscribe(look);
    const timer = setTimeout(() => {
      const live = liveReading(line.state(), quantity, view);
      end(
        `The meter does not stand still${live === undefined ? "" : `: it shows ${live.text}`}. Hold the leads firmly, or type what you read.`,
      );
    }, PATIENCE_MS);
  });
}
