/** What a lead–acid battery is made for and how it stands. */
export interface LeadAcid {
  /** Rest voltage when full, V, and resistance when new, at 20 °C, Ω: as on the harness. */
  readonly fullVolts: number;
  readonly internalOhms: number;
  /** 0…1. */
  readonly charge: number;
  /** 0 new … 1 worn out. */
  readonly wear: number;
  readonly nominalVolts: number;
}

/** Rest voltage at 25 °C of a flooded 12 V battery by charge, V. */
const REST: readonly (readonly [number, number])[] = [
  [0, 11.89],
  [0.25, 12.06],
  [0.5, 12.24],
  [0.75, 12.45],
  [1, 12.65],
];
/** Rise of the resistance for each kelvin below 25 °C, and from 20 °C on which the harness's value counts. */
const COLD_PER_K = 0.01;

/** Rest voltage by charge, V for 12 V nominal; straight lines between the tabled points. */
export function restVolts(charge: number): number {
  const c = Math.min(1, Math.max(0, charge));
  const above = Math.max(
    1,
    REST.findIndex(([at]) => at >= c),
  );
  const [c0, v0] = REST[above - 1]!;
  const [c1, v1] = REST[above]!;
  return v0 + ((v1 - v0) * (c - c0)) / (c1 - c0);
}

/** Charge by rest voltage, 0…1; V for 12 V nominal. The other way round from `restVolts`, held at its ends. */
export function restCharge(restVolts12: number): number {
  const above = REST.findIndex(([, v]) => v >= restVolts12);
  if (above <= 0) return above === 0 ? 0 : 1;
  const [c0, v0] = REST[above - 1]!;
  const [c1, v1] = REST[above]!;
  return c0 + ((c1 - c0) * (restVolts12 - v0)) / (v1 - v0);
}

/**
 * Source and resistance of a lead–acid battery: the harness's own rest voltage, lowered as far as charge is missing; the harness's own resistance, raised by cold (about
 * 1 %/K), wear (to four times) and discharge (to twice). Valid for −30…50 °C, 12 V and 24 V. No surface charge, no recovery after load. Source: usual tables
 * of rest voltage for flooded batteries; resistances within the usual 3–10 mΩ of healthy ones.
 */
export function leadAcid(b: LeadAcid, temperatureC: number): { readonly emf: number; readonly internalOhms: number } {
  const emf = b.fullVolts - ((restVolts(1) - restVolts(b.charge)) * b.nominalVolts) / 12;
  const cold = 1 + COLD_PER_K * Math.max(0, 20 - temperatureC);
  return { emf, internalOhms: b.internalOhms * cold * (1 + 3 * b.wear) * (1 + (1 - b.charge)) };
}

/** Least voltage after 15 s at half the cold-cranking rating, V for 12 V nominal, by temperature in °C. Below it the battery has failed the test. */
const LEAST_UNDER_LOAD: readonly (readonly [number, number])[] = [
  [-18, 8.5],
  [-12, 8.7],
  [-7, 8.9],
  [-1, 9.1],
  [4, 9.3],
  [10, 9.4],
  [16, 9.5],
  [21, 9.6],
];

/** Least volts of a sound 12 V battery under the load test at a temperature (°C), from the table above, held at its ends. */
export function leastUnderLoad(temperatureC: number): number {
  const t = Math.min(21, Math.max(-18, temperatureC));
  const above = Math.max(
    1,
    LEAST_UNDER_LOAD.findIndex(([at]) => at >= t),
  );
  const [t0, v0] = LEAST_UNDER_LOAD[above - 1]!;
  const [t1, v1] = LEAST_UNDER_LOAD[above]!;
  return v0 + ((v1 - v0) * (t - t0)) / (t1 - t0);
}

/** Resistance that a battery shows to a charging source, Ω: its plates take a fraction of what they give at once. */
const CHARGING_TIMES = 10;

/** The battery in a circuit with an alternator of its own: discharging behind its resistance, charging behind ten times that. A into + at V across, and S. */
export function chargeable(emf: number, internalOhms: number): { at: (volts: number) => { amps: number; siemens: number }; text: string } {
  const into = internalOhms * CHARGING_TIMES;
  return {
    at: (v) => (v < emf ? { amps: (v - emf) / internalOhms, siemens: 1 / internalOhms } : { amps: (v - emf) / into, siemens: 1 / into }),
    text: `min(V(a,b)-${emf},0)/${internalOhms}+max(V(a,b)-${emf},0)/${into}`,
  };
}
