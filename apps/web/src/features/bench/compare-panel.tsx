import { useEffect, useState } from "react";
import type { Remote } from "comlink";
import type { Alignment, Comparison, Laying } from "@rheonom/core/waveform";
import { Button, Toggle } from "../../ui/button.tsx";
import { Faint, Row } from "../../ui/layout.tsx";
import { Select } from "../../ui/select.tsx";
import { useSame } from "../../worker/use-query.ts";
import type { BenchWorker, TraceShape } from "./bench.worker.ts";

/** How one is laid over the other, as it is chosen, and as it is told beside the difference. */
const ALIGNED: readonly { readonly id: Alignment; readonly text: string; readonly told: string }[] = [
  { id: "edges", text: "edge on edge", told: "laid edge on edge" },
  { id: "shape", text: "shape on shape", told: "laid where they are most alike" },
  { id: "time", text: "as recorded", told: "as recorded" },
];

/** Which channel is taken from which, and how they are laid over each other. */
export interface Difference {
  readonly first: number;
  readonly second: number;
  readonly unit: string;
  readonly laying: Laying;
}

export interface ComparePanelProps {
  readonly shape: TraceShape;
  readonly factors: readonly number[];
  readonly units: readonly string[];
  readonly worker: Remote<BenchWorker>;
  /** Samples between the cursors. */
  readonly window: readonly [from: number, to: number];
  /** Undefined where there is no room for another channel. */
  readonly onDifference: ((difference: Difference) => void) | undefined;
}

/** One channel laid over another: which stretch of a wire takes the amplitude, or what has changed since it was good. */
export function ComparePanel(props: ComparePanelProps) {
  const { shape, factors, units, worker, window, onDifference } = props;
  const [from, to] = window;
  const [pair, setPair] = useState<readonly [string, string]>(["0", "1"]);
  const [align, setAlign] = useState<Alignment>("edges");
  const [isScaled, setScaled] = useState(false);
  const [told, setTold] = useState<Comparison | undefined>(undefined);
  const [first, second] = pair.map(Number) as [number, number];
  const scales = useSame(factors);
  const unit = units[first] === units[second] && (units[first] === "V" || units[first] === "A") ? units[first] : "";
  const laying = useSame({ align, isScaled });
  useEffect(() => {
    let over = false;
    void worker.compared(first, second, from, to, scales, unit, laying).then((c) => over || setTold(c));
    return () => void (over = true);
  }, [worker, shape, first, second, from, to, scales, unit, laying]);
  const options = shape.channels.map((c, i) => ({ id: String(i), text: `${i + 1} ${c.name}` }));
  return (
    <section aria-label="Comparison">
      <Row style={{ alignItems: "end" }}>
        <Select label="Compare" options={options} value={pair[1]} onChange={(id) => setPair([pair[0], id])} />
        <Select label="with" options={options} value={pair[0]} onChange={(id) => setPair([id, pair[1]])} />
        <Select label="Laid" options={ALIGNED} value={align} onChange={setAlign} />
        <Toggle isSelected={isScaled} onChange={setScaled}>
          At equal levels
        </Toggle>
        {onDifference === undefined || first === second ? null : (
          <Button look="quiet" onPress={() => onDifference({ first, second, unit: units[first] ?? "", laying })}>
            Draw the difference
          </Button>
        )}
      </Row>
      {told === undefined || first === second ? null : (
        <p>
          <strong>{told.words.length === 0 ? "The same" : capital(told.words.join(", "))}.</strong>{" "}
          <Faint>
            Difference {Math.round(100 * told.difference)} % of the swing, {ALIGNED.find((a) => a.id === align)!.told}
            {isScaled ? ", at equal levels" : ""}.
          </Faint>
        </p>
      )}
    </section>
  );
}

const capital = (text: string): string => text.charAt(0).toUpperCase() + text.slice(1);
