import { useEffect, useEffectEvent, useMemo, useRef, useState } from "react";
import type { VehicleState } from "@rheonom/core/circuit";
import type { Harness } from "@rheonom/core/harness";
import type { Leads } from "@rheonom/core/instruments";
import type { JobView } from "@rheonom/core/job";
import type { SimulatedLeads } from "@rheonom/contract/instrument";
import { useSame } from "../../worker/use-query.ts";
import type { BenchDraft } from "../bench.ts";
import { leadsOnBench } from "../reading.ts";
import { isOfFoot, turnsTo, type Focus } from "./by-itself.ts";
import type { InstrumentLine, InstrumentState } from "./instrument-line.ts";
import { liveReading, type LiveReading } from "./live-reading.ts";
import { mayTake, waitingFrom, withSample, type Waiting } from "./take-when-steady.ts";
import { useInstrument } from "./use-instrument.ts";
import { useMeterSettings } from "./meter-settings.ts";

/** A meter that is connected, at the leads as they stand in the fields. */
export interface MeterAtHand {
  readonly live: LiveReading;
  readonly inputOhms: number;
  readonly name: string;
  readonly says: string;
  readonly takesSteady: boolean;
  readonly setTakesSteady: (on: boolean) => void;
  readonly foot: string;
}

export interface MeterUse {
  /** Undefined where none is connected. */
  readonly meter: MeterAtHand | undefined;
  /** Why one that was connected is no more; empty where nothing is wrong. */
  readonly trouble: string;
  /** Turns it to amps, which a real meter waits for; undefined where it waits for nothing. */
  readonly turnToAmps: (() => void) | undefined;
  readonly line: InstrumentLine;
  readonly now: InstrumentState;
}

/** Where a simulated meter's leads are. */
export const simulatedAt = (leads: Leads | undefined): SimulatedLeads =>
  leads === undefined
    ? { on: "nothing" }
    : leads.quantity === "amps"
      ? { on: "wire", around: leads.around }
      : { on: "places", red: leads.red, black: leads.black };

/** Turns the meter as the fields say, tells a simulated one where its leads are, and takes a reading by foot switch or when it stands still. `take` is called with the leads in place. `isPlacing`: their places are still being typed, and what stands there may be half of one; `isReading`: the field of the reading has the focus. */
export function useMeter(
  jobId: string,
  view: Pick<JobView, "meterChecks">,
  harness: Harness,
  state: VehicleState,
  draft: BenchDraft,
  isIdle: boolean,
  take: () => void,
  isPlacing: () => boolean,
  isReading: () => boolean,
): MeterUse {
  const { line, now } = useInstrument(jobId, "meter");
  const [settings, change] = useMeterSettings();
  const { mode } = draft;
  const leads = useSame(useMemo(() => leadsOnBench(harness, draft), [harness, draft]));
  const isConnected = now.status === "connected";
  const waiting = useRef<Waiting>(waitingFrom(undefined));

  const [agreed, setAgreed] = useState(false);
  if (agreed && (mode !== "amps" || !isConnected)) setAgreed(false);
  const turned = turnsTo(mode, isIdle, now.via, agreed);
  useEffect(() => {
    if (isConnected) line.turn(turned);
  }, [line, isConnected, turned]);
  useEffect(() => () => line.turn(undefined), [line]);
  useEffect(() => {
    if (!isConnected) return;
    waiting.current = waitingFrom(line.state().samples.at(-1)?.value);
    line.moveLeads([simulatedAt(leads)], state);
  }, [line, isConnected, leads, state]);

  const live = liveReading(now, mode, view);
  const isReady = !isIdle && leads !== undefined && draft.text === "";
  const watch = useEffectEvent((): void => {
    const last = now.samples.at(-1);
    if (last === undefined || live === undefined) return;
    waiting.current = withSample(waiting.current, last.value, mode);
    if (!settings.takesSteady || !isReady || isPlacing() || !mayTake(waiting.current, live.steadiness, mode)) return;
    // One reading for each time that the leads go somewhere.
    waiting.current = waitingFrom(last.value);
    take();
  });
  useEffect(() => watch(), [now.samples]);

  const press = useEffectEvent((): boolean => {
    if (!isConnected || !isReady) return false;
    take();
    return true;
  });
  const focusNow = useEffectEvent((): Focus => {
    const at = document.activeElement;
    return at === null || at === document.body
      ? "nowhere"
      : isReading()
        ? "reading"
        : at.matches("input, textarea, [contenteditable]")
          ? "field"
          : "control";
  });
  const { foot } = settings;
  useEffect(() => {
    if (foot === "") return;
    const onKey = (event: KeyboardEvent): void => {
      if (!isOfFoot(event.key, foot, focusNow()) || event.repeat || !press()) return;
      event.preventDefault();
      event.stopPropagation();
    };
    window.addEventListener("keydown", onKey, true);
    return () => window.removeEventListener("keydown", onKey, true);
  }, [foot]);

  return {
    line,
    now,
    trouble: now.trouble,
    turnToAmps: isConnected && !isIdle && turned === undefined ? () => setAgreed(true) : undefined,
    meter:
      live === undefined || !isConnected
        ? undefined
        : {
            live,
            inputOhms: now.inputOhms,
            name: now.name,
            says: now.says,
            takesSteady: settings.takesSteady,
            setTakesSteady: (takesSteady) => change({ takesSteady }),
            foot,
          },
  };
}
