import { z } from "zod";
import type { Rule } from "../../solver/index.ts";
import { type FailureMode, NO_DEGREE } from "../device.ts";
import { positive, share } from "../settings.ts";
import { ALWAYS, NEVER, type Stamp } from "../stamp.ts";
import type { PinContext } from "./pin.ts";

/** The rule by which a pulsed output is on: steadily, in its share of the period's phase, or over time by the edges of a command that its part makes inside, against `ground`. */
export function pulseRule(
  p: { readonly duty: number; readonly hertz: number },
  { pin, at }: Pick<PinContext, "pin" | "at">,
  into: Stamp,
  ground = ".ground",
): Rule {
  if (p.duty >= 1) return ALWAYS;
  if (!at.transient) return at.phase < p.duty ? ALWAYS : NEVER;
  into.source(`${pin} command`, `.${pin} command`, ground, 0, 1, {
    kind: "pulse",
    low: 0,
    high: 1,
    delayS: 0.1 / p.hertz,
    riseS: 1e-6,
    fallS: 1e-6,
    widthS: p.duty / p.hertz,
    periodS: 1 / p.hertz,
  });
  into.resistor(`${pin} command's end`, `.${pin} command`, ground, 1);
  return into.watcher(`.${pin} command`, ground, 0.3, 0.2);
}

/** What every output that may pulse is set by: on its own, or as it is told by pulses at another pin of the module. */
export const pulsedOutput = {
  /** Below 1: pulsed, on for this share of each period. */
  duty: share.default(1),
  hertz: positive.default(100),
  /** The pin at which pulses tell it how much; without them it has the duty of `untoldDuty`. */
  follows: z.coerce
    .string()
    .regex(/^[A-Za-z0-9_]{1,12}$/)
    .optional(),
  untoldDuty: share.default(0),
} as const;

/** Shares of the period for which such an output is on, as it is told and as it is not. */
export const sharesOf = (p: {
  readonly duty: number;
  readonly follows?: string | undefined;
  readonly untoldDuty: number;
}): readonly number[] => [p.duty, ...(p.follows === undefined ? [] : [p.untoldDuty])].filter((share) => share > 0 && share < 1);

/** How a switching output fails inside, high side and low side alike. */
export const driverModes = (pin: string): readonly FailureMode[] => [
  {
    id: `${pin} dead`,
    words: `output ${pin} does not switch on`,
    weight: 0.7,
    harm: { kind: "stuck", part: `${pin} driver`, closed: false },
    severities: NO_DEGREE,
  },
  {
    id: `${pin} stuck`,
    words: `output ${pin} always on`,
    weight: 0.4,
    harm: { kind: "stuck", part: `${pin} driver`, closed: true },
    severities: NO_DEGREE,
  },
];
