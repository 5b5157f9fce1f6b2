import { memo, useEffect, useState } from "react";
import type { Remote } from "comlink";
import type { Comparison } from "@rheonom/core/waveform";
import { Faint, Row } from "../../ui/layout.tsx";
import { Select } from "../../ui/select.tsx";
import { useSame } from "../../worker/use-query.ts";
import type { BenchWorker, TraceShape } from "./bench.worker.ts";

export interface ComparePanelProps {
  readonly shape: TraceShape;
  readonly factors: readonly number[];
  readonly units: readonly string[];
  readonly worker: Remote<BenchWorker>;
  /** Samples between the cursors. */
  readonly window: readonly [from: number, to: number];
}

/** One channel laid over another: which stretch of a wire takes the amplitude, or what has changed since it was good. */
export const ComparePanel = memo(function ComparePanel({ shape, factors, units, worker, window: [from, to] }: ComparePanelProps) {
  const [pair, setPair] = useState<readonly [string, string]>(["0", "1"]);
  const [told, setTold] = useState<Comparison | undefined>(undefined);
  const [first, second] = pair.map(Number) as [number, number];
  const scales = useSame(factors);
  const unit = units[first] === units[second] && (units[first] === "V" || units[first] === "A") ? units[first] : "";
  useEffect(() => {
    let over = false;
    void worker.compared(first, second, from, to, scales, unit).then((c) => over || setTold(c));
    return () => void (over = true);
  }, [worker, shape, first, second, from, to, scales, unit]);
  const options = shape.channels.map((c, i) => ({ id: String(i), text: `${i + 1} ${c.name}` }));
  return (
    <section aria-label="Comparison">
      <Row style={{ alignItems: "end" }}>
        <Select label="Compare" options={options} value={pair[1]} onChange={(id) => setPair([pair[0], id])} />
        <Select label="with" options={options} value={pair[0]} onChange={(id) => setPair([id, pair[1]])} />
        {told === undefined || first === second ? null : (
          <p>
            <strong>{told.words.length === 0 ? "The same" : capital(told.words.join(", "))}.</strong>{" "}
            <Faint>Difference {Math.round(100 * told.difference)} % of the swing, laid edge on edge.</Faint>
          </p>
        )}
      </Row>
    </section>
  );
});

const capital = (text: string): string => text.charAt(0).toUpperCase() + text.slice(1);
