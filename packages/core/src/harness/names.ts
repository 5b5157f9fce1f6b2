declare const place: unique symbol;
/** A spot where a lead can be put: "BAT.-", "F3.2", "C12.4a", "S1", "G5", or a mass such as "body". */
export type PlaceId = string & { readonly [place]: true };

/** The part in the name of a place, link or cavity: "C12" of "C12.4a", "R7" of "R7.coil" and of "R7" itself. */
export function partNameIn(name: string): string {
  const dot = name.indexOf(".");
  return dot < 0 ? name : name.slice(0, dot);
}

/** What stands behind the part's name: "4a" of "C12.4a", "coil" of "R7.coil"; "" where nothing does. */
export const pinNameIn = (name: string): string => name.slice(partNameIn(name).length + 1);

/** The place of a pin, named after its part. Whether the circuit holds it is for whoever looks it up. */
export const pinPlace = (part: string, pin: string): PlaceId => `${part}.${pin}` as PlaceId;

/** The cavity in the pin or place of a plug: "4" of "4a", "C12.4" of "C12.4a". */
export const cavityIn = (name: string): string => name.slice(0, -1);
/** The same cavity on the other side of the plug: "4b" of "4a". */
export const acrossPlug = (name: string): string => cavityIn(name) + (name.endsWith("a") ? "b" : "a");

/** The place of what has only one: a splice, a ground, a mass. */
export const onlyPlace = (name: string): PlaceId => name as PlaceId;

/** A node inside a part, where no lead can go: "M1.~supply". */
export const innerPlace = (part: string, node: string): PlaceId => pinPlace(part, `~${node}`);
/** Whether a place lies inside a device, where no lead goes. */
export const isInnerPlace = (name: string): boolean => name.includes(".~");

/** A node as the equations of a device name it: ".supply" lies inside, "30" is a terminal. */
export const deviceNode = (part: string, name: string): PlaceId =>
  name.startsWith(".") ? innerPlace(part, name.slice(1)) : pinPlace(part, name);

/** Where a module's own electronics stand: what it measures against, and what it lives on. */
export const moduleGround = (module: string): PlaceId => innerPlace(module, "ground");
/** Where a module's electronics take their feed from, behind its pins. */
export const moduleSupply = (module: string): PlaceId => innerPlace(module, "supply");
