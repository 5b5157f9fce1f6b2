import { accessMinutes, lookupOf, partOfPlace, type Harness } from "@rheonom/core/harness";

/** Where a part, wire or place is, how long it takes to reach, and of a wire what it is made of: a line each, none of them empty. */
export function reachWords(harness: Harness, name: string): readonly string[] {
  const { parts, wires } = lookupOf(harness);
  const wire = wires.get(name);
  const part = parts.get(name) ?? partOfPlace(harness, name);
  const zone = harness.zones?.find((z) => z.id === part?.zone);
  const minutes = part === undefined ? undefined : accessMinutes(harness, part);
  const where = [
    part?.at,
    zone?.text,
    part?.box === undefined ? undefined : `${part.box} ${part.slot ?? ""}`.trim(),
    part?.sheet === undefined ? undefined : `sheet ${part.sheet}`,
    minutes === undefined ? undefined : `${minutes} min to reach`,
  ];
  const made =
    wire === undefined
      ? []
      : [
          `${wire.areaMm2} mm²`,
          `${wire.lengthM} m`,
          wire.segments === undefined ? undefined : `through ${wire.segments.join(", ")}`,
          wire.sheet === undefined ? undefined : `sheet ${wire.sheet}`,
        ];
  return [where, made].map((words) => words.filter(Boolean).join(", ")).filter((line) => line !== "");
}
