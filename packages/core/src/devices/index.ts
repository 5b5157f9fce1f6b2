export { wireOhms } from "./wire.ts";
export { cavityOhms, DIRECT_JOINT_OHMS, groundOhms, HEAVY_CABLE_MM2, switchOhms } from "./joint.ts";
export { fuseOhms } from "./fuse.ts";
export { filamentAt, filamentText, loadOhms, ratedOhms } from "./load.ts";
export type { EngineState, Thevenin } from "./battery.ts";
export { batterySource, ENGINE_STATES } from "./battery.ts";
