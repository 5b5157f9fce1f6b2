import { wireOhms } from "../devices/index.ts";
import { celsius, metres, squareMillimetres } from "../quantity/index.ts";

/** Cross-section of an AWG size, mm²: d = 0.127 mm · 92^((36 − n)/39). */
export const awgAreaMm2 = (n: number): number => (Math.PI / 4) * (0.127 * 92 ** ((36 - n) / 39)) ** 2;

/** Sizes that are sold: even numbers, and 0 to −3 for 1/0 to 4/0. */
const AWG_SOLD = [22, 20, 18, 16, 14, 12, 10, 8, 6, 4, 2, 1, 0, -1, -2, -3] as const;
/** A strand count may leave a wire this share below its name. */
const NEARLY = 0.97;

/** The thinnest AWG size that has at least this area, "16" or "2/0"; undefined beyond 4/0. `areaMm2`: mm². */
export function awgFor(areaMm2: number): string | undefined {
  const n = AWG_SOLD.find((size) => awgAreaMm2(size) >= NEARLY * areaMm2);
  return n === undefined ? undefined : n > 0 ? String(n) : `${1 - n}/0`;
}

/** Areas of road-vehicle cable, ISO 6722-1, mm². */
export const WIRE_AREAS_MM2 = [0.35, 0.5, 0.75, 1, 1.5, 2.5, 4, 6, 10, 16, 25, 35, 50, 70, 95] as const;

/** Air around a loom under a bonnet, °C, and what PVC insulation stands for its life, °C. */
const AMBIENT_C = 60;
const INSULATION_C = 105;
/** Heat that leaves a wire in a small bundle: by convection and radiation, W/(m²·K). Thin wires lose more, so this is on the safe side for them. */
const HEAT_LOSS = 12;
/** Outside diameter over that of the copper: thin-wall insulation adds about half again for a signal wire, a fifth for a cable. */
const outsideMm = (areaMm2: number): number => Math.sqrt((4 * areaMm2) / Math.PI) * 1.15 + 0.6;

/**
 * Current that a copper wire carries for good in a small bundle under the bonnet, A: what it makes as heat, I²·R, leaves through its surface,
 * I = √(h·π·D·ΔT / R′(T)), with R′ at the insulation's limit. An estimate on the safe side, 12 A for 1 mm² and 41 A for 6 mm²; the manufacturer's figure goes before it.
 */
export function carriesAmps(areaMm2: number): number {
  const perMetre = wireOhms(squareMillimetres(areaMm2), metres(1), celsius(INSULATION_C));
  return Math.sqrt((HEAT_LOSS * Math.PI * (outsideMm(areaMm2) / 1000) * (INSULATION_C - AMBIENT_C)) / perMetre);
}

/** The thinnest area that carries a current for good, mm²; undefined beyond the largest. */
export const areaFor = (amps: number): number | undefined => WIRE_AREAS_MM2.find((a) => carriesAmps(a) >= amps);

/** Resistance of a piece of wire at 20 °C with its new joints, Ω. A crimped and sealed joint has about a milliohm. */
export const pieceOhms = (areaMm2: number, lengthM: number, joints: number): number =>
  wireOhms(squareMillimetres(areaMm2), metres(lengthM), celsius(20)) + joints * JOINT_OHMS;
/** A good crimp or soldered joint, Ω. */
export const JOINT_OHMS = 0.001;
