import { Link, useNavigate } from "react-router";
import { Archive, Plus } from "lucide-react";
import { styled } from "styled-components";
import { useVehiclesQuery } from "../../api/api.ts";
import { failureOf } from "../../api/failure.ts";
import { Button } from "../../ui/button.tsx";
import { Faint, Hidden, Page, Panel, Row } from "../../ui/layout.tsx";
import { Notice } from "../../ui/notice.tsx";
import { Table } from "../../ui/table.tsx";

const Name = styled(Link)`
  display: flex;
  align-items: center;
  min-height: var(--target);
  color: var(--ink);
  font-weight: 680;
  text-decoration: none;
  &:hover {
    color: var(--accent);
    text-decoration: underline;
  }
`;

/** Every vehicle whose wiring the shop keeps. */
export function VehiclesScreen() {
  const { data, error, isLoading, refetch } = useVehiclesQuery(undefined, { refetchOnMountOrArgChange: true });
  const navigate = useNavigate();
  return (
    <Page>
      <Row style={{ justifyContent: "space-between" }}>
        <h1>Vehicles</h1>
        <Row>
          <Button onPress={() => void navigate("/known-goods")}>
            <Archive size={18} aria-hidden /> Known-goods
          </Button>
          <Button look="solid" onPress={() => void navigate("/vehicles/new")}>
            <Plus size={18} aria-hidden /> New vehicle
          </Button>
        </Row>
      </Row>
      {error === undefined ? null : (
        <Notice tone="danger" role="alert">
          {failureOf(error).message} <Button onPress={() => void refetch()}>Try again</Button>
        </Notice>
      )}
      {isLoading ? <p role="status">Fetching the vehicles …</p> : null}
      {data?.vehicles.length === 0 ? (
        <Panel>
          <p>
            No vehicle yet. <Link to="/vehicles/new">Make one</Link> from a form, a text, or tables of a spreadsheet.
          </p>
        </Panel>
      ) : null}
      {data !== undefined && data.vehicles.length > 0 ? (
        <Panel style={{ padding: 0, overflowX: "auto" }}>
          <Table>
            <caption>
              <Hidden>Vehicles</Hidden>
            </caption>
            <thead>
              <tr>
                <th scope="col">Vehicle</th>
                <th scope="col" className="n">
                  Wires
                </th>
                <th scope="col" className="n">
                  Grounds
                </th>
                <th scope="col" className="n">
                  Fuses, relays
                </th>
                <th scope="col" className="n">
                  Modules
                </th>
                <th scope="col">Version</th>
              </tr>
            </thead>
            <tbody>
              {data.vehicles.map(({ id, latest }) => (
                <tr key={id}>
                  <td>
                    <Name to={`/vehicles/${id}/circuit`}>{latest.name}</Name>
                  </td>
                  <td className="n">{latest.counts.wires}</td>
                  <td className="n">{latest.counts.grounds}</td>
                  <td className="n">{latest.counts.fuses}</td>
                  <td className="n">{latest.counts.modules}</td>
                  <td>
                    {latest.version} <Faint>{latest.note}</Faint>
                  </td>
                </tr>
              ))}
            </tbody>
          </Table>
        </Panel>
      ) : null}
    </Page>
  );
}
