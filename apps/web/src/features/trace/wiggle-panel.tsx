import { useEffect, useEffectEvent, useState } from "react";
import { Chart, Legend, LinearScale, LineElement, PointElement, Tooltip } from "chart.js";
import { Line } from "react-chartjs-2";
import { styled } from "styled-components";
import type { VehicleState } from "@rheonom/core/circuit";
import { type Harness, linkOf, lookupOf, parsePlace, partNameIn, pathOfLoad } from "@rheonom/core/harness";
import { refusalsOf, type Leads } from "@rheonom/core/instruments";
import { describeLeads, wiggleOf, type EventOf, type JobView } from "@rheonom/core/job";
import type { BenchDraft } from "../../job/bench.ts";
import { simulatedAt, type MeterUse } from "../../job/instrument/use-meter.ts";
import { readTyped } from "../../job/reading.ts";
import { Button, Toggle } from "../../ui/button.tsx";
import { WiggleWords } from "../../job/wiggle-words.tsx";
import { OneLineForm } from "../../ui/form.tsx";
import { Faint, Row } from "../../ui/layout.tsx";
import { Notice } from "../../ui/notice.tsx";

Chart.register(LinearScale, PointElement, LineElement, Tooltip, Legend);

const Stack = styled.div`
  display: flex;
  flex-direction: column;
  gap: var(--s3);
`;
const Past = styled.details`
  summary {
    min-height: var(--target);
    display: flex;
    align-items: center;
    cursor: pointer;
  }
`;
const Plot = styled.div`
  height: 200px;
  position: relative;
`;

type Session = EventOf<"wiggled">["data"];
const UNIT = { volts: "V", ohms: "Ω", amps: "A" } as const;
/** ms between two readings of the simulated meter. */
const PACE_MS = 200;
const MOST_SAMPLES = 6000;

export interface WigglePanelProps {
  readonly harness: Harness;
  readonly view: JobView;
  readonly state: VehicleState;
  readonly load: string;
  readonly draft: BenchDraft;
  readonly isDisabled: boolean;
  /** Asks the stand-in vehicle while a spot is moved; undefined for a real one. */
  readonly simulate:
    ((leads: Leads, moving: string | undefined) => Promise<{ readonly text: string } | { readonly message: string }>) | undefined;
  /** A connected meter is watched instead. */
  readonly meter: MeterUse;
  readonly onKept: (session: Session) => void;
}

/** A reading watched while one spot after the other is moved; the spot that it goes with is suspected more. */
export function WigglePanel({ harness, view, state, load, draft, isDisabled, simulate, meter, onKept }: WigglePanelProps) {
  const [session, setSession] = useState<Session | undefined>(undefined);
  const [began, setBegan] = useState(0);
  const [wrong, setWrong] = useState<string | undefined>(undefined);
  const leads = leadsOf(harness, state, draft);
  const spots = spotsOf(harness, load);
  const moving = session?.marks.at(-1)?.[1] ?? "";
  const running = session !== undefined;

  const add = (value: number): void => {
    const ms = Date.now() - began;
    setSession((s) => (s === undefined || s.samples.length >= MOST_SAMPLES ? s : { ...s, samples: [...s.samples, [ms, value]] }));
  };
  /** Asks the simulated vehicle once; false when it cannot answer. What comes after the clock was stopped is left out. */
  const sample = useEffectEvent(async (isOver: () => boolean): Promise<boolean> => {
    if (simulate === undefined || leads === undefined) return false;
    const answer = await simulate(leads, moving === "" ? undefined : moving);
    if (isOver()) return false;
    if ("message" in answer) {
      setWrong(answer.message);
      return false;
    }
    const read = readTyped(answer.text, draft.mode);
    if (read.kind === "ok" && read.shown.kind === "value") add(read.shown.value);
    return true;
  });
  const isConnected = meter.meter !== undefined;
  const isAnswered = !isConnected && simulate !== undefined && leads !== undefined;
  useEffect(() => {
    if (!running || !isAnswered) return;
    let over = false;
    const timer = setInterval(() => void sample(() => over).then((goesOn) => goesOn || clearInterval(timer)), PACE_MS);
    return () => {
      over = true;
      clearInterval(timer);
    };
  }, [running, isAnswered, moving]);

  const heard = useEffectEvent((value: number | undefined): void => {
    if (value !== undefined && Number.isFinite(value)) add(value);
  });
  const { line } = meter;
  useEffect(() => {
    if (!isConnected || !running) return;
    let seen = line.state().samples;
    return line.subscribe(() => {
      const { samples } = line.state();
      if (samples === seen) return;
      seen = samples;
      heard(samples.at(-1)?.value);
    });
  }, [isConnected, running, line]);
  // Whose leads and hands are simulated is told what is being moved.
  const isSimulated = meter.now.via === "simulated";
  const tellMoving = useEffectEvent((at: string): void => meter.line.moveLeads([simulatedAt(leads)], state, at === "" ? undefined : at));
  useEffect(() => {
    if (!running || !isSimulated) return;
    tellMoving(moving);
    return () => tellMoving("");
  }, [running, isSimulated, moving]);

  const start = (): void => {
    if (leads === undefined) return;
    setBegan(Date.now());
    setWrong(undefined);
    setSession({
      state,
      leads,
      samples: [],
      marks: [[0, ""]],
      instrument: isConnected ? "connected" : simulate === undefined ? "typed" : "simulated",
    });
  };
  const mark = (at: string): void =>
    setSession((s) => (s === undefined ? s : { ...s, marks: [...s.marks, [Date.now() - began, moving === at ? "" : at]] }));
  const keep = (): void => {
    if (session !== undefined && session.samples.length >= 3) onKept(session);
    setSession(undefined);
  };
  const judged = session === undefined ? undefined : wiggleOf({ data: session });
  return (
    <Stack>
      <Notice tone="caution">
        Moving a harness may rock the engine and move a strap somewhere else: one spot at a time, the rest held. Clear of belts, fans and
        hot parts. The manufacturer’s procedure comes first.
      </Notice>
      {isDisabled ? null : session === undefined ? (
        <Row>
          <Button look="solid" onPress={start} isDisabled={leads === undefined}>
            Start logging
          </Button>
          <Faint>
            {leads === undefined
              ? "Put the leads on first: red and black above, or the clamp’s wire."
              : `${describeLeads(leads)}. First some seconds with hands off, then each spot for a few seconds.`}
          </Faint>
        </Row>
      ) : (
        <>
          <Row aria-label="What is being moved">
            <Toggle isSelected={moving === ""} onChange={() => mark("")}>
              hands off
            </Toggle>
            {spots.map((s) => (
              <Toggle key={s.id} isSelected={moving === s.id} onChange={() => mark(s.id)}>
                {s.words}
              </Toggle>
            ))}
          </Row>
          <Row>
            {isConnected ? (
              <output aria-live="off">{meter.meter?.live.text}</output>
            ) : simulate === undefined ? (
              <OneLineForm
                label="Meter shows"
                words="Note it"
                mono
                onSubmit={(text) => {
                  const read = readTyped(text, draft.mode);
                  if (read.kind === "bad") return read.message;
                  if (read.shown.kind === "over") return "Type a number: OL cannot be plotted; watch volts under load.";
                  add(read.shown.value);
                  return undefined;
                }}
              />
            ) : null}
            <Button look="solid" onPress={keep} isDisabled={session.samples.length < 3}>
              Stop and save
            </Button>
            <Button onPress={() => setSession(undefined)}>Discard</Button>
            <Faint>{session.samples.length} readings</Faint>
          </Row>
          {simulate !== undefined && wrong !== undefined ? <Notice tone="danger">{wrong}</Notice> : null}
          <Course session={session} />
          {judged === undefined ? null : <WiggleWords judged={judged} unit={UNIT[session.leads.quantity]} />}
        </>
      )}
      {[...view.wiggles].reverse().map((w) => {
        const past = wiggleOf(w);
        return (
          <Past key={w.id} data-struck={w.struck === undefined ? undefined : true}>
            <summary>
              {describeLeads(w.data.leads)}, {Math.round((w.data.samples.at(-1)?.[0] ?? 0) / 1000)} s
              {w.struck === undefined ? "" : ", struck"}
            </summary>
            <Course session={w.data} />
            {past === undefined ? null : <WiggleWords judged={past} unit={UNIT[w.data.leads.quantity]} />}
          </Past>
        );
      })}
    </Stack>
  );
}

const SHAPES = ["circle", "triangle", "rect", "rectRot", "cross", "star", "crossRot", "dash"] as const;

/** Value against time, a line and a point shape for each spot that was moved. */
function Course({ session }: { session: Session }) {
  const colour = (name: string): string => getComputedStyle(document.documentElement).getPropertyValue(name).trim();
  const names = [...new Set(session.marks.map(([, at]) => at))];
  const spotAt = (ms: number): string => session.marks.findLast(([from]) => from <= ms)?.[1] ?? "";
  const inks = [colour("--ink-2"), colour("--accent"), colour("--suspect"), colour("--sound")];
  return (
    <Plot>
      <Line
        aria-label="Reading against time"
        data={{
          datasets: names.map((at, i) => ({
            label: at === "" ? "hands off" : at,
            data: session.samples.map(([ms, v]) => ({ x: ms / 1000, y: spotAt(ms) === at ? v : NaN })),
            borderColor: inks[i % inks.length]!,
            backgroundColor: inks[i % inks.length]!,
            pointStyle: SHAPES[i % SHAPES.length]!,
            pointRadius: 3,
            borderWidth: 2,
          })),
        }}
        options={{
          animation: false,
          maintainAspectRatio: false,
          parsing: false,
          scales: {
            x: {
              type: "linear",
              title: { display: true, text: "s", color: inks[0]! },
              ticks: { color: inks[0]! },
              grid: { color: colour("--line") },
            },
            y: {
              title: { display: true, text: UNIT[session.leads.quantity], color: inks[0]! },
              ticks: { color: inks[0]! },
              grid: { color: colour("--line") },
            },
          },
          plugins: { legend: { labels: { color: colour("--ink"), usePointStyle: true } } },
        }}
      />
    </Plot>
  );
}

/** The leads as they stand in the fields; undefined while one is missing, unknown, or not to be put there. */
function leadsOf(harness: Harness, state: VehicleState, draft: BenchDraft): Leads | undefined {
  if (draft.mode === "amps") return linkOf(harness, draft.around) === undefined ? undefined : { quantity: "amps", around: draft.around };
  const [red, black] = [parsePlace(harness, draft.red), parsePlace(harness, draft.black === "" ? "-" : draft.black)];
  if (red.kind !== "place" || black.kind !== "place" || red.place === black.place) return undefined;
  const refused = refusalsOf(harness, state, { kind: draft.mode, places: [red.place, black.place] }).some((r) => r.harm === "people");
  return refused ? undefined : { quantity: draft.mode, red: red.place, black: black.place };
}

/** Looms, plugs and grounds on the way of a load. */
function spotsOf(harness: Harness, load: string): readonly { readonly id: string; readonly words: string }[] {
  const path = pathOfLoad(harness, load);
  if (path.kind !== "path") return [];
  const found = new Map<string, string>();
  for (const { link } of [...path.feed, ...path.ground]) {
    for (const s of lookupOf(harness).wires.get(link.id)?.segments ?? []) found.set(s, harness.looms?.find((l) => l.id === s)?.text ?? s);
    const part = lookupOf(harness).parts.get(partNameIn(link.id));
    if (part !== undefined && part.kind !== "splice" && part.kind !== "battery")
      found.set(part.id, [part.id, part.label].filter(Boolean).join(" "));
    if (part === undefined) found.set(link.id, `wire ${link.id}`);
  }
  return [...found].map(([id, words]) => ({ id, words }));
}
