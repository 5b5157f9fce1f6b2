import { readDevice } from "../devices/index.ts";
import type { Component } from "../harness/index.ts";
import { kindOfName, type PartKind, type PartWords } from "./part-item.ts";

/** The words of these names that were said. */
function said<K extends keyof PartWords>(words: PartWords, names: readonly K[]): { [N in K]?: NonNullable<PartWords[N]> } {
  return Object.fromEntries(names.flatMap((n) => (words[n] === undefined ? [] : [[n, words[n]]]))) as {
    [N in K]?: NonNullable<PartWords[N]>;
  };
}

/** A part from all that was said of it; undefined, and `fault` is told, when it cannot be. */
export function componentFrom(
  id: string,
  words: PartWords,
  nominalVolts: number,
  fault: (code: string, message: string) => void,
): Component | undefined {
  const rated = words.amps ?? words.watts ?? words.ohms;
  const kind: PartKind | undefined = words.kind ?? kindOfName(id) ?? (rated === undefined ? undefined : "load");
  const shared = { id, ...said(words, ["label", "at", "zone", "when", "sheet", "accessMinutes", "box", "slot"]) };
  if (kind === undefined) {
    fault("unknown-part", `What is ${id}? Say it once in parentheses, such as ${id}(motor 12A) or ${id}(switch).`);
    return undefined;
  }
  const shareSetting = (name: "charge" | "wear"): { [name]?: number } => {
    const said = words.settings?.[name];
    if (said === undefined) return {};
    if (typeof said === "number" && said >= 0 && said <= 1) return { [name]: said };
    fault("share", `${name}=${String(said)} of ${id} cannot be. Write a share from 0 to 1, such as ${name}=0.5`);
    return {};
  };
  if (words.settings !== undefined && kind !== "device" && kind !== "battery")
    fault("setting", `${id} is not a device and takes no ${Object.keys(words.settings)[0]}=. Say what it is first, such as ${id}(relay).`);
  switch (kind) {
    case "device": {
      const settings = words.settings ?? {};
      if (rated !== undefined) fault("device-rating", `The values of ${id} are said by name, such as ${id}(${words.device} …Ohms=85).`);
      const read = readDevice(words.device ?? "", settings);
      if (read.kind === "bad settings")
        for (const p of read.problems) fault("setting", `${id}${p.at === "" ? "" : `, ${p.at}`}: ${p.message}`);
      return read.kind === "known" ? { ...shared, kind, device: words.device!, settings } : undefined;
    }
    case "battery": {
      const scale = nominalVolts / 12;
      return {
        ...shared,
        kind,
        restVolts: words.volts ?? 12.6 * scale,
        internalOhms: words.ohms ?? 0.008,
        chargeVolts: words.chargeVolts ?? 14.2 * scale,
        crankAmps: words.crankAmps ?? 200,
        ...shareSetting("charge"),
        ...shareSetting("wear"),
      };
    }
    case "fuse":
      if (words.amps === undefined && words.badRating === true) return undefined;
      if (words.amps === undefined) {
        fault("fuse-rating", `Fuse ${id} has no rating. Write it once, such as ${id}(15A).`);
        return undefined;
      }
      return { ...shared, kind, ratingAmps: words.amps };
    case "switch":
      return { ...shared, kind, closedBy: words.closedBy ?? "hand" };
    case "connector":
      return { ...shared, kind, ...said(words, ["ways", "rows", "sealed", "backProbe"]) };
    case "splice":
      return { ...shared, kind };
    case "ground":
      return { ...shared, kind, on: words.on ?? "body", ...said(words, ["tool"]) };
    case "load": {
      const rating =
        words.amps !== undefined
          ? { amps: words.amps }
          : words.watts !== undefined
            ? { watts: words.watts }
            : words.ohms !== undefined
              ? { ohms: words.ohms }
              : undefined;
      if (rating === undefined && words.badRating === true) return undefined;
      if (rating === undefined) {
        fault(
          "load-rating",
          `${id} has no rating. Write its current, power or resistance once, such as ${id}(${words.sort ?? "motor"} 12A).`,
        );
        return undefined;
      }
      return { ...shared, kind, sort: words.sort ?? "load", rating, pins: words.pins ?? ["1", "2"] };
    }
  }
}
