import type { Harness, PlaceId } from "@rheonom/core/harness";
import { whyWords, type Stretch, type PathJudgement } from "@rheonom/core/diagnosis";
import { formatAmps, formatOhms, formatVolts } from "@rheonom/core/quantity";
import { Hidden } from "../../ui/layout.tsx";
import { Table } from "../../ui/table.tsx";

interface TableRow {
  readonly key: string;
  /** What lies between the two places. */
  readonly name: string;
  readonly from: PlaceId;
  readonly to: PlaceId;
  readonly soundVolts: number;
  readonly stretch: Stretch | undefined;
  readonly first: number;
}

/** Stretches that were measured, and between them the steps that were not, in order of the path. */
function rowsOf(trace: PathJudgement): TableRow[] {
  const { steps } = trace.staircase;
  const taken = new Set(trace.stretches.flatMap((s) => s.steps));
  const rows: TableRow[] = trace.stretches.map((s) => ({
    key: `s${s.steps[0]}`,
    name: s.steps.map((i) => steps[i]!.link.id).join(" · "),
    from: s.fromPlace,
    to: s.toPlace,
    soundVolts: s.soundDropVolts,
    stretch: s,
    first: s.steps[0]!,
  }));
  steps.forEach((step, i) => {
    if (taken.has(i)) return;
    rows.push({
      key: step.link.id,
      name: step.link.id,
      from: step.from,
      to: step.to,
      soundVolts: step.soundDropVolts,
      stretch: undefined,
      first: i,
    });
  });
  return rows.sort((p, q) => p.first - q.first);
}

function verdictWords(s: Stretch | undefined): string {
  if (s === undefined) return "not measured";
  if (s.why === "load inside" && s.steps.length === 1) return "the load itself";
  if (s.verdict === "cannot judge") return `cannot judge: ${whyWords(s)}`;
  return s.verdict === "suspect" ? (s.open ? "open" : "too tall") : "sound";
}

/** Each step's drop, the current and the resistance that follows, beside what is sound and what the rule set allows. */
export function StepsTable({
  trace,
  selected,
  onAcross,
}: {
  harness: Harness;
  trace: PathJudgement;
  selected: string | undefined;
  onAcross: (red: string, black: string) => void;
}) {
  return (
    <Table>
      <caption>
        <Hidden>Steps of the path from battery positive to battery negative</Hidden>
      </caption>
      <thead>
        <tr>
          <th scope="col">Step</th>
          <th scope="col">Between</th>
          <th scope="col" className="n">
            Drop
          </th>
          <th scope="col" className="n">
            Sound
          </th>
          <th scope="col" className="n">
            Limit
          </th>
          <th scope="col" className="n">
            Current
          </th>
          <th scope="col" className="n">
            Resistance
          </th>
          <th scope="col">Verdict</th>
        </tr>
      </thead>
      <tbody>
        {rowsOf(trace).map((r) => (
          <tr key={r.key} data-selected={selected !== undefined && r.name.split(" · ").includes(selected) ? true : undefined}>
            <th scope="row" style={{ whiteSpace: "normal" }}>
              {r.name.replace(/=\d+/g, "joint")}
            </th>
            <td>
              <button type="button" onClick={() => onAcross(r.from, r.to)} style={linkButton} title="Measure across this step">
                {r.from} → {r.to}
              </button>
            </td>
            <td className="n">{r.stretch === undefined ? "" : formatVolts(r.stretch.dropVolts)}</td>
            <td className="n">{formatVolts(r.soundVolts)}</td>
            <td className="n">{limitOf(trace, r)}</td>
            <td className="n">{r.stretch === undefined ? "" : formatAmps(r.stretch.amps)}</td>
            <td className="n">{r.stretch?.ohms === undefined || r.stretch.open ? "" : formatOhms(r.stretch.ohms)}</td>
            <td>
              {r.stretch?.verdict === "suspect" ? (
                <strong style={{ color: "var(--suspect)" }}>{verdictWords(r.stretch)}</strong>
              ) : (
                verdictWords(r.stretch)
              )}
            </td>
          </tr>
        ))}
      </tbody>
    </Table>
  );
}

function limitOf(trace: PathJudgement, row: TableRow): string {
  const limit = row.stretch === undefined ? trace.staircase.steps[row.first]?.limitVolts : row.stretch.limitVolts;
  return limit === undefined ? "–" : formatVolts(limit);
}

const linkButton = {
  font: "inherit",
  fontFamily: "var(--mono)",
  fontSize: "0.875rem",
  background: "none",
  border: "none",
  padding: "2px 0",
  minHeight: 28,
  color: "var(--accent)",
  textDecoration: "underline",
  cursor: "pointer",
  whiteSpace: "nowrap",
} as const;
