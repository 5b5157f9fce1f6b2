import { useState } from "react";
import { applyEdit, diffHarness, editOfFinding, type Harness } from "@rheonom/core/harness";
import type { FoundView } from "@rheonom/core/job";
import { useHarnessQuery, useSaveHarnessMutation, useVehicleQuery } from "../../api/api.ts";
import { failureOf } from "../../api/failure.ts";
import { useJobContext } from "../../job/job-context.ts";
import { useAppSelector } from "../../job/store.ts";
import { DifferenceList } from "../../notation/difference-list.tsx";
import { Button } from "../../ui/button.tsx";
import { Dialog } from "../../ui/dialog.tsx";
import { Faint, Panel, Row } from "../../ui/layout.tsx";
import { Notice } from "../../ui/notice.tsx";

/** What was found otherwise on the vehicle; a note can go into the vehicle's wiring for the next job. */
export function FoundNotes() {
  const { job } = useJobContext();
  const notes = job.view.found.filter((f) => f.struck === undefined);
  const [promoting, setPromoting] = useState<FoundView | undefined>(undefined);
  if (notes.length === 0) return null;
  const pin = job.view.circuit?.vehicle;
  return (
    <Panel style={{ padding: "var(--s3)" }} aria-label="Differs from the diagram">
      <h2>Differs from the diagram</h2>
      <ul style={{ margin: 0, paddingLeft: "1.1em" }}>
        {notes.map((n) => (
          <li key={n.id}>
            <strong>{n.data.at}</strong> {n.data.what}: {n.data.drawn === "" ? "" : `drawn ${n.data.drawn}, `}found {n.data.found}{" "}
            <Faint>{n.by}</Faint>{" "}
            {n.promoted !== undefined ? (
              <Faint>in the wiring since version {n.promoted}</Faint>
            ) : pin === undefined ? null : (
              <Button look="quiet" onPress={() => setPromoting(n)}>
                Into the wiring of {pin.id}
              </Button>
            )}
          </li>
        ))}
      </ul>
      <Dialog title="Into the vehicle’s wiring" isOpen={promoting !== undefined} onClose={() => setPromoting(undefined)} wide>
        {promoting === undefined || pin === undefined ? null : (
          <Promote note={promoting} vehicle={pin.id} onClose={() => setPromoting(undefined)} />
        )}
      </Dialog>
    </Panel>
  );
}

/** Shows what the note changes in the latest version, and saves that as the next one. */
function Promote({ note, vehicle, onClose }: { note: FoundView; vehicle: string; onClose: () => void }) {
  const { record, job } = useJobContext();
  const heads = useVehicleQuery(vehicle);
  const latest = heads.data?.versions[0]?.version;
  const wiring = useHarnessQuery({ id: vehicle, version: latest ?? 0 }, { skip: latest === undefined });
  const person = useAppSelector((s) => s.session.person);
  const [save, saving] = useSaveHarnessMutation();
  const before = wiring.data?.harness;
  const after = before === undefined ? undefined : changed(before, note);
  const error = heads.error ?? wiring.error ?? saving.error;
  const send = async (): Promise<void> => {
    const answer = await save({
      id: vehicle,
      harness: after!,
      basedOn: latest!,
      by: person === "" ? note.by : person,
      note: `${note.data.at} ${note.data.what}: found on the vehicle, job ${job.id.slice(0, 8)}`,
    });
    if (!("data" in answer) || answer.data === undefined) return;
    record({ type: "found-promoted", data: { target: note.id, version: answer.data.version } });
    onClose();
  };
  return (
    <>
      {error === undefined ? null : <Notice tone="danger">{failureOf(error).message}</Notice>}
      {before === undefined ? (
        <p role="status">Fetching the wiring …</p>
      ) : after === undefined ? (
        <Notice tone="info">
          This takes a hand: open Wiring text of {vehicle} and change {note.data.at} there. A colour such as BK/WH, a cavity such as C12.5,
          a place of a part and a fuse’s rating go in by themselves.
        </Notice>
      ) : (
        <DifferenceList differences={diffHarness(before, after)} />
      )}
      <Row style={{ justifyContent: "flex-end" }}>
        <Button onPress={onClose}>Cancel</Button>
        <Button look="solid" isDisabled={after === undefined || saving.isLoading} onPress={() => void send()}>
          Save as version {(latest ?? 0) + 1}
        </Button>
      </Row>
    </>
  );
}

function changed(before: Harness, note: FoundView): Harness | undefined {
  const edit = editOfFinding(before, note.data.at, note.data.what, note.data.found);
  return edit === undefined ? undefined : applyEdit(before, edit);
}
