import { useEffect, useState } from "react";
import type { Remote } from "comlink";
import type { VehicleState } from "@rheonom/core/circuit";
import { type Harness, lookupOf } from "@rheonom/core/harness";
import type { EventOf } from "@rheonom/core/job";
import { wiggleOf } from "@rheonom/core/job";
import { useJobContext } from "../../job/job-context.ts";
import { WiggleWords } from "../../job/wiggle-words.tsx";
import { Button } from "../../ui/button.tsx";
import { Faint, Row } from "../../ui/layout.tsx";
import { toast } from "../../ui/toast.tsx";
import type { BenchWorker, TraceShape } from "./bench.worker.ts";
import type { JudgedChannel } from "./judgement.tsx";
import type { Mark } from "./scope-chart.tsx";

type Session = EventOf<"wiggled">["data"];

/** What stands at a mark from which on nothing is moved. */
const HANDS_OFF = "hands off";

/** The marks that say what was moved from then on, in order: those that name a part, a wire or a loom of the circuit, and "" for hands off. */
export function movesIn(harness: Harness, marks: readonly Mark[]): readonly Mark[] {
  const { parts, wires } = lookupOf(harness);
  const named = (text: string): string | undefined =>
    text.toLowerCase() === HANDS_OFF
      ? ""
      : [...parts.keys(), ...wires.keys(), ...(harness.looms ?? []).map((l) => l.id)].find((id) => id.toLowerCase() === text.toLowerCase());
  return marks
    .flatMap(({ atS, text }): Mark[] => {
      const what = named(text.trim());
      return what === undefined ? [] : [{ atS, text: what }];
    })
    .sort((p, q) => p.atS - q.atS);
}

/** Whether something was moved between two times, s. */
export const movedBetween = (moves: readonly Mark[], from: number, to: number): boolean =>
  moves.some((m, i) => m.text !== "" && m.atS < to && (moves[i + 1]?.atS ?? Infinity) > from);

export interface MovedPanelProps {
  readonly shape: TraceShape;
  readonly channels: readonly JudgedChannel[];
  /** What was moved when. */
  readonly moves: readonly Mark[];
  readonly state: VehicleState;
  readonly worker: Remote<BenchWorker>;
}

/** Readings that a session keeps of a channel at most. */
const MOST = 3000;

/** A recording in whose marks it was said what was moved: judged and kept like a wiggle test. Nothing without marks. */
export function MovedPanel({ shape, channels, moves, state, worker }: MovedPanelProps) {
  if (moves.length === 0 || channels.length === 0) return null;
  return (
    <section aria-label="Moved">
      <h3>What moved it</h3>
      <Faint>A mark with the name of a connector, wire or loom says that it was moved from then on; “{HANDS_OFF}” ends it.</Faint>
      {channels.map((c) => (
        <Moved key={c.channel} of={c} {...{ shape, moves, state, worker }} />
      ))}
    </section>
  );
}

function Moved({ of, shape, moves, state, worker }: Omit<MovedPanelProps, "channels"> & { readonly of: JudgedChannel }) {
  const { job, record } = useJobContext();
  const { channel, factor, leads } = of;
  const [samples, setSamples] = useState<Session["samples"] | undefined>(undefined);
  const [isKept, setKept] = useState(false);
  useEffect(() => {
    let over = false;
    void worker.watched(channel, factor, MOST).then((s) => over || setSamples(s.map(([ms, v]) => [ms, v])));
    return () => void (over = true);
  }, [worker, channel, factor, shape]);
  if (samples === undefined || samples.length < LEAST) return null;
  const marks = moves.map(({ atS, text }): [number, string] => [Math.max(0, Math.round(1000 * (atS - shape.startS))), text]);
  const session: Session = {
    state,
    leads: { quantity: "volts", ...leads },
    samples,
    marks: [[0, ""], ...marks],
    instrument: job.simulated ? "simulated" : "connected",
  };
  const judged = wiggleOf({ data: session });
  if (judged === undefined) return null;
  return (
    <div>
      <Row style={{ justifyContent: "space-between" }}>
        <strong>
          {leads.red} against {leads.black}
        </strong>
        {judged.unmoved > 0 ? (
          <Faint>It swings with hands off as well: watch a level that stands still.</Faint>
        ) : job.view.closed === undefined ? (
          <Button
            isDisabled={isKept}
            onPress={() => {
              record({ type: "wiggled", data: session });
              setKept(true);
              toast(`${leads.red}: kept as a wiggle test.`);
            }}
          >
            {isKept ? "Kept" : "Keep as a wiggle test"}
          </Button>
        ) : null}
      </Row>
      <WiggleWords judged={judged} unit="V" />
    </div>
  );
}
/** Readings that a session has at least. */
const LEAST = 3;
