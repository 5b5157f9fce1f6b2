import { useMemo, useState } from "react";
import { useNavigate, useSearchParams } from "react-router";
import { styled } from "styled-components";
import { REST_STATE } from "@rheonom/core/circuit";
import { formOf, MAX_NOTATION_LENGTH, TEMPLATES } from "@rheonom/core/notation";
import { useDemoCircuitsQuery } from "../../api/api.ts";
import { useJobContext } from "../../job/job-context.ts";
import { keepItem } from "../../job/kept.ts";
import { NO_SUSPECTS } from "@rheonom/drawing/slice";
import { SliceView } from "../../drawing/slice-view.tsx";
import { Button } from "../../ui/button.tsx";
import { Select } from "../../ui/select.tsx";
import { Faint, Page, Row } from "../../ui/layout.tsx";
import { Segmented } from "../../ui/segmented.tsx";
import { Notice } from "../../ui/notice.tsx";
import { toast } from "../../ui/toast.tsx";
import { FormDialog } from "../../notation/form-dialog.tsx";
import { CircuitSlice } from "./circuit-slice.tsx";
import { FoundNotes } from "./found-notes.tsx";
import { Pinned, VehicleDialog, type VehiclePin } from "./vehicle-dialog.tsx";
import { session } from "../../worker/the-session.ts";
import { useParsed, useQuery } from "../../worker/use-query.ts";
import { NotationPane, useNotationDraft } from "../../notation/notation-pane.tsx";
import { NotationHelp } from "../../notation/notation-help.tsx";

const Split = styled.main`
  flex: 1;
  min-height: 0;
  height: calc(100dvh - 54px);
  display: grid;
  grid-template-columns: minmax(0, 1.35fr) minmax(0, 1fr);
  grid-template-rows: minmax(0, 1fr);
  gap: var(--s3);
  padding: var(--s3);
  @media (max-width: 860px) {
    grid-template-columns: minmax(0, 1fr);
    grid-template-rows: auto;
    height: auto;
  }
`;
const Head = styled.div`
  display: flex;
  flex-wrap: wrap;
  gap: var(--s3);
  align-items: center;
  padding: var(--s3) var(--s3) var(--s2);
`;
const Half = styled.section`
  display: flex;
  flex-direction: column;
  gap: var(--s2);
  min-height: 0;
  min-width: 0;
`;
const Sheet = styled.div`
  flex: 1;
  min-height: 260px;
  display: flex;
  flex-direction: column;
  background: var(--surface);
  border: 1px solid var(--line);
  border-radius: var(--radius);
  overflow: hidden;
`;

const draftKey = (jobId: string): string => `rheonom.circuit.${jobId}`;
const NO_NOTES: ReadonlyMap<string, string> = new Map();
/** Larger circuits are drawn in slices, parts. */
const DRAWN_WHOLE = 70;

/** A circuit that can be read opens on the slice of the question; its text stands behind a tab. */
export function CircuitScreen() {
  const { job, harness, parsed } = useJobContext();
  const [params, setParams] = useSearchParams();
  const wanted = params.get("view");
  const hasSlice = harness !== undefined && (harness.zones !== undefined || harness.components.length > DRAWN_WHOLE);
  const view = wanted === "text" || !hasSlice ? "text" : "slice";
  if (job.view.circuit !== undefined && parsed === undefined)
    return (
      <Page>
        <p role="status">Reading the circuit …</p>
      </Page>
    );
  return (
    <>
      {hasSlice ? (
        <Head>
          <h1>Circuit</h1>
          <Segmented
            label="View"
            hideLabel
            value={view}
            onChange={(next) => setParams(next === "slice" ? {} : { view: next }, { replace: true })}
            options={[
              { id: "slice", text: "Drawing" },
              { id: "text", text: "Text, form, version" },
            ]}
          />
        </Head>
      ) : null}
      {view === "slice" && hasSlice ? <CircuitSlice harness={harness} /> : <CircuitText isAlone={!hasSlice} />}
    </>
  );
}

/** Gets a circuit in: typed as text with the drawing beside it, or begun from a demo circuit. */
function CircuitText({ isAlone }: { isAlone: boolean }) {
  const { job, record } = useJobContext();
  const navigate = useNavigate();
  const stored = job.view.circuit?.notation ?? "";
  const draft = useNotationDraft(localStorage.getItem(draftKey(job.id)) ?? stored, (next) => {
    if (next === stored) localStorage.removeItem(draftKey(job.id));
    else if (next.length <= MAX_NOTATION_LENGTH) keepItem(draftKey(job.id), next);
  });
  const { text, settled, parsed } = draft;
  const [formOpen, setFormOpen] = useState(false);
  const [vehicleOpen, setVehicleOpen] = useState(false);
  // The vehicle that the text was taken from; kept until it is saved.
  const [pin, setPin] = useState<VehiclePin | undefined>(job.view.circuit?.vehicle);
  const from = useMemo(() => formOf(TEMPLATES, settled), [settled]);
  const tooLong = text.length > MAX_NOTATION_LENGTH;
  const changed = text !== stored;

  const save = async (): Promise<void> => {
    if (tooLong || text.trim() === "") return;
    const read = await session.askAlone("parse", { text }).answer;
    if (text !== stored) record({ type: "circuit-set", data: { notation: text, ...(pin === undefined ? {} : { vehicle: pin }) } });
    localStorage.removeItem(draftKey(job.id));
    if (read?.harness === undefined) toast("Saved as it stands. Tracing needs the errors mended first.");
    else void navigate(`/jobs/${job.id}/trace`);
  };
  return (
    <Split>
      <Half aria-label="Circuit text">
        <Row style={{ justifyContent: "space-between" }}>
          {isAlone ? <h1>Circuit</h1> : null}
          <Row>
            <Button onPress={() => setFormOpen(true)}>{from === undefined ? "From a form" : "Form"}</Button>
            <Button onPress={() => setVehicleOpen(true)}>From a vehicle</Button>
            {text.trim() === "" ? <DemoPicker onPick={(t) => draft.replace(t)} /> : null}
            <Button look="solid" onPress={() => void save()} isDisabled={tooLong || text.trim() === ""}>
              {changed || stored === "" ? "Save and trace" : "Trace"} <kbd>Ctrl ⏎</kbd>
            </Button>
          </Row>
        </Row>
        <NotationPane
          draft={draft}
          onSave={() => void save()}
          instead={
            tooLong ? (
              <Notice tone="danger" role="alert">
                This text has {text.length.toLocaleString("en")} characters; a circuit has at most{" "}
                {MAX_NOTATION_LENGTH.toLocaleString("en")}. It is not kept until it is shorter.
              </Notice>
            ) : undefined
          }
        />
        <NotationHelp />
        <FoundNotes />
      </Half>
      <Half aria-label="Drawing">
        <Row style={{ minHeight: "var(--target)" }}>
          <h2>{parsed.value?.harness?.name ?? "Drawing"}</h2>
          {pin === undefined ? null : (
            <Pinned
              pin={pin}
              text={text}
              onMove={(next, notation) => {
                setPin(next);
                draft.replace(notation);
              }}
            />
          )}
          {changed && stored !== "" ? <Faint>not saved yet; kept on this device</Faint> : null}
        </Row>
        <Sheet>
          <Preview text={settled} />
        </Sheet>
      </Half>
      <FormDialog
        isOpen={formOpen}
        onClose={() => setFormOpen(false)}
        from={from}
        replaces={text.trim() !== ""}
        onText={(t) => {
          setPin(undefined);
          draft.replace(t);
        }}
      />
      <VehicleDialog
        isOpen={vehicleOpen}
        onClose={() => setVehicleOpen(false)}
        onTake={(next, notation) => {
          setPin(next);
          draft.replace(notation);
        }}
      />
    </Split>
  );
}

/** The drawing of the last text that could be read, in the state with everything switched on. */
function Preview({ text }: { text: string }) {
  const parsed = useParsed(text).value;
  const [last, setLast] = useState(parsed?.harness);
  if (parsed?.harness !== undefined && parsed.harness !== last) setLast(parsed.harness);
  const harness = parsed?.harness ?? last;
  const state = useMemo(
    () => ({
      ...REST_STATE,
      key: "run" as const,
      on: harness?.components.filter((c) => c.kind === "switch" && c.closedBy === "hand").map((c) => c.id) ?? [],
    }),
    [harness],
  );
  const sound = useQuery("sound", harness, { state }).value;
  if (harness === undefined) {
    return (
      <p style={{ padding: "var(--s4)" }}>
        <Faint>
          The drawing appears here as soon as the text can be read. Begin at the battery, follow the wire to the load, and go on to ground.
        </Faint>
      </p>
    );
  }
  if (harness.components.length > DRAWN_WHOLE)
    return (
      <p style={{ padding: "var(--s4)" }}>
        {harness.components.length} parts: too many to read in one drawing. Trace draws the slice of each load.
      </p>
    );
  return (
    <SliceView
      harness={harness}
      state={state}
      volts={sound?.volts ?? new Map()}
      suspects={NO_SUSPECTS}
      notes={NO_NOTES}
      selected={undefined}
      red={undefined}
      black={undefined}
    />
  );
}

function DemoPicker({ onPick }: { onPick: (text: string) => void }) {
  const { data } = useDemoCircuitsQuery(undefined);
  if (data === undefined) return null;
  return (
    <Select
      label="Begin from"
      inline
      placeholder="a demo circuit"
      value={undefined}
      options={data.circuits.map((c) => ({ id: c.id, text: c.name }))}
      onChange={(id) => onPick(data.circuits.find((c) => c.id === id)?.notation ?? "")}
    />
  );
}
