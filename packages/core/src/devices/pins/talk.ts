import { z } from "zod";
import type { Rule } from "../../solver/index.ts";
import { NEVER, type Stamp } from "../stamp.ts";
import type { PinContext } from "./pin.ts";

/** Most times at which a transceiver may begin or end to hold its line: some hundred frames. */
const MOST_TURNS = 20_000;
/** Times at which a transceiver begins and ends to hold its line, s, in order and by turns; left out where it says nothing. Only a trace over time sees them. */
export const talk = z.array(z.number().min(0).max(1000)).max(MOST_TURNS).optional();

/** An edge of the command inside the module, s: far below any bit. */
const TURN_S = 2e-8;

/** The rule by which a transceiver holds its line over time. `farads`: of the pin and its stretch of wire against ground. */
export function talkRule(turns: readonly number[] | undefined, farads: number, { pin, at }: PinContext, into: Stamp): Rule {
  if (!at.transient || turns === undefined) return NEVER;
  into.capacitor(`${pin} line`, pin, ".ground", farads);
  if (turns.length === 0) return NEVER;
  const points: [number, number][] = [[0, 0]];
  turns.forEach((t, k) => points.push([t, k % 2], [t + TURN_S, 1 - (k % 2)]));
  into.source(`${pin} talk`, `.${pin} talk`, ".ground", 0, 1, { kind: "corners", points });
  into.resistor(`${pin} talk's end`, `.${pin} talk`, ".ground", 1);
  return into.watcher(`.${pin} talk`, ".ground", 0.3, 0.2);
}
