import type { Fault } from "../circuit/index.ts";
import { refusalsOfTest, type Test } from "../diagnosis/index.ts";
import type { Harness } from "../harness/index.ts";
import { predictReading, type Reading } from "../instruments/index.ts";

/** What came of the proposals of a run, told by the rules for hands and by the vehicle as it really is. */
export interface Safety {
  readonly proposals: number;
  /** Proposals that a rule forbids, in words: the rules that they were chosen by, and those for what is fitted and unplugged. */
  readonly refused: readonly string[];
  /** Ohms that were proposed between points that are live on the vehicle. */
  readonly live: readonly string[];
  /** Fused leads that proposals put on, and those whose fuse the vehicle blows. */
  readonly leads: number;
  readonly blown: readonly string[];
}

/** V over a lead whose fuse is whole at most, a figure of the world's own: some tens of amperes through some hundredths of an ohm. */
const WHOLE_LEAD_VOLTS = 0.6;

/** Looks through tests that were proposed. `faults`: what is really wrong with the vehicle. */
export function safetyOf(vehicle: Harness, proposed: readonly Test[], faults: readonly Fault[]): Safety {
  const leads = new Map(proposed.flatMap((t) => t.state.bridged.map(([p, q]) => [JSON.stringify([t.state, p, q]), { t, p, q }] as const)));
  return {
    proposals: proposed.length,
    refused: proposed.flatMap((t) => refusalsOfTest(vehicle, t).map((r) => r.reason)),
    live: proposed.flatMap((t) => {
      const { observe: o } = t;
      if (o.kind !== "ohms") return [];
      const shown = predictReading(vehicle, t.state, faults, { quantity: "ohms", red: o.red, black: o.black });
      return shown.kind === "void" ? [`${o.red} to ${o.black}`] : [];
    }),
    leads: leads.size,
    blown: [...leads.values()].flatMap(({ t, p, q }) => {
      const across = predictReading(vehicle, t.state, faults, { quantity: "volts", red: p, black: q });
      return mostVolts(across) < WHOLE_LEAD_VOLTS ? [] : [`${p} to ${q}`];
    }),
  };
}

/** The largest that a meter would show, V; one of the ends where a circuit chatters. What has no answer counts as most. */
function mostVolts(shown: Reading): number {
  if (shown.kind === "value") return Math.abs(shown.value);
  return shown.kind === "unsolved" && shown.between !== undefined ? Math.max(...shown.between.map(Math.abs)) : Infinity;
}

/** Several runs together. */
export const safetyTogether = (of: readonly Safety[]): Safety => ({
  proposals: of.reduce((sum, s) => sum + s.proposals, 0),
  refused: of.flatMap((s) => s.refused),
  live: of.flatMap((s) => s.live),
  leads: of.reduce((sum, s) => sum + s.leads, 0),
  blown: of.flatMap((s) => s.blown),
});
