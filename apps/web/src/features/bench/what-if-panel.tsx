import { useState } from "react";
import { Ghost } from "lucide-react";
import type { VehicleState } from "@rheonom/core/circuit";
import type { Harness } from "@rheonom/core/harness";
import { Button } from "../../ui/button.tsx";
import { Field } from "../../ui/field.tsx";
import { Faint, Row } from "../../ui/layout.tsx";
import { Select } from "../../ui/select.tsx";
import { percent } from "../../ui/percent.ts";
import { session } from "../../worker/the-session.ts";
import type { Asking } from "../../worker/use-diagnosis.ts";
import { recordingFor, type JudgedChannel } from "./judgement.tsx";
import { supposedFault, SUPPOSED, type Supposed } from "./what-if.ts";

/** Traces of supposed circuits, V: each with the channel that it stands beside and what is supposed. */
export interface GhostTraces {
  readonly rateHz: number;
  readonly channels: readonly { readonly of: number; readonly name: string; readonly samples: Float32Array }[];
}

export interface WhatIfProps {
  readonly harness: Harness;
  readonly state: VehicleState;
  readonly channels: readonly JudgedChannel[];
  readonly seconds: number;
  /** Channels that there is still room for. */
  readonly room: number;
  readonly onGhosts: (ghosts: GhostTraces) => void;
  /** What the engine is asked of the job; undefined while nothing was found. */
  readonly question: Asking | undefined;
}

/** Suspects that are drawn at once. */
const MOST_SUSPECTS = 3;

/** What these channels would show with something wrong that is supposed, or with nothing wrong: drawn beside what they show. */
export function WhatIfPanel({ harness, state, channels, seconds, room, onGhosts, question }: WhatIfProps) {
  const [at, setAt] = useState("");
  const [what, setWhat] = useState<Supposed>("open");
  const [wrong, setWrong] = useState("");
  const [busy, setBusy] = useState<string | undefined>(undefined);
  const shown = channels.slice(0, room);
  const draw = async (isGood: boolean): Promise<void> => {
    const read = isGood ? undefined : supposedFault(harness, at, what);
    if (typeof read === "string") return setWrong(read);
    setWrong("");
    setBusy("Working it out …");
    const recording = recordingFor(harness, state, channels, seconds);
    const probes = shown.map(({ leads }) => ({ at: leads, probe: 10 as const }));
    const asked = { state, probes, recording, faults: read === undefined ? [] : [read.fault] };
    const traces = await session
      .ask("whatIf", harness, asked)
      .answer.catch((error: unknown) => (error instanceof Error ? error.message : String(error)));
    setBusy(undefined);
    if (traces === undefined || typeof traces === "string" || traces.length === 0)
      return setWrong(typeof traces === "string" ? traces : "The circuit has no answer with that in this state.");
    const name = read?.name ?? "good";
    onGhosts({
      rateHz: 1 / recording.resolutionS,
      channels: traces.map((samples, k) => ({ of: shown[k]!.channel, name, samples })),
    });
  };
  const drawSuspects = async (asked: Asking): Promise<void> => {
    setWrong("");
    setBusy("Ranking suspects …");
    const recording = recordingFor(harness, state, channels, seconds);
    // As many suspects as there is room for with every channel, or the first channels with one.
    const beside = shown.slice(0, room);
    const most = Math.max(1, Math.min(MOST_SUSPECTS, Math.floor(room / beside.length)));
    const probes = beside.map(({ leads }) => ({ at: leads, probe: 10 as const }));
    const found = await session
      .ask("suspectTraces", harness, { question: asked, most, state, probes, recording }, ({ done, of }) =>
        setBusy(`Working out suspect ${done + 1} of ${of} …`),
      )
      .answer.catch((error: unknown) => (error instanceof Error ? error.message : String(error)));
    setBusy(undefined);
    if (found === undefined || typeof found === "string" || found.length === 0)
      return setWrong(typeof found === "string" ? found : "No suspect gives a trace here in this state.");
    onGhosts({
      rateHz: 1 / recording.resolutionS,
      channels: found.flatMap((s) =>
        s.channels.map((samples, k) => ({ of: beside[k]!.channel, name: `${s.suspects.join(", ")}, ${percent(s.probability)}`, samples })),
      ),
    });
  };
  if (shown.length === 0) return null;
  return (
    <section aria-label="What it would show">
      <Row style={{ alignItems: "end" }}>
        <Field label="What it would show with" value={at} onChange={setAt} mono maxLength={40} placeholder="C5.3" error={wrong} />
        <Select label="Supposed" hideLabel options={SUPPOSED} value={what} onChange={setWhat} />
        <Button onPress={() => void draw(false)} isDisabled={busy !== undefined}>
          <Ghost size={18} aria-hidden /> Draw it
        </Button>
        <Button look="quiet" onPress={() => void draw(true)} isDisabled={busy !== undefined}>
          A good circuit
        </Button>
        {question === undefined ? null : (
          <Button look="quiet" onPress={() => void drawSuspects(question)} isDisabled={busy !== undefined}>
            The leading suspects
          </Button>
        )}
        {busy !== undefined ? <span role="status">{busy}</span> : <Faint>Each is laid over as a channel of its own.</Faint>}
      </Row>
    </section>
  );
}
