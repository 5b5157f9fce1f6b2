import { styled } from "styled-components";
import { REST_STATE, type VehicleState } from "@rheonom/core/circuit";
import {
  addressedModules,
  codeName,
  codeText,
  failureWords,
  readCode,
  readTypedCodes,
  type CodeEntry,
  type Role,
  type Scan,
} from "@rheonom/core/codes";
import type { Harness } from "@rheonom/core/harness";
import { latestScan, trayInModel } from "@rheonom/core/job";
import { useJobContext } from "../../job/job-context.ts";
import { useKeptForm } from "../../job/kept-form.ts";
import { Button } from "../../ui/button.tsx";
import { TextInput } from "../../ui/form.tsx";
import { Faint, Hidden, Page, Panel, Row } from "../../ui/layout.tsx";
import { Notice } from "../../ui/notice.tsx";
import { Table } from "../../ui/table.tsx";
import { toast } from "../../ui/toast.tsx";
import { useQuery } from "../../worker/use-query.ts";
import type { LinkModule } from "@rheonom/contract/link";
import { LinkPanel } from "./link-panel.tsx";
import { LivePanel } from "./live-panel.tsx";
import { Bad, Export, Import } from "./scan-files.tsx";
import { StandInPanel } from "./stand-in-panel.tsx";
import { Stored } from "./stored.tsx";
import { useLink } from "./use-link.ts";
import { WatchPanel } from "./watch-panel.tsx";

const Badge = styled.span`
  display: inline-block;
  border: 1px solid var(--line-strong);
  border-radius: var(--radius);
  padding: 0 var(--s2);
  white-space: nowrap;
  &[data-role="cause"] {
    border-color: var(--suspect);
    background: var(--suspect-soft);
    font-weight: 680;
  }
  &[data-role="history"],
  &[data-role="own doing"] {
    border-style: dashed;
  }
`;
const Misreads = styled.ul`
  margin: 0;
  padding-left: var(--s4);
`;

const Fold = styled.details`
  summary {
    min-height: var(--target);
    display: flex;
    align-items: center;
    cursor: pointer;
    color: var(--accent);
  }
`;

const DRAFT = { text: "" };

/** Codes as they stand on a scan tool, taken apart and sorted into causes and what follows from them. */
export function CodesScreen() {
  const { job, record, harness } = useJobContext();
  const { view } = job;
  const form = useKeptForm(`rheonom.codes.${job.id}`, DRAFT);
  const typedText = form.watch("text");
  const typed = readTypedCodes(typedText);
  const latest = latestScan(view);
  const closed = view.closed !== undefined;
  const keep = (
    codes: readonly CodeEntry[],
    silent: readonly string[],
    source: Scan["source"],
    takenAt = new Date().toISOString(),
  ): void => {
    const heard = [...new Set(codes.map((c) => c.module).filter((m) => m !== "" && !silent.includes(m)))];
    const modules = [...heard.map((id) => ({ id, answers: true })), ...silent.map((id) => ({ id, answers: false }))];
    const state = { ...REST_STATE, key: "run" as const, ...(harness === undefined ? {} : trayInModel(harness, view)) };
    record({
      type: "codes-read",
      data: { scan: { format: "rheonom-scan", version: 1, takenAt, source, modules, codes: [...codes] }, state },
    });
  };
  const found = typed.codes.length + typed.silent.length;
  const link = useLink(job.id);
  const known = harness === undefined ? [] : addressedModules(harness);
  const writtenDown = latest !== undefined && latest.clearsBefore >= view.clears;
  const state: VehicleState = {
    ...(link.told?.state ?? { ...REST_STATE, key: "run" as const }),
    ...(harness === undefined ? {} : trayInModel(harness, view)),
  };
  const askAll = (modules: readonly LinkModule[]): void =>
    link.scan(modules, (m) => {
      if (m.scan.modules.length > 0) record({ type: "codes-read", data: { scan: m.scan, state } });
      if (!m.complete)
        toast(m.why === "cancelled" ? "Stopped. What was read until then is kept." : `Broken off: ${m.why} What was read is kept.`);
      for (const o of m.odd) toast(`${o.module}: ${o.why}.`);
    });
  const clearAll = (modules: readonly LinkModule[]): void =>
    link.clear(modules, (m) => {
      const failed = m.modules.filter((x) => !x.cleared);
      if (failed.length < m.modules.length) record({ type: "codes-cleared", data: { note: "" } });
      toast(
        failed.length === 0
          ? "Cleared. Turn the key, ask all modules again, and see what has come back."
          : `Not cleared: ${failed.map((x) => `${x.id} (${x.why})`).join(", ")}.`,
      );
    });
  const typing = (
    <Panel>
      <TextInput
        control={form.control}
        name="text"
        label="What the scan tool shows, one code a line"
        hint="U0100-87 active ECM · the status may be left out (stored) · “ECM silent” for a module that does not answer"
        lines={5}
      />
      {typed.misread.length === 0 ? null : <Bad misread={typed.misread} />}
      <Row>
        <Button
          look="solid"
          isDisabled={found === 0}
          onPress={() => {
            keep(typed.codes, typed.silent, "typed");
            if (typed.misread.length === 0) form.clear();
            else form.setValue("text", typed.misread.map((m) => typedText.split(/\r?\n/)[m.line - 1]).join("\n"));
          }}
        >
          Keep {typed.codes.length} {typed.codes.length === 1 ? "code" : "codes"}
          {typed.silent.length === 0 ? "" : ` and ${typed.silent.length} silent`}
        </Button>
        <Import onRead={(codes, silent, takenAt) => keep(codes, silent, "import", takenAt)} />
        <Button
          isDisabled={latest === undefined || latest.clearsBefore < view.clears}
          onPress={() => {
            record({ type: "codes-cleared", data: { note: "" } });
            toast("Written down: the codes were cleared. Turn the key, read them again, and keep what has come back.");
          }}
        >
          Codes were cleared
        </Button>
        {latest === undefined ? <Faint>They are written down before they are cleared.</Faint> : null}
      </Row>
    </Panel>
  );
  return (
    <Page>
      <h1>Codes</h1>
      {closed ? null : (
        <LinkPanel link={link} simulated={job.simulated} known={known} writtenDown={writtenDown} onScan={askAll} onClear={clearAll} />
      )}
      {closed || harness === undefined || link.phase !== "connected" ? null : (
        <StandInPanel link={link} harness={harness} view={view} record={record} />
      )}
      {closed ? null : link.phase === "connected" ? (
        <Fold>
          <summary>Type or import codes instead</summary>
          {typing}
        </Fold>
      ) : (
        typing
      )}
      {latest === undefined ? (
        <Panel>
          <Faint>No codes yet. Ask every module, not one, and note which do not answer.</Faint>
        </Panel>
      ) : harness === undefined ? (
        <Panel>
          <Faint>Without a circuit the codes are only taken apart; with one they are sorted.</Faint>
          <Codes rows={latest.data.scan.codes.map((entry) => ({ entry }))} harness={undefined} />
          <Export scan={latest.data.scan} />
        </Panel>
      ) : (
        <Sorted harness={harness} scan={latest.data.scan} />
      )}
      {closed || harness === undefined || link.phase !== "connected" ? null : (
        <>
          {latest === undefined ? null : (
            <WatchPanel link={link} harness={harness} view={view} scan={latest.data.scan} modules={known} state={state} record={record} />
          )}
          <LivePanel link={link} harness={harness} state={state} load={view.readings.at(-1)?.data.load ?? ""} record={record} />
        </>
      )}
    </Page>
  );
}

function Sorted({ harness, scan }: { harness: Harness; scan: Scan }) {
  const { view } = useJobContext().job;
  const sorted = useQuery("triage", harness, { view });
  const value = sorted.value;
  if (sorted.failed !== undefined) return <Notice tone="danger">{sorted.failed}</Notice>;
  if (value === undefined) return <p role="status">Sorting …</p>;
  return (
    <>
      {value.first === undefined ? null : (
        <Notice tone="info" title={`Work first: ${value.first.what}`}>
          {`${value.first.why.slice(0, 1).toUpperCase()}${value.first.why.slice(1)}.`}
        </Notice>
      )}
      <Panel>
        {value.codes.length + value.silent.length === 0 ? (
          <p>
            {scan.modules.length === 0 ? "No codes." : `No codes, and all ${scan.modules.length} modules answer.`}{" "}
            <Faint>Some are set only after seconds with the key on, or while driving: ask again then.</Faint>
          </p>
        ) : (
          <Codes rows={value.codes} silent={value.silent} harness={harness} />
        )}
        <Export scan={scan} />
      </Panel>
      {value.shared.length === 0 ? null : (
        <Panel aria-label="What they share">
          <h2>What they share</h2>
          <Misreads>
            {value.shared.slice(0, 6).map((n) => (
              <li key={n.kind + n.id}>
                {n.words}: behind {n.failing.join(", ")}
                {n.working.length === 0 ? "" : `; but ${n.working.join(", ")} works through it`}
              </li>
            ))}
          </Misreads>
        </Panel>
      )}
    </>
  );
}

interface Row_ {
  readonly entry: CodeEntry;
  readonly role?: Role;
  readonly reason?: string;
  readonly came?: string | undefined;
}

function Codes({ rows, silent = [], harness }: { rows: readonly Row_[]; silent?: readonly string[]; harness: Harness | undefined }) {
  return (
    <Table>
      <caption>
        <Hidden>Codes</Hidden>
      </caption>
      <thead>
        <tr>
          <th scope="col">Module</th>
          <th scope="col">Code</th>
          <th scope="col">What it says</th>
          <th scope="col">Status</th>
          <th scope="col">What it is</th>
        </tr>
      </thead>
      <tbody>
        {silent.map((id) => (
          <tr key={`silent ${id}`}>
            <td>{id}</td>
            <td>silent</td>
            <td>Does not answer</td>
            <td />
            <td>
              <Badge data-role="cause">cause</Badge> its feed, its ground, its bus, or the module
            </td>
          </tr>
        ))}
        {rows.map(({ entry, role, reason, came }, i) => (
          <tr key={`${entry.module} ${codeName(entry)} ${i}`}>
            <td>{entry.module === "" ? "not said" : entry.module}</td>
            <td style={{ whiteSpace: "nowrap" }}>{codeName(entry)}</td>
            <td>
              {wordsOf(harness, entry)}
              <Stored entry={entry} harness={harness} />
            </td>
            <td>
              {entry.status}
              {came === undefined ? "" : `, ${came}`}
            </td>
            <td>
              {role === undefined ? null : <Badge data-role={role}>{role}</Badge>} {reason}
            </td>
          </tr>
        ))}
      </tbody>
    </Table>
  );
}

/** The vehicle's own text, else what the standard's digits say; then the failure type. */
function wordsOf(harness: Harness | undefined, entry: CodeEntry): string {
  const read = readCode(entry.code);
  const own = harness === undefined ? undefined : codeText(harness, entry);
  const area =
    read.kind === "code"
      ? `${read.code.system}${read.code.area === undefined ? "" : `: ${read.code.area}`}${read.code.meaning === "maker" ? ", the maker’s own" : ""}`
      : "";
  return [own ?? area, entry.failureType === undefined ? "" : failureWords(entry.failureType)].filter(Boolean).join("; ");
}
