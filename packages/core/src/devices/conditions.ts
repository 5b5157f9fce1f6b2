/** Where the key stands. */
export const KEY_POSITIONS = ["off", "accessory", "run", "crank"] as const;
export type KeyPosition = (typeof KEY_POSITIONS)[number];

/** What the engine is doing, as far as the source knows. */
export const ENGINE_STATES = ["stopped", "cranking", "idling", "at speed"] as const;
export type EngineState = (typeof ENGINE_STATES)[number];
