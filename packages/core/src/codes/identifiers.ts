/** Two-byte identifiers of service 0x22 (ISO 14229-1) as the simulated vehicle's modules use them: the one table for whoever sends, asks or reads them. */

export type LiveUnit = "V" | "°C" | "%";

/** First identifier of each kind of value; one follows the other by the pin's place among the module's. */
export const LIVE_IDENTIFIERS = { supply: 0x0100, volts: 0x0200, degrees: 0x0300, share: 0x0400, output: 0x0500, wanted: 0x0600 } as const;
const END = 0x0700;

/** Whether it is a value whose length and scale are known: two bytes. */
export const isLiveIdentifier = (did: number): boolean => did >= LIVE_IDENTIFIERS.supply && did < END;

/** The unit of a value by its identifier. */
export const liveUnitOf = (did: number): LiveUnit => (did >= LIVE_IDENTIFIERS.share ? "%" : did >= LIVE_IDENTIFIERS.degrees ? "°C" : "V");

/** "supply, V" where the identifier alone says what it is, else its number and unit. */
export const liveNameOf = (did: number): string =>
  did === LIVE_IDENTIFIERS.supply ? "supply, V" : `0x${did.toString(16).padStart(4, "0")}, ${liveUnitOf(did)}`;

/** Identifiers that every module has, by ISO 14229-1 annex C. */
export const COMMON_IDENTIFIERS = { session: 0xf186, serial: 0xf18c, vin: 0xf190, software: 0xf195, name: 0xf197 } as const;

/** Numbers as they are sent: volts in mV, degrees in tenths from −100 °C, per cent in hundredths. */
const SCALE: Readonly<Record<LiveUnit, { readonly per: number; readonly from: number }>> = {
  V: { per: 0.001, from: 0 },
  "°C": { per: 0.1, from: -100 },
  "%": { per: 0.01, from: 0 },
};

/** A value as two bytes, 0…0xFFFF; what cannot be told is 0xFFFF. */
export const toRaw = (unit: LiveUnit, value: number): number =>
  Number.isFinite(value) ? Math.min(0xffff, Math.max(0, Math.round((value - SCALE[unit].from) / SCALE[unit].per))) : 0xffff;
/** The value (in its unit, to three decimals) behind two bytes as `toRaw` makes them; the caller sorts out 0xFFFF, which says nothing. */
export const fromRaw = (unit: LiveUnit, raw: number): number => Math.round((raw * SCALE[unit].per + SCALE[unit].from) * 1000) / 1000;
