import { Link } from "react-router";
import type { VehicleState } from "@rheonom/core/circuit";
import { loggedWords, RESULT_WORDS, type Observable, type ResultWord } from "@rheonom/core/diagnosis";
import { useJobContext } from "../../job/job-context.ts";
import { readGauge } from "../../job/reading.ts";
import { saidOn } from "../../job/said.ts";
import { Button } from "../../ui/button.tsx";
import { OneLineForm } from "../../ui/form.tsx";
import { Row } from "../../ui/layout.tsx";
import { Repeat } from "./repeat.tsx";

/** Does one test again that showed the trouble: the same place, the same state, a word or a number. */
export function TestAgain({ observe: o, state }: { observe: Observable; state: VehicleState }) {
  const { job, record } = useJobContext();
  const words = (o.kind in RESULT_WORDS ? RESULT_WORDS[o.kind as keyof typeof RESULT_WORDS] : []) as readonly ResultWord[];
  if (words.length > 0)
    return (
      <Row>
        {o.kind === "wiggle" ? <Link to={`/jobs/${job.id}/trace`}>Watch it on Trace</Link> : null}
        {words.map((word) => (
          <Button key={word} onPress={() => record({ type: "seen", data: { state, observe: o, word, wrong: false } })}>
            {saidOn(word)}
          </Button>
        ))}
      </Row>
    );
  if (o.kind === "volts" || o.kind === "ohms" || o.kind === "amps") {
    const leads = o.kind === "amps" ? { quantity: "amps" as const, around: o.around } : { quantity: o.kind, red: o.red, black: o.black };
    return <Repeat leads={leads} state={state} load={job.view.readings.at(-1)?.data.load ?? ""} />;
  }
  const take = (text: string): string | undefined => {
    const unit = o.kind === "duty" ? "%" : "V";
    const value = readGauge(text, unit);
    if (value === undefined) return unit === "V" ? "A number of volts, such as 4.98." : "A number of percent, such as 69.";
    record({ type: "seen", data: { state, observe: o, value, wrong: false } });
    return undefined;
  };
  return (
    <Row>
      {o.kind === "level" || o.kind === "duty" ? (
        <Link to={`/jobs/${job.id}/bench?${new URLSearchParams({ red: o.red, black: o.black }).toString()}`}>Capture on the Bench</Link>
      ) : null}
      <OneLineForm label={`Again: ${loggedWords(o)}`} words="Record" mono placeholder="12.31" maxLength={30} onSubmit={take} />
    </Row>
  );
}
