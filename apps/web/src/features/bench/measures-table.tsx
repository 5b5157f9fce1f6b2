import type { Measures } from "@rheonom/core/waveform";
import { Hidden } from "../../ui/layout.tsx";
import { Table } from "../../ui/table.tsx";
import type { TraceShape } from "./bench.worker.ts";
import { scaled } from "./scope-model.ts";

interface Kind {
  readonly name: string;
  /** In words, with the channel's unit and factor; "" where the window does not show it. */
  readonly words: (m: Measures, unit: string, factor: number) => string;
}

const level =
  (of: (m: Measures) => number): Kind["words"] =>
  (m, unit, factor) =>
    scaled(of(m) * factor, unit);
const time =
  (of: (m: Measures) => number | undefined): Kind["words"] =>
  (m) => {
    const s = of(m);
    return s === undefined ? "" : scaled(s, "s");
  };
const KINDS: readonly Kind[] = [
  { name: "Min", words: level((m) => m.min) },
  { name: "Max", words: level((m) => m.max) },
  { name: "Mean", words: level((m) => m.mean) },
  { name: "RMS", words: (m, unit, factor) => scaled(m.rms * Math.abs(factor), unit) },
  { name: "Peak to peak", words: (m, unit, factor) => scaled(m.peakToPeak * Math.abs(factor), unit) },
  { name: "Low", words: level((m) => m.low) },
  { name: "High", words: level((m) => m.high) },
  { name: "Frequency", words: (m) => (m.frequencyHz === undefined ? "" : scaled(m.frequencyHz, "Hz")) },
  { name: "Period", words: time((m) => m.periodS) },
  { name: "Duty", words: (m) => (m.duty === undefined ? "" : `${(100 * m.duty).toFixed(1)} %`) },
  { name: "Pulse", words: time((m) => m.pulseS) },
  { name: "Rise", words: time((m) => m.riseS) },
  { name: "Fall", words: time((m) => m.fallS) },
  { name: "Jitter", words: time((m) => m.jitterS) },
  { name: "Edges", words: (m) => String(m.edges) },
];

export interface MeasuresTableProps {
  readonly shape: TraceShape;
  readonly measures: readonly (Measures | undefined)[];
  readonly factors: readonly number[];
  readonly units: readonly string[];
}

/** What each channel shows between the cursors; a measure that the window does not show is left empty. */
export function MeasuresTable({ shape, measures, factors, units }: MeasuresTableProps) {
  return (
    <div style={{ overflowX: "auto" }}>
      <Table aria-label="Measures between the cursors">
        <caption>
          <Hidden>Measures between the cursors</Hidden>
        </caption>
        <thead>
          <tr>
            <th scope="col">A to B</th>
            {KINDS.map((k) => (
              <th key={k.name} scope="col" className="n">
                {k.name}
              </th>
            ))}
          </tr>
        </thead>
        <tbody>
          {shape.channels.map((c, i) => {
            const m = measures[i];
            return (
              <tr key={i}>
                <th scope="row">
                  {i + 1} {c.name}
                </th>
                {KINDS.map((k) => (
                  <td key={k.name} className="n" style={{ whiteSpace: "nowrap" }}>
                    {m === undefined ? "" : k.words(m, units[i] ?? "", factors[i] ?? 1)}
                  </td>
                ))}
              </tr>
            );
          })}
        </tbody>
      </Table>
    </div>
  );
}
