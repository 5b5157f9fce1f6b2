import { sharedNodes } from "@rheonom/core/harness";
import { list, readCircuit } from "./circuit-options.ts";
import { readOptions, UsageError, type Output } from "./usage.ts";

const OPTIONS = {
  failing: { type: "string" },
  working: { type: "string" },
  options: { type: "string" },
  json: { type: "boolean" },
} as const;

/** `rheonom shared FILE --failing A,B [--working C]`: what the failing parts share and the working ones do not. */
export function sharedCommand(args: readonly string[], out: Output): number {
  const { file, values } = readOptions(args, OPTIONS);
  const harness = readCircuit(file, values.options);
  const [failing, working] = [list(values.failing), list(values.working)];
  if (failing.length === 0) throw new UsageError("shared needs --failing with one part or more, such as --failing LA1,LA2.");
  const parts = new Set(harness.components.map((c) => c.id));
  const strange = [...failing, ...working].find((id) => !parts.has(id));
  if (strange !== undefined) throw new UsageError(`${file} has no part "${strange}".`);
  const both = failing.find((id) => working.includes(id));
  if (both !== undefined) throw new UsageError(`${both} cannot both fail and work.`);
  const nodes = sharedNodes(harness, failing, working);
  if (values.json === true) out.write(`${JSON.stringify(nodes)}\n`);
  else if (nodes.length === 0) out.write(`${failing.join(" and ")} share nothing on this circuit.\n`);
  else
    for (const n of nodes) {
      const against =
        n.working.length === 0 ? "" : `; ${n.working.join(", ")} ${n.working.length === 1 ? "works" : "work"} through it all the same`;
      const others = n.others.length === 0 ? "" : `; look at ${n.others.slice(0, 6).join(", ")} too`;
      out.write(`${n.words} (${n.side}): ${n.failing.length} of ${failing.length} failing${against}${others}\n`);
    }
  return 0;
}
