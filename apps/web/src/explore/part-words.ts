import type { Harness } from "@rheonom/core/harness";

/** "FAN radiator fan". */
export function partWords(harness: Harness, id: string): string {
  const label = harness.components.find((c) => c.id === id)?.label;
  return label === undefined ? id : `${id} ${label}`;
}
