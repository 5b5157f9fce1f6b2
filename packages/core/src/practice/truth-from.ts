import type { Fault } from "../circuit/index.ts";
import type { FaultEffect, SupposedFault } from "../faults/index.ts";
import { linksAt, partNameIn, wiresAt, type Harness } from "../harness/index.ts";
import type { Truth } from "./truth.ts";

/** A fault as what can be seen and moved of it. What it does to the circuit stays as it is. */
export function truthFrom(harness: Harness, fault: Fault): Truth {
  const make = (link: string, effect: FaultEffect, other?: string): Truth => {
    const supposed: SupposedFault = {
      id: `${link} ${effect}`,
      link,
      ...(other === undefined ? {} : { other }),
      effect,
      mode: effect,
      words: "",
      mend: "",
      partStays: true,
      severities: [0],
      prior: 0,
      faultAt: () => fault,
    };
    return { fault: supposed, severity: 0 };
  };
  switch (fault.kind) {
    case "open":
    case "series":
      return make(fault.link, fault.kind);
    case "short to ground":
    case "short to feed":
      return make(wireAt(harness, fault.place), fault.kind);
    case "across":
      return partNameIn(fault.from) === partNameIn(fault.to)
        ? make(partNameIn(fault.from), "shorted inside")
        : make(wireAt(harness, fault.from), "short to wire", wireAt(harness, fault.to));
    case "stuck":
      return make(partNameIn(fault.link), fault.closed ? "stuck closed" : "stuck open");
    case "settings":
      return make(fault.component, "setting");
    case "splice":
      return make(fault.splice, "series");
    case "lead":
      return make("", "lead");
  }
}

/** The wire that ends at a place; the place itself where none does. */
const wireAt = (harness: Harness, place: string): string =>
  linksAt(harness, place).find((l) => l.kind === "wire")?.id ?? wiresAt(harness, place)[0]?.id ?? place;
