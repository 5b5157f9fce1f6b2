export type { DamageKind, DamagePlace, DamagedThing, FaultType, LikelyDamage, Remedy } from "./damage.ts";
export { DAMAGE_KINDS, damagedThing, damagePlaces, FAULT_TYPES, faultTypeOf, isKnownPlace, likelyDamage, REMEDIES } from "./damage.ts";
export type { Neighbour, NeighbourQuestion } from "./neighbours.ts";
export { busPairOf, neighboursAtRisk } from "./neighbours.ts";
export type { FuseChecked, JointChoice, JointMethod, PieceChecked, PieceQuestion } from "./joint-plan.ts";
export {
  checkFuse,
  checkPiece,
  fuseBefore,
  isRestraint,
  JOINT_METHODS,
  jointChoices,
  SLACK_MM,
  STAGGER_MM,
  stripMm,
  UNTWISTED_MM,
} from "./joint-plan.ts";
export { areaFor, awgAreaMm2, awgFor, carriesAmps, JOINT_OHMS, pieceOhms, WIRE_AREAS_MM2 } from "./wire-size.ts";
export type { Facts, Known, Worked, WorkOut, WorkOutContext, WorkUnit } from "./work-out.ts";
export { workOutsFor } from "./work-out.ts";
export type { Way, Ways, WaysQuestion } from "./find-or-overlay.ts";
export { findOrOverlay } from "./find-or-overlay.ts";
export type { GroundCandidate } from "./ground-repair.ts";
export { groundCandidates } from "./ground-repair.ts";
export type { RepairStep, RepairWay, StepsQuestion } from "./steps.ts";
export { repairSteps, wantsBatteryOff } from "./steps.ts";
export type { PlanQuestion, RepairPlan, WirePlan } from "./plan.ts";
export { repairPlan } from "./plan.ts";
export type { PartProof, ProofOf } from "./part-proof.ts";
export { comesWith, partProof, PROOFS } from "./part-proof.ts";
export type { Estimate, EstimateLine, Totals } from "./estimate.ts";
export {
  decimalsOf,
  estimate as estimateSchema,
  estimateLine as estimateLineSchema,
  formatMoney,
  readMoney,
  totalsOf,
} from "./estimate.ts";
