import { ntcCelsius, wantsOn, type Decision, type PinSettings } from "../devices/index.ts";
import { lookupOf, moduleGround, moduleSupply, netAt, partOfPlace, settingsAs, type Device, type Harness } from "../harness/index.ts";
import { LIVE_IDENTIFIERS, type LiveUnit } from "./identifiers.ts";

/** A module as a tester addresses it. */
export interface AddressedModule {
  readonly id: string;
  /** Logical address, 0…0xFFFF. */
  readonly address: number;
}

/** Logical address of the entity through which a tester reaches all modules; theirs follow it in the order of the harness. */
export const ENTITY_ADDRESS = 0x1000;

const isModule = (c: Harness["components"][number]): c is Device => c.kind === "device" && c.device === "module";

/** The modules of a harness with the addresses that its simulated vehicle gives them. */
export const addressedModules = (harness: Harness): readonly AddressedModule[] =>
  harness.components.filter(isModule).map((c, i) => ({ id: c.id, address: ENTITY_ADDRESS + 1 + i }));

/** The module that answers emissions services: the one that watches most of the powertrain; undefined where none does. */
export function emissionsModule(harness: Harness): string | undefined {
  const watching = (id: string): number => (harness.monitors ?? []).filter((m) => m.module === id && m.code.startsWith("P")).length;
  const best = harness.components.filter(isModule).toSorted((p, q) => watching(q.id) - watching(p.id))[0];
  return best !== undefined && watching(best.id) > 0 ? best.id : undefined;
}

/** A value that a module tells under an identifier, two bytes. */
export interface LiveValue {
  readonly module: string;
  /** Identifier of service 0x22. */
  readonly did: number;
  readonly name: string;
  readonly unit: LiveUnit;
  /** The pin at which the module sees it, "~supply" for its supply. */
  readonly pin: string;
  /** The sensor behind it; undefined for plain volts. */
  readonly sensor?: string;
  /** V at the pin against the module's own ground, and its supply, V, to the value; NaN where it cannot be. */
  readonly fromVolts: (pinVolts: number, supplyVolts: number) => number;
  /** For an output: whether the module wants it on; told as 100 or 0 %. */
  readonly wants?: (by: Decision) => boolean;
  /** Parts behind an output, directly or through a relay. */
  readonly works?: readonly string[];
}

/** What a module tells for it, of the volts at places against one point: an output that is wanted on has none of these. */
export function toldFrom(v: LiveValue, volts: (place: string) => number): number {
  const ground = volts(moduleGround(v.module));
  return v.fromVolts(volts(`${v.module}.${v.pin}`) - ground, volts(moduleSupply(v.module)) - ground);
}

const pinsOf = (part: Device): readonly (readonly [string, PinSettings])[] => Object.entries(settingsAs(part, "module")?.pins ?? {});

/** Everything that a module tells of itself: its supply, the volts at each input, and what the sensors behind them measure. */
export function liveValuesOf(harness: Harness, module: string): readonly LiveValue[] {
  const part = lookupOf(harness).parts.get(module);
  if (part === undefined || !isModule(part)) return [];
  const found: LiveValue[] = [
    { module, did: LIVE_IDENTIFIERS.supply, name: "supply", unit: "V", pin: "~supply", fromVolts: (_, supply) => supply },
  ];
  pinsOf(part).forEach(([pin, p], i) => {
    if (p.sort === "low" || p.sort === "high") {
      const works = workedFrom(harness, `${module}.${pin}`, module);
      const { rules } = settingsAs(part, "module")!;
      if (works.length === 0 || !rules.some((r) => r.pin === pin)) return;
      found.push({
        module,
        did: LIVE_IDENTIFIERS.wanted + i,
        name: `${pin} wanted: ${works.map((w) => w.label ?? w.id).join(", ")}`,
        unit: "%",
        pin,
        fromVolts: () => NaN,
        wants: (by) => wantsOn(rules, pin, by),
        works: works.map((w) => w.id),
      });
    }
    if (p.sort !== "input") return;
    found.push({ module, did: LIVE_IDENTIFIERS.volts + i, name: `volts at ${pin}`, unit: "V", pin, fromVolts: (v) => v });
    for (const sensor of sensorsAt(harness, `${module}.${pin}`)) {
      const label = sensor.label ?? sensor.id;
      const [ntc, pot] = [settingsAs(sensor, "ntc"), settingsAs(sensor, "pot")];
      if (ntc !== undefined && p.pull !== "none" && p.pull !== "down") {
        const { ohmsAt25, betaK } = ntc;
        const ohms = p.pullOhms;
        const fromVolts = (v: number, supply: number): number => {
          const from = p.pullVolts === "supply" ? supply : p.pullVolts;
          const r = (ohms * v) / (from - v);
          // A line open or shorted stands at the end of the scale.
          return v <= 0.02 ? 150 : r > 0 ? Math.max(-50, Math.min(150, ntcCelsius(ohmsAt25, betaK, r))) : -50;
        };
        found.push({ module, did: LIVE_IDENTIFIERS.degrees + i, name: label, unit: "°C", pin, sensor: sensor.id, fromVolts });
      }
      if (pot !== undefined) {
        const { restShare, fullShare } = pot;
        const fromVolts = (v: number): number =>
          Math.max(0, Math.min(100, (100 * (v / REFERENCE_VOLTS - restShare)) / (fullShare - restShare)));
        found.push({ module, did: LIVE_IDENTIFIERS.share + i, name: label, unit: "%", pin, sensor: sensor.id, fromVolts });
      }
    }
  });
  return found;
}
const REFERENCE_VOLTS = 5;

function sensorsAt(harness: Harness, place: string): readonly Device[] {
  return [
    ...new Set(
      (netAt(harness, place)?.places ?? []).flatMap((p) => {
        const part = partOfPlace(harness, p);
        return part?.kind === "device" && (part.device === "ntc" || (part.device === "pot" && p.endsWith(".W"))) ? [part] : [];
      }),
    ),
  ];
}

/** An output that a tester may work. */
export interface Actuator {
  readonly module: string;
  /** Identifier of service 0x2F. */
  readonly did: number;
  readonly pin: string;
  /** What it works: "side light, left". */
  readonly name: string;
}

/** What may be worked without harm: light, sound, air. Nothing that moves the vehicle, its glass, its locks or its fuel. */
const HARMLESS = /lamp|light|horn|buzzer|fan|blower|indicator|flasher|demist|screen heat|heated screen/i;

/** Outputs of a module behind which there are only harmless things, directly or through a relay. */
export function actuatorsOf(harness: Harness, module: string): readonly Actuator[] {
  const part = lookupOf(harness).parts.get(module);
  if (part === undefined || !isModule(part)) return [];
  return pinsOf(part).flatMap(([pin, p], i): Actuator[] => {
    if (p.sort !== "low" && p.sort !== "high") return [];
    const worked = workedFrom(harness, `${module}.${pin}`, module);
    const harmless = worked.length > 0 && worked.every((w) => (w.kind === "load" && w.sort === "lamp") || HARMLESS.test(w.label ?? ""));
    return harmless ? [{ module, did: LIVE_IDENTIFIERS.output + i, pin, name: worked.map((w) => w.label ?? w.id).join(", ") }] : [];
  });
}

/** Loads and devices on a net, and behind the contacts of the relays on it. */
function workedFrom(harness: Harness, place: string, module: string): readonly Harness["components"][number][] {
  const found = new Map<string, Harness["components"][number]>();
  const seen = new Set<string>();
  const open = [place];
  for (let at = open.pop(); at !== undefined; at = open.pop()) {
    if (seen.has(at)) continue;
    seen.add(at);
    for (const p of netAt(harness, at)?.places ?? []) {
      const part = partOfPlace(harness, p);
      if (part === undefined || part.id === module) continue;
      if (part.kind === "device" && part.device === "relay") {
        if (/\.8[56]$/.test(p)) open.push(`${part.id}.87`);
      } else if (part.kind === "load" || part.kind === "device") found.set(part.id, part);
    }
  }
  return [...found.values()];
}
