import type { Fault, VehicleState } from "../circuit/index.ts";
import { type Harness, type Link, linksOf, netAt, type PlaceId } from "../harness/index.ts";
import { predictPulses, type Pulses } from "./pulses.ts";

/** What in series with a wire would bring its pulses down to what was seen. */
export interface AmplitudeLost {
  readonly ohms: number;
  /** Wires, cavities and joints that it may be in: with any of them the pulses come out the same. */
  readonly links: readonly string[];
}

/** Below this share of a good one an amplitude is lost. */
const LOST_SHARE = 0.9;
/** Decades of resistance that are searched, log₁₀ Ω, and how near the ends come: a fiftieth. */
const [LOWEST, HIGHEST, NARROWEST] = [0, 8, 0.01];
/** Resistance that shows which of the links the pulses hang on, Ω, and by how much they must move, V. */
const TRIED_OHMS = 1e5;
const LEAST_VOLTS = 0.05;
/** Both levels must come out this near, V and as a share of a good amplitude: else it is not resistance in the wire. */
const NEAR = { volts: 0.3, share: 0.08 } as const;

/**
 * The series resistance in the wire at `red` that explains pulses of less than a good amplitude (V, by a probe of 10 MΩ, as the whole circuit has them), and where in the wire it may be.
 * Undefined for an amplitude that is good, and where no resistance in the wire brings both levels about.
 */
export function amplitudeLost(
  harness: Harness,
  state: VehicleState,
  { red, black }: { readonly red: string; readonly black: string },
  seen: Pick<Pulses, "low" | "high">,
): AmplitudeLost | undefined {
  const at = (faults: readonly Fault[]): Pulses | undefined => predictPulses(harness, state, faults, red, black);
  const good = at([]);
  if (good === undefined) return undefined;
  const wanted = seen.high - seen.low;
  const whole = good.high - good.low;
  if (good.dutyPercent === 0 || wanted >= LOST_SHARE * whole) return undefined;
  const found = [...sameIn(linksInNet(harness, red), (link) => at([{ kind: "series", link, ohms: TRIED_OHMS }]), good)].flatMap((links) => {
    const withOhms = (exponent: number): Pulses | undefined => at([{ kind: "series", link: links[0]!, ohms: 10 ** exponent }]);
    let [low, high] = [LOWEST, HIGHEST];
    while (high - low > NARROWEST) {
      const middle = (low + high) / 2;
      const there = withOhms(middle);
      if (there !== undefined && there.high - there.low < wanted) high = middle;
      else low = middle;
    }
    const there = withOhms(high);
    if (high > HIGHEST - NARROWEST || there === undefined) return [];
    const off = Math.max(Math.abs(there.low - seen.low), Math.abs(there.high - seen.high));
    return off > NEAR.volts + NEAR.share * whole ? [] : [{ off, lost: { ohms: 10 ** high, links } }];
  });
  return found.sort((p, q) => p.off - q.off)[0]?.lost;
}

const linksInNet = (harness: Harness, place: string): readonly Link[] => {
  const places = new Set<PlaceId>(netAt(harness, place as PlaceId)?.places ?? []);
  return linksOf(harness).filter(
    (l) => (l.kind === "wire" || l.kind === "cavity" || l.kind === "joint") && places.has(l.a) && places.has(l.b),
  );
};

/** Links that the pulses hang on, those with the same effect together. */
function sameIn(links: readonly Link[], tried: (link: string) => Pulses | undefined, good: Pulses): Iterable<readonly string[]> {
  const byEffect = new Map<string, string[]>();
  for (const { id } of links) {
    const there = tried(id);
    if (there === undefined || Math.max(Math.abs(there.low - good.low), Math.abs(there.high - good.high)) < LEAST_VOLTS) continue;
    const key = `${there.low.toFixed(2)} ${there.high.toFixed(2)}`;
    byEffect.set(key, [...(byEffect.get(key) ?? []), id]);
  }
  return byEffect.values();
}
