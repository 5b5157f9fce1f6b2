import type { Component, Harness } from "../harness/index.ts";
import { writeCsv } from "./csv.ts";
import { printSpots } from "./header.ts";
import { printCondition } from "./module-words.ts";
import { TABLES, type TableName } from "./table-columns.ts";
import type { TableFile } from "./tables.ts";

/** The tables of a circuit, each a file; reading them gives the same circuit with its parts in the order of the tables. */
export function writeTables(h: Harness): TableFile[] {
  const rows = new Map<TableName, (string | number | undefined)[][]>(
    (Object.keys(TABLES) as TableName[]).map((t) => [t, [[...TABLES[t]]]]),
  );
  const put = (table: TableName, values: Readonly<Record<string, string | number | undefined>>): void =>
    void rows.get(table)!.push(TABLES[table].map((c) => values[c]));
  put("vehicle", { name: h.name, nominal_volts: h.nominalVolts, ...h.vehicle });
  for (const o of h.options ?? []) put("options", o);
  for (const z of h.zones ?? [])
    put("zones", { ...z, exposure: z.exposure.join(" "), out_of_bounds: z.outOfBounds, plan: printSpots(z.plan ?? []) });
  for (const l of h.looms ?? []) put("looms", { ...l, exposure: l.exposure.join(" ") });
  for (const part of h.components) {
    const where = {
      id: part.id,
      label: part.label,
      at: part.at,
      zone: part.zone,
      minutes: part.accessMinutes,
      box: part.box,
      slot: part.slot,
      if: part.when,
      sheet: part.sheet,
    };
    const word = (b: boolean | undefined): string | undefined => (b === undefined ? undefined : b ? "yes" : "no");
    switch (part.kind) {
      case "connector":
        put("connectors", { ...where, ways: part.ways, rows: part.rows, sealed: word(part.sealed), back_probe: word(part.backProbe) });
        break;
      case "ground":
        put("grounds", { ...where, on: part.on, tool: part.tool });
        break;
      case "fuse":
        put("fuses", { ...where, amps: part.ratingAmps });
        break;
      default:
        put("components", { ...where, ...wordsOf(part) });
        if (part.kind === "device" && part.device === "module") putPins(part.id, part.settings, (row) => put("pins", row));
    }
  }
  for (const w of h.wires)
    put("wires", {
      id: w.id,
      from: `${w.from.component}.${w.from.pin}`,
      to: `${w.to.component}.${w.to.pin}`,
      colour: w.colour,
      area_mm2: w.areaMm2,
      length_m: w.lengthAssumed === true ? undefined : w.lengthM,
      segments: w.segments?.join(" "),
      if: w.when,
      sheet: w.sheet,
    });
  for (const j of h.joints) put("joints", { from: `${j.from.component}.${j.from.pin}`, to: `${j.to.component}.${j.to.pin}`, if: j.when });
  for (const m of h.monitors ?? []) put("codes", { ...m, below_volts: m.belowVolts, above_volts: m.aboveVolts });
  return [...rows].filter(([, r]) => r.length > 1).map(([table, r]) => ({ name: `${table}.csv`, text: writeCsv(r) }));
}

function putPins(id: string, settings: Readonly<Record<string, unknown>>, put: (row: Record<string, string>) => void): void {
  const pins = (settings.pins ?? {}) as Record<string, Record<string, unknown>>;
  const rules = (settings.rules ?? []) as { pin: string; when: unknown }[];
  for (const [pin, { sort, ...more }] of Object.entries(pins)) {
    const own = rules.filter((r) => r.pin === pin).map((r) => r.when);
    const only = own.length === 1 ? printCondition(own[0]) : undefined;
    put({
      component: id,
      pin,
      sort: String(sort),
      settings: Object.entries(more)
        .map(([name, v]) => `${name}=${typeof v === "string" ? v : JSON.stringify(v)}`)
        .join(" "),
      when: own.length === 0 ? "" : (only ?? JSON.stringify(own)),
    });
  }
}

function wordsOf(part: Component): { kind: string; rating?: string; settings?: string } {
  switch (part.kind) {
    case "battery": {
      const shares = [part.charge === undefined ? "" : `charge=${part.charge}`, part.wear === undefined ? "" : `wear=${part.wear}`];
      return {
        kind: "battery",
        rating: `${part.restVolts}V ${part.internalOhms}ohm charge ${part.chargeVolts}V crank ${part.crankAmps}A`,
        settings: shares.filter(Boolean).join(" "),
      };
    }
    case "switch":
      return { kind: "switch", rating: part.closedBy === "accessory" ? "acc" : part.closedBy };
    case "load": {
      const rating =
        "amps" in part.rating ? `${part.rating.amps}A` : "watts" in part.rating ? `${part.rating.watts}W` : `${part.rating.ohms}ohm`;
      return { kind: part.sort, rating: part.pins[0] === "1" && part.pins[1] === "2" ? rating : `${rating} pins ${part.pins.join(" ")}` };
    }
    case "device": {
      const inPins = part.device === "module" ? ["pins", "rules"] : [];
      return {
        kind: part.device,
        settings: Object.entries(part.settings)
          .filter(([name]) => !inPins.includes(name))
          .map(([name, v]) => `${name}=${typeof v === "string" && /^[A-Za-z][\w-]*$/.test(v) ? v : JSON.stringify(v)}`)
          .join(" "),
      };
    }
    case "splice":
    case "connector":
    case "ground":
    case "fuse":
      return { kind: part.kind };
  }
}
