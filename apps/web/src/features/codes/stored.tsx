import { styled } from "styled-components";
import { liveValuesOf, type CodeEntry } from "@rheonom/core/codes";
import type { Harness } from "@rheonom/core/harness";

const Fold = styled.details`
  color: var(--ink-2);
  summary {
    min-height: var(--target);
    display: flex;
    align-items: center;
    cursor: pointer;
    color: var(--accent);
  }
  ul {
    margin: 0;
    padding-left: var(--s4);
  }
`;

/** What a module stored with a code, folded. */
export function Stored({ entry, harness }: { entry: CodeEntry; harness: Harness | undefined }) {
  const values = Object.entries(entry.snapshot ?? {});
  if (values.length === 0) return null;
  const named = new Map<string, string>(
    harness === undefined
      ? []
      : liveValuesOf(harness, entry.module).map((v) => [`0x${v.did.toString(16).padStart(4, "0")}`, v.name] as const),
  );
  return (
    <Fold>
      <summary>
        {values.length} {values.length === 1 ? "value" : "values"} stored with it
      </summary>
      <ul>
        {values.map(([name, value]) => {
          const [id = "", unit = ""] = name.split(", ");
          return (
            <li key={name}>
              {named.get(id) ?? id}: {value} {unit}
            </li>
          );
        })}
      </ul>
    </Fold>
  );
}
