import { CategoryScale, Chart, Filler, Legend, LinearScale, LineElement, PointElement, Tooltip } from "chart.js";
import { Line } from "react-chartjs-2";
import { styled } from "styled-components";
import type { Learning } from "@rheonom/contract/practice";
import { useLearningQuery } from "../../api/practice-api.ts";
import { failureOf } from "../../api/failure.ts";
import { ago } from "../../ui/ago.ts";
import { Button } from "../../ui/button.tsx";
import { Faint, Panel, Row } from "../../ui/layout.tsx";
import { Notice } from "../../ui/notice.tsx";
import { percent } from "../../ui/percent.ts";
import { Table } from "../../ui/table.tsx";

Chart.register(CategoryScale, LinearScale, PointElement, LineElement, Filler, Tooltip, Legend);

const Plot = styled.div`
  height: 200px;
  position: relative;
`;

/** Where somebody stands: how the latest jobs went, skill by skill, and what comes next. */
export function LearningPanel({ by, isBusy, onNext }: { by: string; isBusy: boolean; onNext: () => void }) {
  const { data, error } = useLearningQuery({ by }, { skip: by === "", refetchOnMountOrArgChange: true });
  return (
    <Panel aria-label="Where you stand">
      <h2>{by === "" ? "Where you stand" : `Where ${by} stands`}</h2>
      {by === "" ? (
        <p>Say who is working, then practised jobs count for you.</p>
      ) : error !== undefined ? (
        <Notice tone="danger" role="alert">
          {failureOf(error).message}
        </Notice>
      ) : data === undefined ? (
        <p role="status">Loading …</p>
      ) : (
        <Stands learning={data} isBusy={isBusy} onNext={onNext} />
      )}
    </Panel>
  );
}

function Stands({ learning, isBusy, onNext }: { learning: Learning; isBusy: boolean; onNext: () => void }) {
  const { results, skills, next } = learning;
  return (
    <>
      <Row>
        <Button look="solid" isDisabled={isBusy} onPress={onNext}>
          Next for me
        </Button>
        <Faint>{next}</Faint>
      </Row>
      {results.length === 0 ? (
        <p>No practice job debriefed yet. Close one, and look at its debrief: then it counts here.</p>
      ) : (
        <>
          <Curve learning={learning} />
          <Table aria-label="Skills">
            <thead>
              <tr>
                <th scope="col">Skill</th>
                <th scope="col">Jobs</th>
                <th scope="col">Level</th>
                <th scope="col">Still there</th>
                <th scope="col">Again</th>
              </tr>
            </thead>
            <tbody>
              {skills.map((s) => (
                <tr key={s.id}>
                  <th scope="row">{s.words}</th>
                  <td>{s.jobs}</td>
                  <td>
                    {s.level === undefined ? "–" : `${percent(s.level)}${s.jobs < 2 ? "" : ` ± ${Math.round(100 * (s.error ?? 0))}`}`}
                  </td>
                  <td>{s.recall === undefined ? "–" : percent(s.recall)}</td>
                  <td>{s.due === undefined ? "–" : ago(s.due)}</td>
                </tr>
              ))}
            </tbody>
          </Table>
        </>
      )}
    </>
  );
}

/** The grade of the latest five jobs after each job, with its standard error as a band. */
function Curve({ learning }: { learning: Learning }) {
  const colour = (name: string): string => getComputedStyle(document.documentElement).getPropertyValue(name).trim();
  const curve = learning.curve.map(({ mean, error }) => ({
    mean: 100 * mean,
    low: 100 * Math.max(0, mean - error),
    high: 100 * Math.min(1, mean + error),
  }));
  const band = { borderWidth: 0, pointRadius: 0, borderColor: "transparent", backgroundColor: colour("--accent-soft") };
  return (
    <Plot>
      <Line
        aria-label="Grade of the latest five jobs, in percent"
        data={{
          labels: curve.map((_, i) => String(i + 1)),
          datasets: [
            {
              label: "mean of the latest five jobs",
              data: curve.map((p) => p.mean),
              borderColor: colour("--accent"),
              borderWidth: 3,
              pointRadius: 3,
            },
            { label: "its standard error", data: curve.map((p) => p.high), fill: "+1", ...band },
            { label: "", data: curve.map((p) => p.low), ...band },
          ],
        }}
        options={{
          animation: false,
          maintainAspectRatio: false,
          scales: {
            x: {
              title: { display: true, text: "jobs", color: colour("--ink-2") },
              ticks: { color: colour("--ink-2") },
              grid: { color: colour("--line") },
            },
            y: {
              min: 0,
              max: 100,
              ticks: { color: colour("--ink-2") },
              grid: { color: colour("--line") },
              title: { display: true, text: "%", color: colour("--ink-2") },
            },
          },
          plugins: { legend: { labels: { color: colour("--ink"), filter: (item) => item.text !== "" } } },
        }}
      />
    </Plot>
  );
}
