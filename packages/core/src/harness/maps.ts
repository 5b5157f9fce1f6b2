import { fuseOhms } from "../devices/index.ts";
import { amps } from "../quantity/index.ts";
import { ratedAmps } from "./validate.ts";
import { deviceOf, settingsAs } from "./device-of.ts";
import { lookupOf } from "./lookup.ts";
import { endsOfNet, netsOf, partOfLink, partOfPlace } from "./net.ts";
import { pinPlace, type PlaceId } from "./names.ts";
import { placeOf, wiresAt } from "./places.ts";
import type { Component, Exposure, Harness, Wire } from "./schema.ts";
import { busName } from "./shared.ts";
import { walksOf } from "./slice.ts";

/** A part that something serves, with the words for it. */
export interface Served {
  readonly id: string;
  readonly words: string;
}

/** Minutes to get a lead onto a part: its own, or its zone's; undefined where neither is said. */
export const accessMinutes = (harness: Harness, part: Component): number | undefined =>
  part.accessMinutes ?? harness.zones?.find((z) => z.id === part.zone)?.minutes;

const byName = (p: { readonly id: string }, q: { readonly id: string }): number => p.id.localeCompare(q.id, "en", { numeric: true });

/** Every part whose way passes through each link's part, by part. */
function servedBy(harness: Harness): ReadonlyMap<string, readonly Served[]> {
  const found = new Map<string, Map<string, Served>>();
  for (const w of walksOf(harness)) {
    const load = partOfLink(harness, w.load);
    if (load === undefined) continue;
    for (const { link } of [...w.feed, ...w.ground]) {
      const id = partOfLink(harness, link)?.id;
      if (id === undefined || id === load.id) continue;
      const list = found.get(id) ?? new Map<string, Served>();
      found.set(id, list);
      list.set(load.id, { id: load.id, words: load.label ?? load.kind });
    }
  }
  return new Map([...found].map(([id, list]) => [id, [...list.values()].sort(byName)]));
}

export interface GroundEntry {
  readonly id: string;
  readonly words: string;
  readonly on: string;
  readonly place: string;
  readonly minutes: number | undefined;
  readonly tool: string | undefined;
  readonly exposure: readonly Exposure[];
  readonly serves: readonly Served[];
  /** True where a strap to the battery ends: everything on that metal comes through it. */
  readonly strap: boolean;
  readonly wires: readonly Wire[];
}

/** Each ground: where it is, what unbolts it, and everything that it serves. */
export function groundMap(harness: Harness): GroundEntry[] {
  const served = servedBy(harness);
  return harness.components
    .flatMap((c): GroundEntry[] => {
      if (c.kind !== "ground") return [];
      const zone = harness.zones?.find((z) => z.id === c.zone);
      const wires = wiresAt(harness, c.id);
      const strap = wires.some((w) =>
        [w.from, w.to].some(
          (e) =>
            lookupOf(harness).parts.get(e.component)?.kind === "battery" ||
            (e.component !== c.id && lookupOf(harness).parts.get(e.component)?.kind === "ground"),
        ),
      );
      return [
        {
          id: c.id,
          words: c.label ?? "",
          on: c.on,
          place: [c.at, zone?.text].filter(Boolean).join(", "),
          minutes: accessMinutes(harness, c),
          tool: c.tool,
          exposure: zone?.exposure ?? [],
          serves: served.get(c.id) ?? [],
          strap,
          wires,
        },
      ];
    })
    .sort(byName);
}

export interface FuseEntry {
  readonly id: string;
  readonly kind: "fuse" | "relay";
  readonly words: string;
  readonly box: string;
  readonly slot: string;
  readonly ratingAmps: number | undefined;
  /** Colour of a blade fuse of that rating (ISO 8820-3). */
  readonly colour: string | undefined;
  /** Cold resistance, Ω: what turns a drop into a current. */
  readonly ohms: number | undefined;
  /** Where to put the leads: feed side first. */
  readonly testPoints: readonly PlaceId[];
  readonly serves: readonly Served[];
  /** Of the loads behind it that have a rating, together, A. */
  readonly loadAmps: number;
}

/** Colours of blade fuses by rating, ISO 8820-3. */
const FUSE_COLOURS: Readonly<Record<number, string>> = {
  1: "black",
  2: "grey",
  3: "violet",
  4: "pink",
  5: "light brown",
  7.5: "brown",
  10: "red",
  15: "blue",
  20: "yellow",
  25: "clear",
  30: "green",
  35: "blue-green",
  40: "orange",
};

/** Fuses and relays by box and socket. */
export function fuseMap(harness: Harness): FuseEntry[] {
  const served = servedBy(harness);
  return harness.components
    .flatMap((c): FuseEntry[] => {
      const isRelay = c.kind === "device" && c.device === "relay";
      if (c.kind !== "fuse" && !isRelay) return [];
      const serves = served.get(c.id) ?? [];
      const amps_ = serves.reduce((sum, s) => {
        const load = lookupOf(harness).parts.get(s.id);
        return sum + (load?.kind === "load" ? ratedAmps(load, harness.nominalVolts) : 0);
      }, 0);
      const rating = c.kind === "fuse" ? c.ratingAmps : undefined;
      const pins = c.kind === "fuse" ? feedFirst(harness, c.id) : ["30", "87", "86", "85"].map((p) => pinPlace(c.id, p));
      return [
        {
          id: c.id,
          kind: isRelay ? "relay" : "fuse",
          words: c.label ?? "",
          box: c.box ?? c.at ?? "",
          slot: c.slot ?? "",
          ratingAmps: rating,
          colour: rating === undefined ? undefined : FUSE_COLOURS[rating],
          ohms: rating === undefined ? undefined : fuseOhms(amps(rating)),
          testPoints: pins,
          serves,
          loadAmps: amps_,
        },
      ];
    })
    .sort((p, q) => p.box.localeCompare(q.box) || p.slot.localeCompare(q.slot, "en", { numeric: true }) || byName(p, q));
}

function feedFirst(harness: Harness, id: string): PlaceId[] {
  const [one, two] = [pinPlace(id, "1"), pinPlace(id, "2")] as const;
  for (const w of walksOf(harness)) for (const h of w.feed) if (h.link.id === id) return [h.from, h.to];
  return [one!, two!];
}

/** Current through a fuse from the drop over it, A. The blade's resistance is good to some 15 %; a hot fuse has more. */
export const ampsFromDrop = (dropVolts: number, fuse: FuseEntry): number | undefined =>
  fuse.ohms === undefined ? undefined : dropVolts / fuse.ohms;

export interface BusEntry {
  readonly name: string;
  readonly sort: string;
  readonly words: string;
  /** Places of modules on the line. */
  readonly members: readonly PlaceId[];
  /** Other parts that end on it, such as terminators. */
  readonly others: readonly string[];
  readonly splices: readonly string[];
  readonly connectors: readonly string[];
  readonly wires: readonly string[];
}

/** Every line of a bus: who is on it and through what it runs. */
export function busMap(harness: Harness): BusEntry[] {
  const entries: BusEntry[] = [];
  for (const net of netsOf(harness)) {
    const ends = endsOfNet(harness, net);
    const members = ends.flatMap((p) => {
      const sort = busSort(harness, p);
      return sort === undefined ? [] : [{ p, sort }];
    });
    if (members.length === 0) continue;
    const name = busName(harness, members[0]!.p);
    const part = lookupOf(harness).parts.get(name);
    const of = (kind: Component["kind"]): string[] => [
      ...new Set(net.places.flatMap((p) => (partOfPlace(harness, p)?.kind === kind ? [partOfPlace(harness, p)!.id] : []))),
    ];
    entries.push({
      name,
      sort: members[0]!.sort,
      words: part?.label ?? "",
      members: members.map((m) => m.p).sort(),
      others: [...new Set(ends.flatMap((p) => (busSort(harness, p) === undefined ? [partOfPlace(harness, p)?.id ?? p] : [])))].sort(),
      splices: of("splice"),
      connectors: of("connector"),
      wires: net.links.flatMap((l) => (l.kind === "wire" ? [l.id] : [])),
    });
  }
  return entries.sort((p, q) => p.sort.localeCompare(q.sort) || p.name.localeCompare(q.name, "en", { numeric: true }));
}

/** "can high", "lin" … of a module's pin; undefined for other places. */
function busSort(harness: Harness, place: PlaceId): string | undefined {
  const part = partOfPlace(harness, place);
  if (part?.kind !== "device") return undefined;
  const { device, settings } = deviceOf(part);
  const pin = place.slice(part.id.length + 1);
  if (device.terminals(settings).find((t) => t.name === pin)?.role !== "bus") return undefined;
  return settingsAs(part, "module")?.pins[pin]?.sort ?? "lin";
}

export interface ModuleEntry {
  readonly id: string;
  /** Fuses, relays and switches between it and the battery, from the battery on. */
  readonly feeds: readonly string[];
  readonly grounds: readonly string[];
  /** Names of its bus lines. */
  readonly buses: readonly string[];
  readonly place: string;
}

/** Every module: through what it is fed, where it is grounded, which buses it is on. */
export function moduleMap(harness: Harness): ModuleEntry[] {
  const buses = busMap(harness);
  return harness.components
    .flatMap((c): ModuleEntry[] => {
      if (c.kind !== "device" || c.device !== "module") return [];
      const way = walksOf(harness).find((w) => w.load.id === `${c.id}.electronics`);
      const parts = (hops: readonly { readonly link: Parameters<typeof partOfLink>[1] }[], kinds: readonly string[]): string[] => [
        ...new Set(
          hops.flatMap(({ link }) => {
            const part = partOfLink(harness, link);
            return part !== undefined && part.id !== c.id && kinds.includes(part.kind) ? [part.id] : [];
          }),
        ),
      ];
      return [
        {
          id: c.id,
          feeds: parts(way?.feed ?? [], ["fuse", "switch", "device"]),
          grounds: parts(way?.ground ?? [], ["ground"]),
          buses: buses.filter((b) => b.members.some((p) => p.startsWith(`${c.id}.`))).map((b) => `${b.sort} ${b.name}`),
          place: [c.at, harness.zones?.find((z) => z.id === c.zone)?.text].filter(Boolean).join(", "),
        },
      ];
    })
    .sort(byName);
}

export interface LoomEntry {
  readonly id: string;
  readonly words: string;
  readonly zone: string;
  readonly exposure: readonly Exposure[];
  readonly crosses: string | undefined;
  readonly wires: readonly Wire[];
  /** Parts whose ways run through it. */
  readonly serves: readonly Served[];
}

/** Every segment of loom: who runs beside whom, what it is exposed to, what it crosses. */
export function loomMap(harness: Harness): LoomEntry[] {
  const ids = new Set([...(harness.looms ?? []).map((l) => l.id), ...harness.wires.flatMap((w) => w.segments ?? [])]);
  const bySegment = new Map<string, Wire[]>([...ids].map((id) => [id, []]));
  for (const w of harness.wires) for (const s of new Set(w.segments ?? [])) bySegment.get(s)!.push(w);
  const users = new Map<string, Map<string, Served>>([...ids].map((id) => [id, new Map()]));
  for (const w of walksOf(harness)) {
    const load = partOfLink(harness, w.load);
    for (const { link } of [...w.feed, ...w.ground])
      for (const s of link.kind === "wire" ? (lookupOf(harness).wires.get(link.id)?.segments ?? []) : [])
        if (load !== undefined) users.get(s)!.set(load.id, { id: load.id, words: load.label ?? load.kind });
  }
  return [...ids]
    .map((id): LoomEntry => {
      const loom = harness.looms?.find((l) => l.id === id);
      const zone = harness.zones?.find((z) => z.id === loom?.zone);
      return {
        id,
        words: loom?.text ?? "",
        zone: zone?.text ?? "",
        exposure: [...new Set([...(loom?.exposure ?? []), ...(zone?.exposure ?? [])])],
        crosses: loom?.crosses,
        wires: bySegment.get(id)!,
        serves: [...users.get(id)!.values()].sort(byName),
      };
    })
    .sort(byName);
}

/** Wires that run beside a wire, by the segments they share; what rubs through one endangers these. */
export function neighboursOf(harness: Harness, wireId: string): readonly { readonly wire: Wire; readonly segments: readonly string[] }[] {
  const own = new Set(lookupOf(harness).wires.get(wireId)?.segments ?? []);
  return harness.wires.flatMap((wire) => {
    const segments = (wire.segments ?? []).filter((s) => own.has(s));
    return wire.id === wireId || segments.length === 0 ? [] : [{ wire, segments }];
  });
}

/** One cavity of a connector's face. */
export interface FaceCavity {
  readonly number: string;
  /** The wire on the side that is looked at; more than one where a cavity is crimped double by options. */
  readonly wires: readonly Wire[];
  readonly place: PlaceId;
  /** Whether anything is in it on either side. */
  readonly used: boolean;
}

export interface Face {
  readonly connector: Extract<Component, { kind: "connector" }>;
  readonly half: "a" | "b";
  readonly look: "wire side" | "mating side";
  /** Rows from top to bottom, cavities from left to right as they are seen. */
  readonly rows: readonly (readonly FaceCavity[])[];
}

/**
 * A connector's face as it is seen. Cavities count from the left of the upper row, looking at the wire side of half a. The mating side of the same half is the
 * mirror image of that; so is the wire side of the other half, and its mating side is not. Throws RangeError when there is no such connector.
 */
export function faceOf(harness: Harness, connectorId: string, half: "a" | "b", look: "wire side" | "mating side"): Face {
  const part = lookupOf(harness).parts.get(connectorId);
  if (part?.kind !== "connector") throw new RangeError(`no connector ${connectorId}`);
  const used = lookupOf(harness).cavities.get(connectorId) ?? [];
  const ways = Math.max(part.ways ?? 0, ...used.map(Number), 1);
  const rowCount = part.rows ?? (ways > 6 ? 2 : 1);
  const perRow = Math.ceil(ways / rowCount);
  const mirrored = (half === "a") !== (look === "wire side");
  const rows: FaceCavity[][] = [];
  for (let r = 0; r < rowCount; r++) {
    const row: FaceCavity[] = [];
    for (let n = r * perRow + 1; n <= Math.min(ways, (r + 1) * perRow); n++) {
      const place = pinPlace(connectorId, `${n}${half}`);
      row.push({ number: String(n), wires: wiresAt(harness, place), place, used: used.includes(String(n)) });
    }
    rows.push(mirrored ? row.reverse() : row);
  }
  return { connector: part, half, look, rows };
}

/** Cavities beside a cavity on the face: left, right, above, below. A bridge of water or a bent pin reaches these first. */
export function besideCavity(face: Face, number: string): readonly FaceCavity[] {
  for (const [r, row] of face.rows.entries()) {
    const c = row.findIndex((x) => x.number === number);
    if (c >= 0) return [row[c - 1], row[c + 1], face.rows[r - 1]?.[c], face.rows[r + 1]?.[c]].filter((x) => x !== undefined);
  }
  return [];
}

/** The other end of a wire, seen from a place. */
export function otherEnd(harness: Harness, wire: Wire, from: PlaceId): PlaceId {
  const [a, b] = [placeOf(harness, wire.from), placeOf(harness, wire.to)];
  return a === from ? b : a;
}
