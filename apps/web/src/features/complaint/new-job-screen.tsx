import { useCallback, useMemo, useState } from "react";
import { useNavigate } from "react-router";
import { EMPTY_COMPLAINT, type ComplaintData } from "@rheonom/core/job";
import { useOpenJobMutation } from "../../api/api.ts";
import { failureOf } from "../../api/failure.ts";
import { keepItem, readLike } from "../../job/kept.ts";
import { makeEvent, newId, record } from "../../job/record.ts";
import { PersonDialog } from "../../job/person.tsx";
import { store, useAppSelector } from "../../job/store.ts";
import { Faint, Page, Panel, Row } from "../../ui/layout.tsx";
import { Notice } from "../../ui/notice.tsx";
import { Toggle } from "../../ui/button.tsx";
import { EarlierHere, useEarlier, vehiclesOf } from "./earlier.tsx";
import { ComplaintForm } from "./complaint-form.tsx";
import { useReady } from "./use-ahead.ts";
import { useChosenVehicle, type ChosenVehicle } from "../../job/use-chosen-vehicle.ts";

const DRAFT = "rheonom.new-job";

const keepDraft = (data: ComplaintData): void => void keepItem(DRAFT, JSON.stringify(data));

/** Starts a job. What is typed stays on this device until the server has taken it. */
export function NewJobScreen() {
  const navigate = useNavigate();
  const [openJob, { isLoading }] = useOpenJobMutation();
  const [failure, setFailure] = useState<string | undefined>(undefined);
  const [unnamed, setUnnamed] = useState<ComplaintData | undefined>(undefined);
  const [initial] = useState(() => readLike(DRAFT, EMPTY_COMPLAINT));
  const person = useAppSelector((s) => s.session.person);
  const chosen = useChosenVehicle(initial.vehicle);
  const [typed, setTyped] = useState({ vehicle: initial.vehicle, registration: initial.registration, words: initial.words });
  useReady(chosen.wiring?.notation, typed.words);
  const earlier = useEarlier(typed.vehicle);
  const vehicles = useMemo(() => [...chosen.vehicles, ...vehiclesOf(earlier)], [chosen.vehicles, earlier]);
  const onChange = useCallback((data: ComplaintData): void => {
    keepDraft(data);
    setTyped({ vehicle: data.vehicle, registration: data.registration, words: data.words });
  }, []);
  /** A vehicle that was here before brings its name, plate, VIN, wiring and options. */
  const choose = (id: string | undefined): Partial<ComplaintData> | undefined => {
    const before = vehiclesOf(earlier).find((v) => v.id === id)?.job;
    if (before === undefined) {
      chosen.choose(id);
      return undefined;
    }
    chosen.choose(before.wiring?.id ?? chosen.vehicles.find((v) => v.text === before.vehicle)?.id, before.wiring?.options);
    return { vehicle: before.vehicle, registration: before.registration, vin: before.vin };
  };
  const submit = async (data: ComplaintData): Promise<void> => {
    // The name may have been given a moment ago, so it is read where it is kept.
    const by = store.getState().session.person;
    if (by === "") return setUnnamed(data);
    const event = makeEvent(newId(), by, { type: "job-opened", data });
    const result = await openJob(event);
    if ("error" in result) return setFailure(failureOf(result.error).message);
    localStorage.removeItem(DRAFT);
    const { wiring } = chosen;
    if (wiring === undefined) return void navigate(`/jobs/${event.jobId}/circuit`);
    store.dispatch(record(event.jobId, { type: "circuit-set", data: wiring }));
    void navigate(`/jobs/${event.jobId}/complaint`);
  };
  return (
    <Page>
      <h1>New job</h1>
      <Panel>
        <ComplaintForm
          initial={initial}
          submitWords={person === "" ? "Open the job …" : "Open the job"}
          onSubmit={(d) => void submit(d)}
          onChange={onChange}
          busy={isLoading || chosen.isComing}
          vehicles={vehicles}
          onVehicle={choose}
          isShort
        >
          <EarlierHere registration={typed.registration} />
          <Options chosen={chosen} />
        </ComplaintForm>
        {failure === undefined ? null : (
          <Notice tone="danger" role="alert">
            {failure}
          </Notice>
        )}
      </Panel>
      <PersonDialog
        isOpen={unnamed !== undefined}
        onClose={() => setUnnamed(undefined)}
        onNamed={() => {
          if (unnamed !== undefined) void submit(unnamed);
        }}
      />
    </Page>
  );
}

/** What the vehicle at hand has of what its wiring knows. */
function Options({ chosen }: { chosen: ChosenVehicle }) {
  if (chosen.failed !== undefined) return <Notice tone="danger">{chosen.failed}</Notice>;
  if (chosen.id === undefined)
    return <Faint>Without a vehicle of the shop the circuit is set later: by text, form, tables or the plug finder.</Faint>;
  if (chosen.isComing) return <p role="status">Fetching its wiring …</p>;
  if (chosen.all.length === 0) return <Faint>Its wiring, version {chosen.version}, goes into the job.</Faint>;
  return (
    <Row role="group" aria-label="Options">
      <strong>This one has</strong>
      {chosen.all.map((o) => (
        <Toggle key={o.id} isSelected={chosen.options.includes(o.id)} onChange={(on) => chosen.toggle(o.id, on)}>
          <span>
            {o.text} <Faint style={{ color: "inherit", opacity: 0.85 }}>{o.changes}</Faint>
          </span>
        </Toggle>
      ))}
      <Faint>Parts of options that are off are left out of the wiring of this job.</Faint>
    </Row>
  );
}
