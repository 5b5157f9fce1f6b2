import { memo, useState } from "react";
import { Ghost } from "lucide-react";
import type { VehicleState } from "@rheonom/core/circuit";
import type { Harness } from "@rheonom/core/harness";
import { Button } from "../../ui/button.tsx";
import { Field } from "../../ui/field.tsx";
import { Faint, Row } from "../../ui/layout.tsx";
import { Select } from "../../ui/select.tsx";
import { session } from "../../worker/the-session.ts";
import { recordingFor, type JudgedChannel } from "./judgement.tsx";
import { supposedFault, SUPPOSED, type Supposed } from "./what-if.ts";

/** Traces of a supposed circuit, V, one for each of the channels. */
export interface GhostTraces {
  readonly name: string;
  readonly rateHz: number;
  readonly channels: readonly { readonly of: number; readonly samples: Float32Array }[];
}

export interface WhatIfProps {
  readonly harness: Harness;
  readonly state: VehicleState;
  readonly channels: readonly JudgedChannel[];
  readonly seconds: number;
  /** Channels that there is still room for. */
  readonly room: number;
  readonly onGhosts: (ghosts: GhostTraces) => void;
}

/** What these channels would show with something wrong that is supposed, or with nothing wrong: drawn beside what they show. */
export const WhatIfPanel = memo(function WhatIfPanel({ harness, state, channels, seconds, room, onGhosts }: WhatIfProps) {
  const [at, setAt] = useState("");
  const [what, setWhat] = useState<Supposed>("open");
  const [wrong, setWrong] = useState("");
  const [isBusy, setBusy] = useState(false);
  const shown = channels.slice(0, room);
  const draw = async (isGood: boolean): Promise<void> => {
    const read = isGood ? undefined : supposedFault(harness, at, what);
    if (typeof read === "string") return setWrong(read);
    setWrong("");
    setBusy(true);
    const recording = recordingFor(harness, state, channels, seconds);
    const probes = shown.map(({ leads }) => ({ at: leads, probe: 10 as const }));
    const asked = { state, probes, recording, faults: read === undefined ? [] : [read.fault] };
    const traces = await session
      .ask("whatIf", harness, asked)
      .answer.catch((error: unknown) => (error instanceof Error ? error.message : String(error)));
    setBusy(false);
    if (traces === undefined || typeof traces === "string" || traces.length === 0)
      return setWrong(typeof traces === "string" ? traces : "The circuit has no answer with that in this state.");
    onGhosts({
      name: read?.name ?? "good",
      rateHz: 1 / recording.resolutionS,
      channels: traces.map((samples, k) => ({ of: shown[k]!.channel, samples })),
    });
  };
  if (shown.length === 0) return null;
  return (
    <section aria-label="What it would show">
      <Row style={{ alignItems: "end" }}>
        <Field label="What it would show with" value={at} onChange={setAt} mono maxLength={40} placeholder="C5.3" error={wrong} />
        <Select label="Supposed" hideLabel options={SUPPOSED} value={what} onChange={setWhat} />
        <Button onPress={() => void draw(false)} isDisabled={isBusy}>
          <Ghost size={18} aria-hidden /> Draw it
        </Button>
        <Button look="quiet" onPress={() => void draw(true)} isDisabled={isBusy}>
          A good circuit
        </Button>
        {isBusy ? <span role="status">Working it out …</span> : <Faint>It is laid over as a channel of its own.</Faint>}
      </Row>
    </section>
  );
});
