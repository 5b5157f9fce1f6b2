import { useMemo } from "react";
import { Link } from "react-router";
import { accessMinutes, busMap, lookupOf, moduleMap, partNameIn } from "@rheonom/core/harness";
import { Faint, Hidden, Panel } from "../../ui/layout.tsx";
import { formatVolts } from "@rheonom/core/quantity";
import { Table } from "../../ui/table.tsx";
import { partWords } from "../../explore/part-words.ts";
import { useVehicle } from "./vehicle-context.ts";

/** Every bus line: who is on it, in the order in which unplugging is easiest. */
export function BusesTab() {
  const { harness, volts, version, options } = useVehicle();
  const buses = useMemo(() => busMap(harness), [harness]);
  const modules = useMemo(() => moduleMap(harness), [harness]);
  if (buses.length === 0 && modules.length === 0)
    return (
      <Panel>
        <p style={{ margin: 0 }}>This vehicle has no module and no bus.</p>
      </Panel>
    );
  return (
    <>
      {buses.map((b) => {
        const members = b.members
          .map((p) => ({ p, part: lookupOf(harness).parts.get(partNameIn(p))! }))
          .sort((x, y) => (accessMinutes(harness, x.part) ?? 99) - (accessMinutes(harness, y.part) ?? 99));
        return (
          <Panel key={b.name} style={{ padding: "var(--s3)" }}>
            <h2>
              {b.sort} at {b.name} {b.words}
            </h2>
            <Faint>
              Through {[...b.splices, ...b.connectors].join(", ") || "no splice"}; {b.wires.length} wires
              {b.others.length === 0 ? "" : `; also on it: ${b.others.join(", ")}`}. Easiest to unplug first.
            </Faint>
            <div style={{ overflowX: "auto" }}>
              <Table>
                <caption>
                  <Hidden>Modules on {b.name}</Hidden>
                </caption>
                <thead>
                  <tr>
                    <th scope="col">Module</th>
                    <th scope="col">Pin</th>
                    <th scope="col" className="n">
                      Mean reads
                    </th>
                    <th scope="col">Where</th>
                    <th scope="col" className="n">
                      Reach
                    </th>
                  </tr>
                </thead>
                <tbody>
                  {members.map(({ p, part }) => (
                    <tr key={p}>
                      <td>
                        <Link to={{ pathname: "../circuit", search: `?v=${version}&o=${options.join(",")}&of=${part.id}` }} relative="path">
                          {partWords(harness, part.id)}
                        </Link>
                      </td>
                      <td>{p.slice(part.id.length + 1)}</td>
                      <td className="n">{volts.get(p) === undefined ? "–" : formatVolts(volts.get(p)!)}</td>
                      <td>{harness.zones?.find((z) => z.id === part.zone)?.text ?? part.at ?? "–"}</td>
                      <td className="n">{accessMinutes(harness, part) === undefined ? "–" : `${accessMinutes(harness, part)} min`}</td>
                    </tr>
                  ))}
                </tbody>
              </Table>
            </div>
          </Panel>
        );
      })}
      <Panel style={{ padding: "var(--s3)" }}>
        <h2>Modules</h2>
        <div style={{ overflowX: "auto" }}>
          <Table>
            <caption>
              <Hidden>Modules with their feeds, grounds and buses</Hidden>
            </caption>
            <thead>
              <tr>
                <th scope="col">Module</th>
                <th scope="col">Fed through</th>
                <th scope="col">Ground</th>
                <th scope="col">On</th>
                <th scope="col">Where</th>
              </tr>
            </thead>
            <tbody>
              {modules.map((m) => (
                <tr key={m.id}>
                  <td>{partWords(harness, m.id)}</td>
                  <td>{m.feeds.join(", ") || "–"}</td>
                  <td>{m.grounds.join(", ") || "–"}</td>
                  <td>{m.buses.join(", ") || "–"}</td>
                  <td>{m.place || "–"}</td>
                </tr>
              ))}
            </tbody>
          </Table>
        </div>
      </Panel>
    </>
  );
}
