import type { Test } from "../predict/oracle.ts";
import type { Instrument } from "./candidate-test.ts";

/** What has to be at hand for a test: the instrument that reads it, and what is fitted for it. Eyes, ears and hands need none. */
export function toolsFor({ state, observe: o }: Test): readonly Instrument[] {
  return [
    ...reads(o.kind),
    ...(state.bridged.length > 0 ? (["fused lead"] as const) : []),
    ...((state.lamps ?? []).length > 0 ? (["test lamp"] as const) : []),
  ];
}

function reads(kind: Test["observe"]["kind"]): readonly Instrument[] {
  switch (kind) {
    case "volts":
    case "ohms":
    case "continuity":
      return ["meter"];
    case "amps":
      return ["clamp"];
    case "level":
    case "duty":
      return ["scope"];
    case "lamp":
      return ["test lamp"];
    case "code":
    case "live":
    case "answers":
      return ["scan tool"];
    case "swap":
      return ["known-good parts"];
    default:
      return [];
  }
}
