import { useState } from "react";
import type { VehicleState } from "@rheonom/core/circuit";
import type { Leads } from "@rheonom/core/instruments";
import { describeLeads } from "@rheonom/core/job";
import { useSimulateMutation } from "../../api/api.ts";
import { failureOf } from "../../api/failure.ts";
import { leadsOfMeter } from "../../job/instrument/live-reading.ts";
import { takeOnce } from "../../job/instrument/take-once.ts";
import { useInstrument } from "../../job/instrument/use-instrument.ts";
import { useJobContext } from "../../job/job-context.ts";
import { readTyped } from "../../job/reading.ts";
import { Button } from "../../ui/button.tsx";
import { OneLineForm } from "../../ui/form.tsx";

export interface RepeatProps {
  readonly leads: Leads;
  readonly state: VehicleState;
  /** The load whose path was traced. */
  readonly load: string;
  readonly isDisabled?: boolean;
}

/** Takes the same reading again: same leads, same state. */
export function Repeat({ leads, state, load, isDisabled = false }: RepeatProps) {
  const { job, record } = useJobContext();
  const [simulate] = useSimulateMutation();
  const meter = useInstrument(job.id, "meter");
  const isConnected = meter.now.status === "connected";
  const [isTaking, setTaking] = useState(false);
  const take = (typed: string, instrument: "typed" | "simulated"): string | undefined => {
    const read = readTyped(typed, leads.quantity);
    if (read.kind === "bad") return read.message;
    record({ type: "reading-taken", data: { leads, state, load, text: read.text, shown: read.shown, instrument } });
    return undefined;
  };
  const fromMeter = async (fail: (message: string) => void): Promise<void> => {
    setTaking(true);
    const taken = await takeOnce(meter.line, leads, state, job.view);
    setTaking(false);
    if (typeof taken === "string") return fail(taken);
    const through = leadsOfMeter(leads, meter.now.inputOhms);
    record({ type: "reading-taken", data: { leads: through, state, load, instrument: "connected", ...taken } });
  };
  const ask = async (fail: (message: string) => void): Promise<void> => {
    const answer = await simulate({ jobId: job.id, leads, state });
    const wrong =
      "error" in answer
        ? failureOf(answer.error).message
        : answer.data.kind === "void"
          ? answer.data.message
          : take(answer.data.text, "simulated");
    if (wrong !== undefined) fail(wrong);
  };
  return (
    <OneLineForm
      label={`Again: ${describeLeads(leads)}`}
      words="Record"
      onSubmit={(text) => take(text, "typed")}
      keeps
      mono
      placeholder="12.31"
      isDisabled={isDisabled}
      maxLength={30}
      grow
    >
      {(fail) =>
        isConnected ? (
          <Button onPress={() => void fromMeter(fail)} isDisabled={isDisabled || isTaking}>
            {isTaking ? "Waiting for the meter …" : "From the meter"}
          </Button>
        ) : job.simulated ? (
          <Button onPress={() => void ask(fail)} isDisabled={isDisabled}>
            Simulate
          </Button>
        ) : null
      }
    </OneLineForm>
  );
}
