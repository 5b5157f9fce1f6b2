import { useMemo } from "react";
import { loomMap, placeOf } from "@rheonom/core/harness";
import { Faint, Hidden, Panel, Row } from "../../ui/layout.tsx";
import { Segmented } from "../../ui/segmented.tsx";
import { Table } from "../../ui/table.tsx";
import { useVehicle } from "./vehicle-context.ts";
import { ZoneMap } from "./zone-map.tsx";

/** Looms by segment: who runs beside whom, what it meets on the way. */
export function LoomsTab() {
  const { harness, query, ask } = useVehicle();
  const looms = useMemo(() => loomMap(harness), [harness]);
  const zone = query.get("zone");
  const zoneOf = (loom: string): string | undefined => harness.looms?.find((l) => l.id === loom)?.zone;
  const near = zone === null ? looms : looms.filter((l) => zoneOf(l.id) === zone);
  const chosen = near.find((l) => l.id === query.get("loom")) ?? near[0] ?? looms[0];
  if (chosen === undefined)
    return (
      <Panel>
        <p style={{ margin: 0 }}>No wire says through which loom it runs. Write via=dash behind a wire, or a line “via dash” above many.</p>
      </Panel>
    );
  return (
    <Panel style={{ padding: "var(--s3)" }}>
      <ZoneMap count={(z) => looms.filter((l) => zoneOf(l.id) === z).length} of="segments of loom" />
      <div style={{ overflowX: "auto" }}>
        <Segmented
          label="Segment"
          hideLabel
          options={(near.length === 0 ? looms : near).map((l) => ({ id: l.id, text: l.id }))}
          value={chosen.id}
          onChange={(loom) => ask({ loom })}
        />
      </div>
      <Row>
        <h2>{chosen.words === "" ? chosen.id : chosen.words}</h2>
        <Faint>
          {[chosen.zone, chosen.exposure.join(", "), chosen.crosses === undefined ? "" : `crosses ${chosen.crosses}`]
            .filter(Boolean)
            .join(" · ")}
        </Faint>
      </Row>
      <Faint>
        {chosen.wires.length} wires side by side: where one is rubbed through, look at all of these. They serve{" "}
        {chosen.serves
          .slice(0, 10)
          .map((s) => `${s.id} ${s.words}`)
          .join(", ") || "nothing that draws current"}
        {chosen.serves.length > 10 ? ` and ${chosen.serves.length - 10} more` : ""}.
      </Faint>
      <div style={{ overflowX: "auto" }}>
        <Table>
          <caption>
            <Hidden>Wires in {chosen.id}</Hidden>
          </caption>
          <thead>
            <tr>
              <th scope="col">Wire</th>
              <th scope="col">Colour</th>
              <th scope="col" className="n">
                Area
              </th>
              <th scope="col">From</th>
              <th scope="col">To</th>
            </tr>
          </thead>
          <tbody>
            {chosen.wires.map((w) => (
              <tr key={w.id}>
                <td>{w.id}</td>
                <td>{w.colour ?? "–"}</td>
                <td className="n">{w.areaMm2} mm²</td>
                <td>{placeOf(harness, w.from)}</td>
                <td>{placeOf(harness, w.to)}</td>
              </tr>
            ))}
          </tbody>
        </Table>
      </div>
    </Panel>
  );
}
