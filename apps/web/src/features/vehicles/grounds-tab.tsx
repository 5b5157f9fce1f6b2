import { useMemo, useState } from "react";
import { Link } from "react-router";
import { groundMap, lookupOf } from "@rheonom/core/harness";
import { styled } from "styled-components";
import { buttonLink } from "../../ui/button.tsx";
import { Field } from "../../ui/field.tsx";
import { Faint, Hidden, Panel, Row } from "../../ui/layout.tsx";
import { Table } from "../../ui/table.tsx";
import { useVehicle } from "./vehicle-context.ts";
import { ZoneMap } from "./zone-map.tsx";

const PaperLink = styled.a`
  ${buttonLink}
`;

/** Each ground: where, how to reach it, what it serves. */
export function GroundsTab() {
  const { harness, id, version, options, query } = useVehicle();
  const [find, setFind] = useState("");
  const grounds = useMemo(() => groundMap(harness), [harness]);
  const words = find.toLowerCase().split(/\s+/).filter(Boolean);
  const text = (g: (typeof grounds)[number]): string =>
    [g.id, g.words, g.on, g.place, g.tool, ...g.serves.flatMap((s) => [s.id, s.words])].join(" ").toLowerCase();
  const zone = query.get("zone");
  const zoneOf = (part: string): string | undefined => lookupOf(harness).parts.get(part)?.zone;
  const shown = grounds.filter((g) => words.every((w) => text(g).includes(w)) && (zone === null || zoneOf(g.id) === zone));
  return (
    <Panel style={{ padding: "var(--s3)" }}>
      <Row style={{ justifyContent: "space-between", alignItems: "end" }}>
        <Field label="Find by place or by what fails" value={find} onChange={setFind} placeholder="stop light, sill, G10" />
        <PaperLink
          href={`/api/vehicles/${id}/versions/${version}/grounds.pdf?options=${options.join(",")}`}
          target="_blank"
          rel="noreferrer"
        >
          On paper (PDF)
        </PaperLink>
      </Row>
      <ZoneMap count={(z) => grounds.filter((g) => zoneOf(g.id) === z).length} of="grounds" />
      <div style={{ overflowX: "auto" }}>
        <Table>
          <caption>
            <Hidden>Grounds</Hidden>
          </caption>
          <thead>
            <tr>
              <th scope="col">Ground</th>
              <th scope="col">Where</th>
              <th scope="col" className="n">
                Reach
              </th>
              <th scope="col">Tool</th>
              <th scope="col">Serves</th>
            </tr>
          </thead>
          <tbody>
            {shown.map((g) => (
              <tr key={g.id}>
                <td>
                  <Link to={{ pathname: "../circuit", search: `?v=${version}&o=${options.join(",")}&of=${g.id}` }} relative="path">
                    <strong>{g.id}</strong>
                  </Link>{" "}
                  {g.words}
                  {g.strap ? <Faint> · strap</Faint> : null}
                </td>
                <td>
                  on the {g.on}
                  {g.place === "" ? "" : `; ${g.place}`}
                  {g.exposure.length === 0 ? null : <Faint> · {g.exposure.join(", ")}</Faint>}
                </td>
                <td className="n">{g.minutes === undefined ? "–" : `${g.minutes} min`}</td>
                <td>{g.tool ?? "–"}</td>
                <td>
                  {g.serves.length > 12 && words.length === 0
                    ? `${g.serves
                        .slice(0, 12)
                        .map((s) => `${s.id} ${s.words}`)
                        .join(", ")} and ${g.serves.length - 12} more`
                    : g.serves.map((s) => `${s.id} ${s.words}`).join(", ")}
                </td>
              </tr>
            ))}
          </tbody>
        </Table>
      </div>
      {shown.length === 0 ? (
        <p>
          No ground matches{find === "" ? "" : ` “${find}”`}
          {zone === null ? "" : ` in zone ${zone}`}. Clear it to see all {grounds.length}.
        </p>
      ) : null}
    </Panel>
  );
}
