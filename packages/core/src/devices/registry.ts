import { alternator } from "./alternator.ts";
import { dcMotor } from "./dc-motor.ts";
import type { DeviceKind } from "./device.ts";
import { diode } from "./diode.ts";
import { glowPlug } from "./glow-plug.ts";
import { groundStrap } from "./ground-strap.ts";
import { hall } from "./hall.ts";
import { ignitionCoil } from "./ignition-coil.ts";
import { injector } from "./injector.ts";
import { led } from "./led.ts";
import { electronicModule, type ModuleSettings } from "./module.ts";
import { ntc, type NtcSettings } from "./ntc.ts";
import { pickup } from "./pickup.ts";
import { potentiometer, type PotentiometerSettings } from "./potentiometer.ts";
import { ptc } from "./ptc.ts";
import { relay } from "./relay.ts";
import { resistor } from "./resistor.ts";
import { squib } from "./squib.ts";
import { starter } from "./starter.ts";

/** Every kind of device. The only list of them. */
const KINDS = [
  alternator,
  starter,
  dcMotor,
  led,
  ptc,
  glowPlug,
  relay,
  diode,
  resistor,
  groundStrap,
  potentiometer,
  ntc,
  hall,
  pickup,
  ignitionCoil,
  injector,
  squib,
  electronicModule,
] as const;

/** Settings as one kind of device knows them; nobody outside its file needs to. */
export type AnyDevice = DeviceKind<object>;

const byName = new Map<string, AnyDevice>(KINDS.map((k) => [k.kind, k as unknown as AnyDevice]));

export const DEVICE_NAMES: readonly string[] = KINDS.map((k) => k.kind);
/** The kind of device of that name; undefined when there is none. */
export const deviceKind = (name: string): AnyDevice | undefined => byName.get(name);

/** Settings of the kinds that somebody outside their own file reads, by the kind's word. */
export interface SettingsByKind {
  readonly module: ModuleSettings;
  readonly ntc: NtcSettings;
  readonly pot: PotentiometerSettings;
}

export type DeviceSettings =
  | { readonly kind: "known"; readonly device: AnyDevice; readonly settings: object }
  | { readonly kind: "unknown device" }
  | { readonly kind: "bad settings"; readonly problems: readonly { readonly at: string; readonly message: string }[] };

/** The settings of a device with all defaults filled in, or what is wrong with them and where. */
export function readDevice(name: string, settings: unknown): DeviceSettings {
  const device = byName.get(name);
  if (device === undefined) return { kind: "unknown device" };
  const parsed = device.settings.safeParse(settings);
  if (parsed.success) return { kind: "known", device, settings: parsed.data };
  return { kind: "bad settings", problems: parsed.error.issues.map((i) => ({ at: i.path.join("."), message: i.message })) };
}
