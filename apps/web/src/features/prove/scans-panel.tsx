import { format } from "date-fns";
import { codeName, silentIn } from "@rheonom/core/codes";
import { useJobContext } from "../../job/job-context.ts";
import { Faint, Panel } from "../../ui/layout.tsx";
import { Table } from "../../ui/table.tsx";

/** So many scans stand side by side: as it came in, after clearing, and the latest. */
const COLUMNS = 3;

/** The first scan, the one before the last, and the last, code by code. */
export function ScansPanel() {
  const { view } = useJobContext().job;
  const scans = view.scans.filter((s) => s.struck === undefined);
  if (scans.length < 2) return null;
  const shown = scans.length <= COLUMNS ? scans : [scans[0]!, ...scans.slice(1 - COLUMNS)];
  const codes = [...new Set(shown.flatMap((s) => s.data.scan.codes.map((c) => `${c.module} ${codeName(c)}`)))].sort();
  const silent = [...new Set(shown.flatMap((s) => silentIn(s.data.scan)))].sort();
  return (
    <Panel aria-label="Scans compared">
      <h2>Scans compared</h2>
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
