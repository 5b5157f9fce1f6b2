export { wireOhms } from "./wire.ts";
export { CAVITY_OHMS, DIRECT_JOINT_OHMS, GROUND_OHMS, SWITCH_OHMS } from "./joint.ts";
export { fuseOhms } from "./fuse.ts";
export { loadOhms, ratedOhms } from "./load.ts";
export type { EngineState, Thevenin } from "./battery.ts";
export { batterySource, ENGINE_STATES } from "./battery.ts";
