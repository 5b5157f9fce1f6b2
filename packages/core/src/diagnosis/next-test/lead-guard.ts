import { stateKey, type VehicleState } from "../../circuit/index.ts";
import { isShort } from "../../faults/index.ts";
import type { Belief } from "../belief/belief.ts";
import { leadsHold, type CandidateTest } from "../effort/candidate-test.ts";
import { singlesOf, type Hypothesis } from "../hypotheses/space.ts";
import type { Oracle } from "../predict/oracle.ts";

/** Suspects of more than this may not blow the fuse of a lead. */
const NAMED = 0.05;
/** Belief in what would blow the fuse of a lead, at most. */
const MOST_BLOWN = 0.02;
/** So many shorts are solved with the lead on; what the rest would do is taken from these. */
const SHORTS_ASKED = 24;

/** Whether a test puts on a fused lead whose fuse may blow: on a sound vehicle, by a suspect worth the name, or by all the shorts together that are not excluded yet. */
export function leadGuard(oracle: Oracle, belief: Belief, standing: VehicleState): (c: CandidateTest) => boolean {
  const byWeight = (list: readonly Hypothesis[]): Hypothesis[] => list.toSorted((p, q) => belief.posterior(q) - belief.posterior(p));
  const named = belief.alive.filter((h) => belief.posterior(h) > NAMED);
  const shorts = byWeight(belief.alive.filter((h) => singlesOf(h).some((s) => isShort(s.fault.effect))));
  const asked = shorts.slice(0, SHORTS_ASKED);
  const massOf = (list: readonly Hypothesis[]): number => list.reduce((sum, h) => sum + belief.posterior(h), 0);
  const [whole, askedMass] = [massOf(shorts), massOf(asked)];
  const known = new Map<string, boolean>();
  const blows = (c: CandidateTest, put: VehicleState["bridged"]): boolean => {
    const holds = (h: Hypothesis | undefined): boolean => leadsHold(oracle, c, put, h === undefined ? h : belief.bestAt(h));
    if (![undefined, ...named].every(holds)) return true;
    if (whole <= MOST_BLOWN) return false;
    return (massOf(asked.filter((h) => !holds(h))) * whole) / askedMass > MOST_BLOWN;
  };
  return (c) => {
    const put = c.state.bridged.filter((pair) => !standing.bridged.some((x) => x.join() === pair.join()));
    if (put.length === 0) return false;
    const key = stateKey(c.state);
    const answer = known.get(key) ?? blows(c, put);
    known.set(key, answer);
    return answer;
  };
}
