import { deviceOf } from "./device-of.ts";
import { WIRE_COLOURS, type Component, type Harness, type PinRef } from "./schema.ts";
import { optionsNamed } from "./variants.ts";
import type { HarnessProblem } from "./validate.ts";

const bad = (code: HarnessProblem["code"], at: string, message: string, fix?: HarnessProblem["fix"]): HarnessProblem => ({
  severity: "error",
  code,
  at,
  message,
  ...(fix === undefined ? {} : { fix }),
});

/** What a document can get wrong before its wiring means anything: names that are used twice, and names of nothing. */
export function referenceProblems(harness: Harness): HarnessProblem[] {
  return [...twice(harness), ...dangling(harness), ...unknownNames(harness), ...colours(harness)];
}

function twice(harness: Harness): HarnessProblem[] {
  const problems: HarnessProblem[] = [];
  const seen = new Map<string, string>();
  const meet = (id: string, what: string): void => {
    const before = seen.get(id.toLowerCase());
    if (before !== undefined) problems.push(bad("id-twice", id, `${id} names ${before} and ${what}. Give one another name.`));
    else seen.set(id.toLowerCase(), what);
  };
  for (const c of harness.components) meet(c.id, `a ${c.kind}`);
  for (const w of harness.wires) meet(w.id, "a wire");
  return problems;
}

/** Pin names of a part; undefined where any cavity number will do. */
function pinsOf(part: Component): readonly string[] | undefined {
  switch (part.kind) {
    case "battery":
      return ["+", "-"];
    case "fuse":
    case "switch":
      return ["1", "2"];
    case "load":
      return part.pins;
    case "splice":
    case "ground":
      return ["1"];
    case "device": {
      const { device, settings } = deviceOf(part);
      return device.terminals(settings).map((t) => t.name);
    }
    case "connector":
      return undefined;
  }
}

function dangling(harness: Harness): HarnessProblem[] {
  const parts = new Map(harness.components.map((c) => [c.id, c]));
  const problems: HarnessProblem[] = [];
  const check = (end: PinRef, at: string, line: string): void => {
    const part = parts.get(end.component);
    if (part === undefined) {
      problems.push(
        bad("dangling-pin", at, `${line} leads to ${end.component}, which is not in the list of parts. Add it or correct the name.`),
      );
      return;
    }
    const pins = pinsOf(part);
    if (pins !== undefined) {
      if (!pins.includes(end.pin))
        problems.push(bad("dangling-pin", at, `${line} leads to pin ${end.pin} of ${part.id}, which has ${pins.join(", ")}.`));
      return;
    }
    const cavity = /^(\d{1,3})[ab]$/.exec(end.pin)?.[1];
    if (cavity === undefined)
      problems.push(
        bad("dangling-pin", at, `${line} leads to "${end.pin}" of ${part.id}. A cavity is a number and a side, such as 4a or 4b.`),
      );
    else if (part.kind === "connector" && part.ways !== undefined && (Number(cavity) > part.ways || Number(cavity) === 0))
      problems.push(
        bad("cavity-unknown", part.id, `${line} leads to cavity ${cavity} of ${part.id}, which has ${part.ways}.`, {
          words: `Give ${part.id} ${cavity} cavities`,
          edit: { kind: "set", id: part.id, values: { ways: Number(cavity) } },
        }),
      );
  };
  for (const w of harness.wires) {
    check(w.from, w.id, `Wire ${w.id}`);
    check(w.to, w.id, `Wire ${w.id}`);
    if (w.from.component === w.to.component && w.from.pin === w.to.pin)
      problems.push(
        bad("wire-to-itself", w.id, `Wire ${w.id} begins and ends at ${w.from.component}.${w.from.pin}. Say where it leads.`, {
          words: `Take out ${w.id}`,
          edit: { kind: "remove", id: w.id },
        }),
      );
  }
  for (const j of harness.joints) {
    check(j.from, j.from.component, `The joint at ${j.from.component}`);
    check(j.to, j.to.component, `The joint at ${j.to.component}`);
  }
  return problems;
}

function unknownNames(harness: Harness): HarnessProblem[] {
  const problems: HarnessProblem[] = [];
  const known = (list: readonly { id: string }[] | undefined): Set<string> => new Set((list ?? []).map((x) => x.id));
  const zones = known(harness.zones);
  const options = known(harness.options);
  const looms = known(harness.looms);
  const parts = known(harness.components);
  const zone = (id: string | undefined, at: string): void => {
    if (id !== undefined && !zones.has(id))
      problems.push(
        bad("name-unknown", at, `${at} is in zone ${id}, which is not explained. Add: zone ${id} "where it is" 5min`, {
          words: `Add zone ${id}`,
          edit: { kind: "add-zone", id },
        }),
      );
  };
  const when = (text: string | undefined, at: string): void => {
    for (const id of optionsNamed(text))
      if (!options.has(id))
        problems.push(
          bad("name-unknown", at, `${at} depends on option ${id}, which is not explained. Add: option ${id} "what it is"`, {
            words: `Add option ${id}`,
            edit: { kind: "add-option", id },
          }),
        );
  };
  for (const c of harness.components) {
    zone(c.zone, c.id);
    when(c.when, c.id);
  }
  for (const l of harness.looms ?? []) zone(l.zone, l.id);
  for (const w of harness.wires) {
    when(w.when, w.id);
    // Segments may go unexplained while no loom is; once some are, a strange one is a slip of the pen.
    if (looms.size > 0)
      for (const s of w.segments ?? [])
        if (!looms.has(s))
          problems.push({
            severity: "warning",
            code: "name-unknown",
            at: w.id,
            message: `${w.id} runs through ${s}, which is not explained. Add: loom ${s} "where it runs"`,
          });
  }
  for (const m of harness.monitors ?? []) {
    for (const id of [m.module, m.silent])
      if (id !== undefined && !parts.has(id))
        problems.push(bad("name-unknown", id, `Code ${m.code} speaks of ${id}, which is not in the list of parts.`));
    const part = harness.components.find((c) => c.id === m.module);
    if (m.pin !== undefined && part !== undefined && pinsOf(part)?.includes(m.pin) === false)
      problems.push(bad("dangling-pin", m.module, `Code ${m.code} speaks of pin ${m.pin} of ${m.module}, which has none of that name.`));
  }
  return problems;
}

function colours(harness: Harness): HarnessProblem[] {
  return harness.wires.flatMap((w) => {
    const wrong = w.colour?.split("/").find((c) => !(c in WIRE_COLOURS));
    if (wrong === undefined) return [];
    const message = `${wrong} of wire ${w.id} is not a colour of IEC 60757. The letters are ${Object.keys(WIRE_COLOURS).join(" ")}.`;
    return [
      bad("colour-unknown", w.id, message, {
        words: `Leave the colour of ${w.id} open`,
        edit: { kind: "set", id: w.id, values: { colour: undefined } },
      }),
    ];
  });
}
