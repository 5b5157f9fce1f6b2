import { useState } from "react";
import { styled } from "styled-components";
import type { VehicleState } from "@rheonom/core/circuit";
import { addressedModules, silentIn, type Scan } from "@rheonom/core/codes";
import type { Harness } from "@rheonom/core/harness";
import { isAdvised, latestScan } from "@rheonom/core/job";
import type { LinkModule } from "@rheonom/contract/link";
import { useJobContext } from "../../job/job-context.ts";
import { Faint, Page, Panel, Row } from "../../ui/layout.tsx";
import { Segmented } from "../../ui/segmented.tsx";
import { toast } from "../../ui/toast.tsx";
import { session } from "../../worker/the-session.ts";
import { areWrittenDown, clearOutcome, scanFrom, scanNotices, scanState, type Asked } from "./codes-model.ts";
import { CodesTable } from "./codes-table.tsx";
import { LinkPanel } from "./link-panel.tsx";
import { LivePanel } from "./live-panel.tsx";
import { Export } from "./scan-files.tsx";
import { SortedCodes } from "./sorted-codes.tsx";
import { StandInPanel } from "./stand-in-panel.tsx";
import { TypeCodes, type TypeCodesProps } from "./type-codes.tsx";
import { useLink, type Link } from "../../job/use-link.ts";
import { WatchPanel } from "./watch-panel.tsx";

const Fold = styled.details`
  summary {
    min-height: var(--target);
    display: flex;
    align-items: center;
    cursor: pointer;
    color: var(--accent);
  }
`;

/** Codes as they stand on a scan tool or come over the vehicle's own line, taken apart and sorted into causes and what follows from them. */
export function CodesScreen() {
  const { job, record, harness } = useJobContext();
  const { view } = job;
  const link = useLink(job.id);
  const closed = view.closed !== undefined;
  const [asked, setAsked] = useState<Asked>({ key: "run", engine: "stopped" });
  const keep: TypeCodesProps["onKeep"] = (codes, silent, source, takenAt = new Date().toISOString()) =>
    void markAsleep(harness, scanFrom(codes, silent, source, takenAt), scanState(harness, view, asked)).then((data) =>
      record({ type: "codes-read", data }),
    );
  return (
    <Page>
      <h1>Codes</h1>
      {closed || link.told !== undefined ? null : <KeyAndEngine asked={asked} onAsked={setAsked} />}
      {closed ? null : <Line link={link} asked={asked} />}
      {closed ? null : link.status === "connected" ? (
        <Fold>
          <summary>Type or import codes instead</summary>
          <TypeCodes onKeep={keep} />
        </Fold>
      ) : (
        <TypeCodes onKeep={keep} />
      )}
      <Latest />
      {closed ? null : <OverTheLine link={link} asked={asked} />}
    </Page>
  );
}

/** A scan with the state that it was made in: a silent module that is asleep in it is marked so, by the model. What cannot be told stays as it is. */
async function markAsleep(harness: Harness | undefined, scan: Scan, state: VehicleState): Promise<{ scan: Scan; state: VehicleState }> {
  if (harness === undefined || scan.modules.every((m) => m.answers)) return { scan, state };
  const asleep = await session.ask("asleep", harness, { state }).answer.catch(() => undefined);
  const modules = scan.modules.map((m) => (!m.answers && asleep?.includes(m.id) === true ? { ...m, asleep: true } : m));
  return { scan: { ...scan, modules }, state };
}

const KEYS = [
  { id: "off", text: "off" },
  { id: "accessory", text: "acc" },
  { id: "run", text: "run" },
] as const;
const ENGINES = [
  { id: "stopped", text: "stopped" },
  { id: "idling", text: "idling" },
] as const;

/** How the vehicle stands while codes are read: which modules need answer, and what a scan after the repair is compared with. A simulated vehicle says so itself. */
function KeyAndEngine({ asked, onAsked }: { asked: Asked; onAsked: (asked: Asked) => void }) {
  return (
    <Row>
      <Segmented
        label="Codes are read with key"
        options={KEYS}
        value={asked.key}
        onChange={(key) => onAsked({ key, engine: key === "run" ? asked.engine : "stopped" })}
      />
      <Segmented
        label="engine"
        options={ENGINES}
        value={asked.engine}
        onChange={(engine) => onAsked({ key: engine === "idling" ? "run" : asked.key, engine })}
      />
    </Row>
  );
}

/** The line to the vehicle: asks all modules, clears them, works the simulated one. */
function Line({ link, asked }: { link: Link; asked: Asked }) {
  const { job, record, harness } = useJobContext();
  const { view } = job;
  const askAll = (modules: readonly LinkModule[]): void =>
    link.scan(modules, (m) => {
      if (m.scan.modules.length > 0)
        void markAsleep(harness, m.scan, scanState(harness, view, asked, link.told?.state)).then((data) =>
          record({ type: "codes-read", data }),
        );
      scanNotices(m).forEach(toast);
    });
  const clearAll = (modules: readonly LinkModule[]): void =>
    link.clear(modules, (m) => {
      const { any, notice } = clearOutcome(m);
      if (any) record({ type: "codes-cleared", data: { note: "" } });
      toast(notice);
    });
  return (
    <>
      <LinkPanel
        link={link}
        simulated={job.simulated}
        known={harness === undefined ? [] : addressedModules(harness)}
        writtenDown={areWrittenDown(view)}
        isSent={job.unsaved.size === 0}
        onScan={askAll}
        onClear={clearAll}
      />
      {harness === undefined || link.status !== "connected" ? null : (
        <StandInPanel link={link} harness={harness} view={view} record={record} />
      )}
    </>
  );
}

/** The codes that were read last. */
function Latest() {
  const { job, harness } = useJobContext();
  const scan = latestScan(job.view)?.data.scan;
  if (scan === undefined)
    return (
      <Panel>
        <Faint>No codes yet. Scan every module and note those with no response.</Faint>
      </Panel>
    );
  const advised = isAdvised(job.view);
  const silent = silentIn(scan);
  if (harness !== undefined && advised) return <SortedCodes harness={harness} scan={scan} />;
  return (
    <Panel>
      <Faint>
        {advised
          ? "Without a circuit the codes are only taken apart; with one they are sorted."
          : "Practice without advice: which of them is a cause, and which follows from it?"}
      </Faint>
      {silent.length === 0 ? null : <p>No response: {silent.join(", ")}.</p>}
      <CodesTable rows={scan.codes.map((entry) => ({ entry }))} harness={undefined} />
      <Export scan={scan} />
    </Panel>
  );
}

/** What the line gives while a vehicle is connected: status while a ground is given, and live values. */
function OverTheLine({ link, asked }: { link: Link; asked: Asked }) {
  const { job, record, harness } = useJobContext();
  const { view } = job;
  if (harness === undefined || link.status !== "connected") return null;
  const scan = latestScan(view)?.data.scan;
  const state = scanState(harness, view, asked, link.told?.state);
  return (
    <>
      {scan === undefined ? null : (
        <WatchPanel
          link={link}
          harness={harness}
          view={view}
          scan={scan}
          modules={addressedModules(harness)}
          state={state}
          record={record}
        />
      )}
      <LivePanel link={link} harness={harness} state={state} load={view.readings.at(-1)?.data.load ?? ""} record={record} />
    </>
  );
}
