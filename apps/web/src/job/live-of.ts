import { addressedModules, emissionsModule, liveValuesOf, type LiveValue } from "@rheonom/core/codes";
import type { LinkModule, LiveWish } from "@rheonom/contract/link";
import type { Harness } from "@rheonom/core/harness";
import type { EventOf } from "@rheonom/core/job";
import type { Live } from "./use-link.ts";

/** Standard values that are asked for where a module answers the emissions services. */
const STANDARD = [
  { pid: 0x0c, name: "engine speed", unit: "rpm" },
  { pid: 0x42, name: "module supply (standard)", unit: "V" },
  { pid: 0x05, name: "coolant temperature (standard)", unit: "°C" },
  { pid: 0x46, name: "air temperature outside", unit: "°C" },
] as const;

/** A value that is asked of a module again and again. */
export interface LiveShown {
  readonly wish: LiveWish;
  readonly name: string;
  readonly unit: string;
  readonly value: LiveValue | undefined;
}

/** Every value that a module is known to tell. */
export function liveOf(harness: Harness, module: LinkModule): readonly LiveShown[] {
  const own = liveValuesOf(harness, module.id).map((value): LiveShown => ({
    wish: { module, what: { did: value.did, unit: value.unit } },
    name: value.sensor === undefined ? value.name : `${value.name} (${value.pin})`,
    unit: value.unit,
    value,
  }));
  const standard = STANDARD.map((s): LiveShown => ({
    wish: { module, what: { pid: s.pid } },
    name: s.name,
    unit: s.unit,
    value: undefined,
  }));
  return [...own, ...(emissionsModule(harness) === module.id ? standard : [])];
}

/** Values that are recorded on a drive at most. */
const MOST_ON_DRIVE = 40;

/** What is recorded on a drive: the standard values first, then those of the modules in question. */
export function liveOnDrive(harness: Harness, modules: readonly string[]): readonly LiveShown[] {
  const emissions = emissionsModule(harness);
  const asked = addressedModules(harness).filter((m) => m.id === emissions || modules.includes(m.id));
  const all = asked.flatMap((m) => liveOf(harness, m).map((s) => ({ ...s, name: `${m.id} ${s.name}` })));
  const isStandard = (s: LiveShown): boolean => "pid" in s.wish.what;
  return [...all.filter(isStandard), ...all.filter((s) => !isStandard(s))].slice(0, MOST_ON_DRIVE);
}

/** What came in meanwhile, as it stands in the log; a value that nobody told is left out. */
export const liveTold = (shown: readonly LiveShown[], { low, high, now }: Live): NonNullable<EventOf<"driven">["data"]["live"]> =>
  shown.flatMap(({ name, unit }, i) => {
    const [least, most, last] = [low[i], high[i], now[i] ?? undefined];
    if (least === undefined || most === undefined || !Number.isFinite(least) || !Number.isFinite(most)) return [];
    return [{ name: name.slice(0, 80), unit, low: least, high: most, last: last ?? most }];
  });
