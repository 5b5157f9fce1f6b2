import type { Measures } from "@rheonom/core/waveform";
import { styled } from "styled-components";
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

export interface ChannelMeasuresProps {
  readonly shape: TraceShape;
  readonly measures: readonly (Measures | undefined)[];
  readonly factors: readonly number[];
  readonly units: readonly string[];
  /** Channels that nobody recorded. */
  readonly supposed: ReadonlySet<number>;
}

const Lines = styled.div`
  display: grid;
  gap: var(--s2);
`;
const Figures = styled.dl`
  display: flex;
  flex-wrap: wrap;
  gap: var(--s1) var(--s4);
  margin: 0;
  padding-top: var(--s1);
  border-top: 1px solid var(--line);
  div {
    white-space: nowrap;
  }
  dt {
    display: inline;
    color: var(--ink-2);
  }
  dd {
    display: inline;
    margin: 0 0 0 var(--s1);
    font-family: var(--mono);
  }
`;

/** What each channel shows between the cursors; what the window does not show is left out, and what was only supposed stands behind. */
export function ChannelMeasures({ supposed, ...of }: ChannelMeasuresProps) {
  const all = of.shape.channels.map((_, i) => i);
  const behind = all.filter((i) => supposed.has(i));
  return (
    <>
      <Lines role="group" aria-label="Measures between the cursors">
        {all.map((i) => (supposed.has(i) ? null : <OfChannel key={i} {...of} channel={i} />))}
      </Lines>
      {behind.length === 0 ? null : (
        <details>
          <summary>Measures of what was supposed</summary>
          <Lines>
            {behind.map((i) => (
              <OfChannel key={i} {...of} channel={i} />
            ))}
          </Lines>
        </details>
      )}
    </>
  );
}

function OfChannel({ shape, measures, factors, units, channel: i }: Omit<ChannelMeasuresProps, "supposed"> & { readonly channel: number }) {
  const m = measures[i];
  const name = `${i + 1} ${shape.channels[i]!.name}`;
  return (
    <section aria-label={name}>
      <strong>{name}</strong>
      <Figures>
        {m === undefined
          ? null
          : KINDS.map((k) => {
              const words = k.words(m, units[i] ?? "", factors[i] ?? 1);
              return words === "" ? null : (
                <div key={k.name}>
                  <dt>{k.name}</dt>
                  <dd>{words}</dd>
                </div>
              );
            })}
      </Figures>
    </section>
  );
}
