import { colouredLeads, coloursAt, type Observable } from "../diagnosis/index.ts";
import { acrossPlug, lookupOf, WIRE_COLOURS, wiresAt, type Harness } from "../harness/index.ts";
import { chanceOf, shuffled, type Truth } from "./truth.ts";

/** Where the diagram at hand is not right: two wires of a connector are in each other's cavity, on both of its sides, or a wire has another colour. */
export type Misdrawn =
  | { readonly kind: "cavities"; readonly connector: string; readonly cavities: readonly [string, string] }
  | { readonly kind: "colour"; readonly wire: string; readonly colour: string };

/** The vehicle as it is, of a diagram that is wrong in one place; the same object of the same diagram. */
export function asBuilt(drawn: Harness, misdrawn: Misdrawn | undefined): Harness {
  if (misdrawn === undefined) return drawn;
  const made = built.get(drawn) ?? new Map<string, Harness>();
  built.set(drawn, made);
  const key = JSON.stringify(misdrawn);
  const vehicle = made.get(key) ?? build(drawn, misdrawn);
  made.set(key, vehicle);
  return vehicle;
}
const built = new WeakMap<Harness, Map<string, Harness>>();

function build(drawn: Harness, misdrawn: Misdrawn): Harness {
  if (misdrawn.kind === "colour")
    return { ...drawn, wires: drawn.wires.map((w) => (w.id === misdrawn.wire ? { ...w, colour: misdrawn.colour } : w)) };
  const { connector, cavities } = misdrawn;
  const other = otherCavity(cavities);
  return withEnds(drawn, (e) => (e.component === connector && other.has(e.pin) ? { ...e, pin: other.get(e.pin)! } : e));
}

/** The pins of two cavities, each with the one that it changes places with. */
const otherCavity = ([x, y]: readonly [string, string]): ReadonlyMap<string, string> =>
  new Map([x, y].flatMap((c) => ["a", "b"].map((side) => [c + side, (c === x ? y : x) + side] as const)));

/** As it is told once the job is closed. */
export const misdrawnWords = (drawn: Harness, misdrawn: Misdrawn): string =>
  misdrawn.kind === "cavities"
    ? `The diagram was wrong at ${misdrawn.connector}: cavities ${misdrawn.cavities.join(" and ")} are the other way round`
    : `The diagram was wrong at ${misdrawn.wire}: drawn ${lookupOf(drawn).wires.get(misdrawn.wire)?.colour ?? "without a colour"}, on the vehicle ${misdrawn.colour}`;

/** Leads of a test that stand where a wire of another colour is than the diagram has there. */
export const otherColoursAt = (drawn: Harness, vehicle: Harness, observed: Observable): readonly string[] =>
  colouredLeads(drawn, observed).filter((at) => coloursAt(drawn, at).join() !== coloursAt(vehicle, at).join());

/**
 * A place on the way to a part in which the diagram could be wrong, drawn by chance; undefined where there is none. It can be seen: the colours differ. Nothing of it is at what is
 * wrong, so that the faults stay where they are.
 */
export function misdrawnNear(drawn: Harness, around: Harness, truth: readonly Truth[], seed: number): Misdrawn | undefined {
  const chance = chanceOf(seed);
  const wrong = truth.map((t) => JSON.stringify([t.fault.link, t.fault.other, t.fault.faultAt(t.severity)])).join();
  const near = new Set(around.wires.map((w) => w.id));
  const coloured = drawn.wires.filter(
    (w) => near.has(w.id) && w.colour !== undefined && ends(w).some((e) => isConnector(drawn, e.component)),
  );
  const cavities = (): Misdrawn | undefined => {
    const pairs = [...lookupOf(drawn).cavities].flatMap(([connector, [...all]]) =>
      wrong.includes(`"${connector}.`) || wrong.includes(`"${connector}"`)
        ? []
        : all.flatMap((x, i) => all.slice(i + 1).map((y): Misdrawn => ({ kind: "cavities", connector, cavities: [x, y] }))),
    );
    return shuffled(pairs, chance).find((m) => {
      if (m.kind !== "cavities") return false;
      const sides = m.cavities.map((c) => ["a", "b"].map((side) => wiresAt(drawn, `${m.connector}.${c}${side}`)));
      const isNear = sides.flat(2).some((w) => near.has(w.id));
      const colours = sides.map((s) => s[0]!.map((w) => w.colour).join());
      return isNear && sides.flat().every((w) => w.length > 0) && colours[0] !== "" && colours[1] !== "" && colours[0] !== colours[1];
    });
  };
  const colour = (): Misdrawn | undefined => {
    const [wire] = shuffled(coloured, chance);
    if (wire === undefined) return undefined;
    const here = new Set(drawn.wires.flatMap((w) => (w.colour === undefined ? [] : w.colour.split("/"))));
    const free = Object.keys(WIRE_COLOURS).filter((c) => c !== wire.colour?.split("/")[0]);
    const rare = free.filter((c) => !here.has(c));
    const [base] = shuffled(rare.length > 0 ? rare : free, chance);
    return { kind: "colour", wire: wire.id, colour: base! };
  };
  return chance() < CAVITIES_SHARE ? (cavities() ?? colour()) : (colour() ?? cavities());
}
/** How often it is a cavity and not a colour. */
const CAVITIES_SHARE = 0.6;

/** One place in which a vehicle is not as its diagram says. */
export interface Deviation {
  readonly kind: "cavities swapped" | "splice beyond the plug";
  readonly words: string;
  /** Wires that end otherwise than drawn. */
  readonly wires: readonly string[];
  /** The vehicle as it is. */
  readonly vehicle: Harness;
}

type Wire = Harness["wires"][number];
type End = Wire["from"];

/**
 * Vehicles that work and are not as drawn in one place: two wires of a plug in each other's cavity on both of its sides, or a branch that leaves the splice drawn before a plug behind that plug.
 */
export const deviationsOf = (harness: Harness): readonly Deviation[] => [...swapped(harness), ...moved(harness)];

const ends = (w: Wire): readonly End[] => [w.from, w.to];
const isConnector = (harness: Harness, id: string): boolean => lookupOf(harness).parts.get(id)?.kind === "connector";

/** The harness with the ends of wires changed. */
function withEnds(harness: Harness, change: (end: End, wire: Wire) => End): Harness {
  return { ...harness, wires: harness.wires.map((w) => ({ ...w, from: change(w.from, w), to: change(w.to, w) })) };
}

function swapped(harness: Harness): readonly Deviation[] {
  return [...lookupOf(harness).cavities].flatMap(([connector, cavities]) =>
    cavities.slice(1).map((x, i): Deviation => {
      const two = [x, cavities[i]!] as const;
      const moves = otherCavity(two);
      return {
        kind: "cavities swapped",
        words: `${connector}: what is drawn in cavity ${two[0]} is in ${two[1]}, and the other way round`,
        wires: harness.wires.filter((w) => ends(w).some((e) => e.component === connector && moves.has(e.pin))).map((w) => w.id),
        vehicle: asBuilt(harness, { kind: "cavities", connector, cavities: two }),
      };
    }),
  );
}

function moved(harness: Harness): readonly Deviation[] {
  const splices = harness.components.filter((c) => c.kind === "splice").map((c) => c.id);
  return splices.flatMap((splice): readonly Deviation[] => {
    const here = harness.wires.filter((w) => ends(w).some((e) => e.component === splice));
    const farEnd = (w: Wire): End => (w.from.component === splice ? w.to : w.from);
    const through = here.find((w) => isConnector(harness, farEnd(w).component));
    const branch = here.find((w) => w !== through && lookupOf(harness).parts.get(farEnd(w).component)?.kind === "load");
    if (through === undefined || branch === undefined) return [];
    const { component, pin } = farEnd(through);
    const beyond = { component, pin: acrossPlug(pin) };
    if (!harness.wires.some((w) => ends(w).some((e) => e.component === beyond.component && e.pin === beyond.pin))) return [];
    return [
      {
        kind: "splice beyond the plug",
        words: `${branch.id} leaves behind ${component} and not at ${splice}`,
        wires: [branch.id, through.id],
        vehicle: withEnds(harness, (e, w) => (w.id === branch.id && e.component === splice ? beyond : e)),
      },
    ];
  });
}
