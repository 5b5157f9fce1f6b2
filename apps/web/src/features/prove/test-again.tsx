import type { VehicleState } from "@rheonom/core/circuit";
import { RESULT_WORDS, type Observable, type ResultWord } from "@rheonom/core/diagnosis";
import { useJobContext } from "../../job/job-context.ts";
import { readGauge, readTyped } from "../../job/reading.ts";
import { saidOn } from "../../job/said.ts";
import { Button } from "../../ui/button.tsx";
import { OneLineForm } from "../../ui/form.tsx";
import { Row } from "../../ui/layout.tsx";

/** Does one test again that showed the trouble: the same place, the same state, a word or a number. */
export function TestAgain({ observe: o, state }: { observe: Observable; state: VehicleState }) {
  const { job, record } = useJobContext();
  const words = (o.kind in RESULT_WORDS ? RESULT_WORDS[o.kind as keyof typeof RESULT_WORDS] : []) as readonly ResultWord[];
  if (words.length > 0)
    return (
      <Row>
        {words.map((word) => (
          <Button key={word} onPress={() => record({ type: "seen", data: { state, observe: o, word, wrong: false } })}>
            {saidOn(word)}
          </Button>
        ))}
      </Row>
    );
  const take = (text: string): string | undefined => {
    if (o.kind === "volts" || o.kind === "ohms" || o.kind === "amps") {
      const read = readTyped(text, o.kind);
      if (read.kind === "bad") return read.message;
      const leads = o.kind === "amps" ? { quantity: "amps" as const, around: o.around } : { quantity: o.kind, red: o.red, black: o.black };
      const load = job.view.readings.at(-1)?.data.load ?? "";
      record({ type: "reading-taken", data: { leads, state, load, text: read.text, shown: read.shown, instrument: "typed" } });
      return undefined;
    }
    const unit = o.kind === "duty" ? "%" : "V";
    const value = readGauge(text, unit);
    if (value === undefined) return unit === "V" ? "A number of volts, such as 4.98." : "A number of percent, such as 69.";
    record({ type: "seen", data: { state, observe: o, value, wrong: false } });
    return undefined;
  };
  return <OneLineForm label="Again" words="Record" mono placeholder="12.31" maxLength={30} onSubmit={take} />;
}
