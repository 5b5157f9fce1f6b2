import type { Fault } from "../circuit/index.ts";
import { lookupOf, partNameIn, type Harness } from "../harness/index.ts";
import type { FaultType } from "../repair/index.ts";

/** What somebody says was wrong, with its resistance, Ω. */
export interface FaultSaid {
  readonly type: FaultType;
  readonly ohms?: number | undefined;
}

/** How far that is right. `hasDegree`: the fault is a resistance, of which the ohms count. */
export interface FaultJudged {
  readonly isType: boolean;
  readonly hasDegree: boolean;
  readonly isDegree: boolean;
}

/** A resistance within this factor is right: half a decade. */
const DEGREE_FACTOR = Math.sqrt(10);

const isInPart = (harness: Harness, name: string): boolean => {
  const part = lookupOf(harness).parts.get(partNameIn(name));
  return part !== undefined && part.kind !== "connector" && part.kind !== "ground" && part.kind !== "splice";
};

/** What a fault may rightly be called. */
export function typesOf(harness: Harness, fault: Fault): readonly FaultType[] {
  const inPart = (link: string): readonly FaultType[] => (isInPart(harness, link) ? ["defective part"] : []);
  switch (fault.kind) {
    case "open":
      return ["open circuit", ...inPart(fault.link)];
    case "series":
      return ["high resistance", ...inPart(fault.link)];
    case "splice":
      return ["high resistance", "open circuit"];
    case "short to ground":
      return ["short to ground", ...inPart(fault.place)];
    case "short to feed":
      return ["short to supply", ...inPart(fault.place)];
    case "across":
      return ["short between wires", ...(partNameIn(fault.from) === partNameIn(fault.to) ? inPart(fault.from) : [])];
    case "stuck":
      return ["defective part", fault.closed ? "short to supply" : "open circuit"];
    case "settings":
      return lookupOf(harness).parts.get(fault.component)?.kind === "fuse" ? ["wrong rating"] : ["defective part"];
    case "lead":
      return [];
  }
}

/** What was said of a fault that was ended; undefined where nothing was, or nothing was ended. */
export function judgedFault(harness: Harness, ended: readonly Fault[], said: FaultSaid | undefined): FaultJudged | undefined {
  if (said === undefined || ended.length === 0) return undefined;
  const degrees = ended.flatMap((f) => (f.kind === "series" || f.kind === "splice" ? [f.ohms] : []));
  const isNear = (ohms: number): boolean =>
    said.ohms !== undefined && said.ohms > 0 && Math.max(said.ohms / ohms, ohms / said.ohms) <= DEGREE_FACTOR;
  return {
    isType: ended.some((f) => typesOf(harness, f).includes(said.type)),
    hasDegree: degrees.length > 0,
    isDegree: degrees.some(isNear),
  };
}
