import { useMemo } from "react";
import { format } from "date-fns";
import type { VehicleState } from "@rheonom/core/circuit";
import { describeLeads, familyOf, onShelf, type KnownGood } from "@rheonom/core/job";
import type { Leads } from "@rheonom/core/instruments";
import { useJobContext } from "../../job/job-context.ts";
import { useShelfOf } from "../../job/shelf/use-shelf.ts";
import { Button } from "../../ui/button.tsx";
import { Faint, Hidden, Panel } from "../../ui/layout.tsx";
import { Table } from "../../ui/table.tsx";
import { scaled } from "./scope-model.ts";

export interface ShelfPanelProps {
  /** Of the channels that are shown. */
  readonly leads: readonly Leads[];
  readonly state: VehicleState;
  /** Undefined where there is no room for another channel. */
  readonly onOverlay: ((item: KnownGood) => void) | undefined;
}

/** Recordings of good vehicles at the places that are shown. */
export function ShelfPanel({ leads, state, onOverlay }: ShelfPanelProps) {
  const { job } = useJobContext();
  const items = useShelfOf(job.view);
  const options = familyOf(job.view)?.options;
  const found = useMemo(
    () =>
      options === undefined
        ? []
        : leads.flatMap((l) => {
            const { traces, other } = onShelf(items, { options, leads: l, state });
            return [...traces.map((item) => ({ item, why: "" })), ...other.filter((o) => o.item.trace !== undefined)];
          }),
    [items, options, leads, state],
  );
  if (found.length === 0) return null;
  return (
    <Panel aria-label="Known-goods of these places">
      <h2>Known-goods of these places</h2>
      <Table>
        <caption>
          <Hidden>Recordings of good vehicles</Hidden>
        </caption>
        <tbody>
          {found.map(({ item, why }) => (
            <tr key={item.id}>
              <th scope="row">{describeLeads(item.leads)}</th>
              <td>
                {item.trace!.name}
                {why === "" ? null : <Faint> ({why})</Faint>}
              </td>
              <td className="n">{scaled(item.trace!.count / item.trace!.rateHz, "s")}</td>
              <td>
                <Faint>
                  {item.from === "" ? item.by : `${item.by}, ${item.from}`}, {format(new Date(item.at), "d MMM yyyy")}; {item.instrument}
                </Faint>
              </td>
              <td>
                {onOverlay === undefined ? (
                  <Faint>no room for another channel</Faint>
                ) : (
                  <Button onPress={() => onOverlay(item)} aria-label={`Lay the known-good of ${describeLeads(item.leads)} over`}>
                    Lay over
                  </Button>
                )}
              </td>
            </tr>
          ))}
        </tbody>
      </Table>
    </Panel>
  );
}
