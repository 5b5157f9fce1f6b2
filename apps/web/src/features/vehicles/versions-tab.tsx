import { useMemo } from "react";
import { diffHarness } from "@rheonom/core/harness";
import { useHarnessQuery } from "../../api/api.ts";
import { failureOf } from "../../api/failure.ts";
import { DifferenceList } from "../../notation/difference-list.tsx";
import { Button } from "../../ui/button.tsx";
import { Hidden, Panel } from "../../ui/layout.tsx";
import { Notice } from "../../ui/notice.tsx";
import { Table } from "../../ui/table.tsx";
import { useVehicle } from "./vehicle-context.ts";

/** The history of the wiring, and what one version changed against another. */
export function VersionsTab() {
  const { id, version, versions, whole, ask, query } = useVehicle();
  const against = Number(query.get("against") ?? Number.NaN);
  const other = useHarnessQuery({ id, version: against }, { skip: !Number.isInteger(against) || against === version });
  const differences = useMemo(() => (other.data === undefined ? undefined : diffHarness(other.data.harness, whole)), [other.data, whole]);
  return (
    <Panel style={{ padding: "var(--s3)" }}>
      <div style={{ overflowX: "auto" }}>
        <Table>
          <caption>
            <Hidden>Versions</Hidden>
          </caption>
          <thead>
            <tr>
              <th scope="col" className="n">
                Version
              </th>
              <th scope="col">When</th>
              <th scope="col">By</th>
              <th scope="col">Why</th>
              <th scope="col" className="n">
                Wires
              </th>
              <th scope="col">
                <Hidden>Actions</Hidden>
              </th>
            </tr>
          </thead>
          <tbody>
            {versions.map((v) => (
              <tr key={v.version} data-selected={v.version === version ? "" : undefined}>
                <td className="n">{v.version}</td>
                <td>{new Date(v.at).toLocaleString("en-GB", { dateStyle: "medium", timeStyle: "short" })}</td>
                <td>{v.by}</td>
                <td>{v.note}</td>
                <td className="n">{v.counts.wires}</td>
                <td>
                  {v.version === version ? (
                    "shown"
                  ) : (
                    <>
                      <Button onPress={() => ask({ v: String(v.version), against: undefined })}>Show</Button>{" "}
                      <Button onPress={() => ask({ against: String(v.version) })}>Compare</Button>
                    </>
                  )}
                </td>
              </tr>
            ))}
          </tbody>
        </Table>
      </div>
      {other.error === undefined ? null : <Notice tone="danger">{failureOf(other.error).message}</Notice>}
      {differences === undefined ? null : (
        <>
          <h2>
            From version {against} to version {version}
          </h2>
          <DifferenceList differences={differences} />
        </>
      )}
    </Panel>
  );
}
