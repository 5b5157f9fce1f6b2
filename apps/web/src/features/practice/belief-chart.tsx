import { Chart, Legend, LinearScale, LineElement, PointElement, Tooltip } from "chart.js";
import { Line } from "react-chartjs-2";
import { styled } from "styled-components";
import type { DebriefShown } from "@rheonom/contract/practice";

Chart.register(LinearScale, PointElement, LineElement, Tooltip, Legend);

const Plot = styled.div`
  height: 240px;
  position: relative;
`;

/** The belief in what was really wrong, and in the likeliest suspect, after each test; repairs stand on it. */
export function BeliefChart({ debrief }: { debrief: DebriefShown }) {
  const colour = (name: string): string => getComputedStyle(document.documentElement).getPropertyValue(name).trim();
  const [ink, line] = [colour("--ink-2"), colour("--line")];
  const moments = [debrief.start, ...debrief.steps];
  const at = (of: (m: DebriefShown["start"]) => number) => moments.map((m, x) => ({ x, y: 100 * of(m) }));
  const acts = debrief.acts.map((a) => ({ x: Math.min(a.after, moments.length - 1), y: 100 * a.share }));
  return (
    <Plot>
      <Line
        aria-label="Belief after each test, in percent"
        data={{
          datasets: [
            {
              label: "what was wrong",
              data: at((m) => m.truth),
              borderColor: colour("--accent"),
              backgroundColor: colour("--accent"),
              borderWidth: 3,
            },
            {
              label: "likeliest suspect",
              data: at((m) => m.share),
              borderColor: ink,
              backgroundColor: ink,
              borderDash: [6, 4],
              pointStyle: "rect",
              borderWidth: 2,
            },
            {
              label: "repairs",
              data: acts,
              showLine: false,
              pointStyle: "triangle",
              pointRadius: 9,
              borderColor: colour("--suspect"),
              backgroundColor: colour("--suspect"),
            },
          ],
        }}
        options={{
          animation: false,
          maintainAspectRatio: false,
          // What stands at nothing or at all of it is drawn whole.
          clip: false,
          layout: { padding: 10 },
          parsing: false,
          scales: {
            x: {
              type: "linear",
              min: 0,
              title: { display: true, text: "tests", color: ink },
              ticks: { color: ink, stepSize: 1, precision: 0 },
              grid: { color: line },
            },
            y: { min: 0, max: 100, title: { display: true, text: "%", color: ink }, ticks: { color: ink }, grid: { color: line } },
          },
          plugins: { legend: { labels: { color: colour("--ink"), usePointStyle: true } } },
        }}
      />
    </Plot>
  );
}
