import { useEffect, useState } from "react";
import type { Remote } from "comlink";
import { CircleAlert, CircleCheck } from "lucide-react";
import { styled } from "styled-components";
import type { VehicleState } from "@rheonom/core/circuit";
import { describePlace, type Harness } from "@rheonom/core/harness";
import { isOnBus, type AmplitudeLost, type Probe, type Recording } from "@rheonom/core/instruments";
import { formatOhms } from "@rheonom/core/quantity";
import { judgeTrace, type GoodTrace, type SeenTrace } from "@rheonom/core/waveform";
import { useJobContext } from "../../job/job-context.ts";
import { Button } from "../../ui/button.tsx";
import { Faint, Row } from "../../ui/layout.tsx";
import { toast } from "../../ui/toast.tsx";
import { useQuery, useSame } from "../../worker/use-query.ts";
import type { BenchWorker } from "./bench.worker.ts";
import type { LeadPair } from "./capture-model.ts";
import { evidenceOf } from "./trace-evidence.ts";

const Findings = styled.ul`
  list-style: none;
  margin: 0;
  padding: 0;
  display: grid;
  gap: var(--s1);
  li {
    display: flex;
    gap: var(--s2);
    align-items: flex-start;
  }
  svg {
    flex: none;
    margin-top: 2px;
  }
  [data-good="true"] svg {
    color: var(--ok);
  }
  [data-good="false"] {
    font-weight: 600;
  }
  [data-good="false"] svg {
    color: var(--suspect);
  }
`;

/** A channel whose leads are known to the circuit. */
export interface JudgedChannel {
  readonly channel: number;
  readonly leads: LeadPair;
  readonly factor: number;
}

export interface JudgementProps {
  readonly harness: Harness;
  readonly state: VehicleState;
  readonly channels: readonly JudgedChannel[];
  readonly worker: Remote<BenchWorker>;
  /** Samples between the cursors. */
  readonly window: readonly [from: number, to: number];
  readonly rateHz: number;
  readonly good: Good;
  /** Something was moved between the cursors: what was recorded then is no level at rest. */
  readonly isMoved: boolean;
}

/** Longest recording of a good circuit that is worked out, s: a running engine takes its time. */
const LONGEST = { stopped: 1, running: 0.15, bus: 0.02 } as const;
const SETTLED_S = 0.03;
const MOST_POINTS = 100_000;

/** What a good circuit shows at each of the channels, worked out once they are known. */
export interface Good {
  readonly value: readonly (GoodTrace | undefined)[] | undefined;
  readonly failed: string | undefined;
}
export function useGood(
  harness: Harness | undefined,
  state: VehicleState | undefined,
  channels: readonly JudgedChannel[],
  seconds: number,
): Good {
  const recording = recordingFor(harness, state, channels, seconds);
  const probes = channels.map(({ leads }): Probe => ({ at: leads, probe: 10 }));
  const { value, failed } = useQuery(
    "good",
    harness,
    channels.length === 0 || state === undefined ? undefined : { state, probes, recording },
  );
  return { value, failed };
}

/** How long and how finely a supposed circuit is worked out beside a trace. */
export function recordingFor(
  harness: Harness | undefined,
  state: VehicleState | undefined,
  channels: readonly JudgedChannel[],
  seconds: number,
): Recording {
  const runs = state?.engine !== "stopped";
  const isBus = harness !== undefined && channels.some(({ leads }) => isOnBus(harness, leads.red));
  const length = Math.max(0.02, Math.min(seconds, isBus ? LONGEST.bus : runs ? LONGEST.running : LONGEST.stopped));
  return { seconds: length, resolutionS: Math.max(1e-6, length / MOST_POINTS), delayS: runs ? SETTLED_S : 0 };
}

/** What is between the cursors, beside what a good circuit shows there. */
export function Judgement({ harness, state, channels, worker, window, rateHz, good, isMoved }: JudgementProps) {
  if (channels.length === 0)
    return <Faint>Say where the leads of a channel were, and it is judged by what a good circuit shows there.</Faint>;
  return (
    <section aria-label="Judgement">
      <h3>Between the cursors, beside a good circuit</h3>
      {good.value === undefined ? <p role="status">{good.failed ?? "Working out what a good circuit shows here …"}</p> : null}
      {good.value?.length === 0 ? <p>The circuit has no answer in this state. Judge it by eye.</p> : null}
      {channels.map((c, k) =>
        good.value?.[k] === undefined ? null : (
          <Channel key={c.channel} good={good.value[k]} of={c} {...{ harness, state, worker, window, rateHz, isMoved }} />
        ),
      )}
    </section>
  );
}

/** What is asked where pulses swing by less than a good circuit's; undefined where they do not. To the tenth of a volt, so that it is not asked anew for noise. */
function lostOf(
  leads: LeadPair,
  state: VehicleState,
  seen: SeenTrace | undefined,
  { steady }: GoodTrace,
): { readonly leads: LeadPair; readonly state: VehicleState; readonly seen: { readonly low: number; readonly high: number } } | undefined {
  if (seen === undefined || steady === undefined) return undefined;
  const { low, high, edges } = seen.measures;
  const round = (v: number): number => Math.round(10 * v) / 10;
  return edges >= 2 && high - low < AMPLITUDE_LOST * (steady.high - steady.low)
    ? { leads, state, seen: { low: round(low), high: round(high) } }
    : undefined;
}
/** From this share of a good amplitude on nothing is asked. */
const AMPLITUDE_LOST = 0.85;

/** "About 30 kΩ in series would do this, with this probe: in W61, C3.1 or W62." */
function lostWords({ ohms, links }: AmplitudeLost): string {
  const named = links.slice(0, MOST_NAMED);
  const rest = links.length - named.length;
  const where =
    rest > 0 ? `${named.join(", ")} or ${rest} more` : `${named.slice(0, -1).join(", ")}${named.length > 1 ? " or " : ""}${named.at(-1)}`;
  return `About ${formatOhms(Number(ohms.toPrecision(2))).replace(/\.0+(?=\D)/, "")} in series would do this: in ${where}.`;
}
const MOST_NAMED = 5;

interface ChannelProps extends Omit<JudgementProps, "channels" | "good"> {
  readonly of: JudgedChannel;
  readonly good: GoodTrace;
}

function Channel({ harness, state, worker, window: [from, to], of, good, isMoved }: ChannelProps) {
  const { job, record } = useJobContext();
  const [seen, setSeen] = useState<SeenTrace | undefined>(undefined);
  const { channel, leads, factor } = useSame(of);
  const hertz = good.alternatorHertz;
  useEffect(() => {
    let over = false;
    void worker.seen(channel, from, to, factor, hertz).then((s) => over || setSeen(s));
    return () => void (over = true);
  }, [worker, channel, from, to, factor, hertz]);
  const [counted, setCounted] = useState("");
  const isRepaired = job.view.mends.some((m) => m.struck === undefined);
  const lost = useQuery("amplitudeLost", harness, lostOf(leads, state, seen, good)).value;
  if (seen === undefined) return null;
  const evidence = evidenceOf(leads, state, seen.measures, good);
  const key = JSON.stringify(evidence);
  const count = (): void => {
    for (const data of evidence) record({ type: "seen", data });
    setCounted(key);
    toast(`${leads.red}: counted ${isRepaired ? "as the test repeated" : "for the suspects"}.`);
  };
  return (
    <div>
      <Row style={{ justifyContent: "space-between" }}>
        <strong>
          {leads.red} against {leads.black} <Faint>{describePlace(harness, leads.red)}</Faint>
        </strong>
        {isMoved ? (
          <Faint>To count its levels, set both cursors before what was moved.</Faint>
        ) : job.view.closed === undefined && evidence.length > 0 ? (
          <Button onPress={count} isDisabled={counted === key}>
            {counted === key ? "Counted" : isRepaired ? "Count as the test repeated" : "Count for the suspects"}
          </Button>
        ) : null}
      </Row>
      <Findings aria-label={`Judgement of ${leads.red}`}>
        {judgeTrace(good, seen).map((f) => (
          <li key={f.words} data-good={f.isGood}>
            {f.isGood ? <CircleCheck size={18} aria-label="good" /> : <CircleAlert size={18} aria-label="not as it should be" />} {f.words}
          </li>
        ))}
        {lost === undefined ? null : (
          <li data-good={false}>
            <CircleAlert size={18} aria-label="not as it should be" /> {lostWords(lost)}
          </li>
        )}
      </Findings>
    </div>
  );
}
