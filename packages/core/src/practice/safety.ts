import type { Fault } from "../circuit/index.ts";
import type { Test } from "../diagnosis/index.ts";
import type { Harness } from "../harness/index.ts";
import { predictReading, refusalsOf, type Reading } from "../instruments/index.ts";

/** What came of the proposals of a run, told by the rules for hands and by the vehicle as it really is. */
export interface Safety {
  readonly proposals: number;
  /** Proposals that a rule forbids, in words. */
  readonly refused: readonly string[];
  /** Fused leads that proposals put on, and those whose fuse the vehicle blows. */
  readonly leads: number;
  readonly blown: readonly string[];
}

/** V over a lead whose fuse is whole at most: some tens of amperes through some hundredths of an ohm. */
const WHOLE_LEAD_VOLTS = 0.6;

/** Looks through tests that were proposed. `faults`: what is really wrong with the vehicle. */
export function safetyOf(vehicle: Harness, proposed: readonly Test[], faults: readonly Fault[]): Safety {
  const leads = new Map(proposed.flatMap((t) => t.state.bridged.map(([p, q]) => [JSON.stringify([t.state, p, q]), { t, p, q }] as const)));
  return {
    proposals: proposed.length,
    refused: proposed.flatMap((t) => refusedIn(vehicle, t)),
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

function refusedIn(vehicle: Harness, { observe: o, state }: Test): readonly string[] {
  const kind = o.kind === "ohms" || o.kind === "lamp" ? o.kind : "volts";
  const leads = "red" in o ? refusalsOf(vehicle, state, { kind, places: [o.red, o.black] }) : [];
  const jumpers = state.bridged.flatMap((places) => refusalsOf(vehicle, state, { kind: "jumper", places: [...places], fused: true }));
  return [...leads, ...jumpers].map((r) => r.reason);
}

/** Several runs together. */
export const safetyTogether = (of: readonly Safety[]): Safety => ({
  proposals: of.reduce((sum, s) => sum + s.proposals, 0),
  refused: of.flatMap((s) => s.refused),
  leads: of.reduce((sum, s) => sum + s.leads, 0),
  blown: of.flatMap((s) => s.blown),
});
