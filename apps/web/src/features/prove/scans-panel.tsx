import { format } from "date-fns";
import { codeName, compareScans, silentIn, type CodeEntry, type Scan } from "@rheonom/core/codes";
import { latestScan, scanBeforeClear } from "@rheonom/core/job";
import { useJobContext } from "../../job/job-context.ts";
import { Faint, Panel } from "../../ui/layout.tsx";
import { useQuery } from "../../worker/use-query.ts";
import { Table } from "../../ui/table.tsx";

/** So many scans stand side by side: as it came in, after clearing, and the latest. */
const COLUMNS = 3;

const INCOMPLETE = "not complete";
const monitorsIn = (scan: Scan): readonly { readonly module: string; readonly name: string; readonly complete: boolean }[] =>
  (scan.readiness ?? []).flatMap(({ module, monitors }) => monitors.map((m) => ({ module, ...m })));
/** Whether a monitor of the emissions services had run by a scan. */
function monitorWords(scan: Scan, module: string, name: string): string {
  const found = monitorsIn(scan).find((m) => m.module === module && m.name === name);
  return found === undefined ? "not asked" : found.complete ? "complete" : INCOMPLETE;
}

/** What has come back since codes were cleared, with why as far as it is known. */
function CameBack() {
  const { job, harness } = useJobContext();
  const { view } = job;
  const before = scanBeforeClear(view);
  const latest = latestScan(view);
  const sorted = useQuery("triage", harness, { view }).value;
  if (before === undefined || latest === undefined) return null;
  const { came, stayed } = compareScans(before.data.scan.codes, latest.data.scan.codes);
  const back = [...stayed.map((s) => s.now), ...came].filter((c) => c.status !== "permanent");
  const lasting = latest.data.scan.codes.filter((c) => c.status === "permanent");
  const reasonOf = (c: CodeEntry): string =>
    sorted?.codes.find((s) => s.entry.module === c.module && codeName(s.entry) === codeName(c))?.reason ?? "";
  return (
    <>
      {back.length === 0 ? <p>Nothing has come back since codes were cleared.</p> : null}
      {back.map((c) => (
        <p key={`${c.module} ${codeName(c)}`}>
          <strong>
            {c.module} {codeName(c)}
          </strong>{" "}
          {came.includes(c) ? "is new since then" : "has come back"}, {c.status}. <Faint>{reasonOf(c)}</Faint>
        </p>
      ))}
      {lasting.length === 0 ? null : (
        <p>
          Permanent: {lasting.map((c) => `${c.module} ${codeName(c)}`).join(", ")}. No tester clears them; they go when their monitor has
          run and passed.
        </p>
      )}
    </>
  );
}

/** The first scan, the one before the last, and the last, code by code. */
export function ScansPanel() {
  const { view } = useJobContext().job;
  const scans = view.scans.filter((s) => s.struck === undefined);
  if (scans.length < 2) return null;
  const shown = scans.length <= COLUMNS ? scans : [scans[0]!, ...scans.slice(1 - COLUMNS)];
  const codes = [...new Set(shown.flatMap((s) => s.data.scan.codes.map((c) => `${c.module} ${codeName(c)}`)))].sort();
  const silent = [...new Set(shown.flatMap((s) => silentIn(s.data.scan)))].sort();
  // Those that have always run say nothing.
  const monitors = [...new Map(shown.flatMap((s) => monitorsIn(s.data.scan)).map((m) => [`${m.module} ${m.name}`, m])).values()].filter(
    ({ module, name }) => shown.some((s) => monitorWords(s.data.scan, module, name) === INCOMPLETE),
  );
  return (
    <Panel aria-label="Scans compared">
      <h2>Scans compared</h2>
      <CameBack />
      <Table>
        <thead>
          <tr>
            <th scope="col">Code</th>
            {shown.map((s) => (
              <th key={s.id} scope="col">
                {format(new Date(s.at), "d MMM HH:mm")}
                <br />
                <Faint>
                  {s.mendsBefore === 0 ? "before the repair" : "after the repair"}
                  {s.clearsBefore === 0 ? "" : `, cleared ${s.clearsBefore} ×`}, key {s.data.state.key}, engine {s.data.state.engine}
                </Faint>
              </th>
            ))}
          </tr>
        </thead>
        <tbody>
          {codes.map((code) => (
            <tr key={code}>
              <th scope="row">{code}</th>
              {shown.map((s) => (
                <td key={s.id}>
                  {s.data.scan.codes.find((c) => `${c.module} ${codeName(c)}` === code)?.status ??
                    (silentIn(s.data.scan).includes(code.split(" ")[0]!) ? "no response" : "absent")}
                </td>
              ))}
            </tr>
          ))}
          {monitors.map(({ module, name }) => (
            <tr key={`${module} ${name}`}>
              <th scope="row">
                {module} monitor: {name}
              </th>
              {shown.map((s) => (
                <td key={s.id}>{monitorWords(s.data.scan, module, name)}</td>
              ))}
            </tr>
          ))}
          {silent.map((module) => (
            <tr key={module}>
              <th scope="row">{module}</th>
              {shown.map((s) => (
                <td key={s.id}>
                  {silentIn(s.data.scan).includes(module)
                    ? "no response"
                    : s.data.scan.modules.some((m) => m.id === module)
                      ? "responds"
                      : "not asked"}
                </td>
              ))}
            </tr>
          ))}
        </tbody>
      </Table>
    </Panel>
  );
}
