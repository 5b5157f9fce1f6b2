import { useMemo } from "react";
import { styled } from "styled-components";
import { describePlace, faceOf, otherEnd } from "@rheonom/core/harness";
import { formatVolts } from "@rheonom/core/quantity";
import { drawFace, worstBeside } from "@rheonom/drawing/face";
import { SceneView } from "../../drawing/scene-view.tsx";
import { buttonLink } from "../../ui/button.tsx";
import { Select } from "../../ui/select.tsx";
import { Faint, Hidden, Panel, Row } from "../../ui/layout.tsx";
import { Notice } from "../../ui/notice.tsx";
import { Segmented } from "../../ui/segmented.tsx";
import { Table } from "../../ui/table.tsx";
import { useVehicle } from "./vehicle-context.ts";
import { ZoneMap } from "./zone-map.tsx";

const PaperLink = styled.a`
  ${buttonLink}
`;

/** A connector's face, cavities counted from the side that is looked at. */
export function FaceTab() {
  const { harness, state, volts, query, ask, id, version, options } = useVehicle();
  const connectors = useMemo(() => harness.components.filter((c) => c.kind === "connector"), [harness]);
  const zoneId = query.get("zone");
  const near = zoneId === null ? connectors : connectors.filter((c) => c.zone === zoneId);
  const chosen = near.find((c) => c.id === query.get("of")) ?? near[0] ?? connectors[0];
  const half = query.get("half") === "b" ? "b" : "a";
  const look = query.get("look") === "mating" ? "mating side" : "wire side";
  const face = useMemo(() => (chosen === undefined ? undefined : faceOf(harness, chosen.id, half, look)), [harness, chosen, half, look]);
  const cavity = query.get("cavity") ?? undefined;
  const scene = useMemo(() => (face === undefined ? undefined : drawFace(face, { volts, selected: cavity })), [face, volts, cavity]);
  if (chosen === undefined || face === undefined || scene === undefined)
    return (
      <Panel>
        <p style={{ margin: 0 }}>This wiring has no connector. Write one on the way, such as -- C12.4 --.</p>
      </Panel>
    );
  const zone = harness.zones?.find((z) => z.id === chosen.zone);
  const cells = face.rows.flat().filter((c) => c.wires.length > 0);
  return (
    <Panel style={{ padding: "var(--s3)" }}>
      <Row style={{ alignItems: "end" }}>
        <Select
          label="Connector"
          inline
          value={chosen.id}
          onChange={(of) => ask({ of, cavity: undefined })}
          options={(near.length === 0 ? connectors : near).map((c) => ({ id: c.id, text: [c.id, c.label].filter(Boolean).join(" ") }))}
        />
        <Segmented
          label="Half"
          value={half}
          onChange={(h) => ask({ half: h })}
          options={[
            { id: "a", text: "a" },
            { id: "b", text: "b" },
          ]}
        />
        <Segmented
          label="You look at"
          value={look === "wire side" ? "wire" : "mating"}
          onChange={(l) => ask({ look: l })}
          options={[
            { id: "wire", text: "wire side" },
            { id: "mating", text: "mating side" },
          ]}
        />
        <PaperLink
          href={`/api/vehicles/${id}/versions/${version}/faces/${chosen.id}.pdf?half=${half}&look=${look === "wire side" ? "wire" : "mating"}&options=${options.join(",")}&key=${state.key}&engine=${encodeURIComponent(state.engine)}${state.on.length === 0 ? "&on=none" : ""}`}
          target="_blank"
          rel="noreferrer"
        >
          On paper (PDF)
        </PaperLink>
      </Row>
      <Faint>
        {[
          zone?.text,
          zone === undefined ? undefined : `${chosen.accessMinutes ?? zone.minutes} min to reach`,
          chosen.sealed === true ? "sealed" : undefined,
        ]
          .filter(Boolean)
          .join(" · ")}
      </Faint>
      {chosen.sealed === true || chosen.backProbe === false ? (
        <Notice tone="caution">
          {chosen.backProbe === false
            ? "Its pins cannot be reached from the wire side: unplug it or use a lead between the halves."
            : "Sealed: go in beside the wire without tearing the seal, and never pierce the wire without closing it again."}
        </Notice>
      ) : null}
      <ZoneMap count={(z) => connectors.filter((c) => c.zone === z).length} of="connectors" />
      <div style={{ overflowX: "auto" }}>
        <SceneView scene={scene} onPick={(hit) => ask({ cavity: hit.id.slice(chosen.id.length + 1, -1) })} />
      </div>
      <div style={{ overflowX: "auto" }}>
        <Table>
          <caption>
            <Hidden>Cavities of {chosen.id}</Hidden>
          </caption>
          <thead>
            <tr>
              <th scope="col" className="n">
                Cavity
              </th>
              <th scope="col">Wire</th>
              <th scope="col">Leads to</th>
              <th scope="col" className="n">
                Should read
              </th>
              <th scope="col">Highest-risk neighbour</th>
            </tr>
          </thead>
          <tbody>
            {[...cells]
              .sort((p, q) => Number(p.number) - Number(q.number))
              .map((c) => {
                const worst = worstBeside(face, c, volts);
                return (
                  <tr key={c.number} data-selected={c.number === cavity ? "" : undefined}>
                    <td className="n">{c.number}</td>
                    <td>{c.wires.map((w) => `${w.id} ${w.colour ?? ""}`).join(", ")}</td>
                    <td>{c.wires.map((w) => describePlace(harness, otherEnd(harness, w, c.place))).join(", ")}</td>
                    <td className="n">{volts.get(c.place) === undefined ? "floats" : formatVolts(volts.get(c.place)!)}</td>
                    <td>{worst === undefined ? "–" : `cavity ${worst.number}, ${worst.apartVolts.toFixed(1)} V apart`}</td>
                  </tr>
                );
              })}
          </tbody>
        </Table>
      </div>
    </Panel>
  );
}
