import { useForm } from "react-hook-form";
import { hoursWords, minutesInLog } from "@rheonom/core/job";
import { useJobContext } from "../../job/job-context.ts";
import { NumberInput } from "../../job/number-input.tsx";
import { typedNumber } from "../../job/typed-number.ts";
import { Button } from "../../ui/button.tsx";
import { FormStack } from "../../ui/form.tsx";
import { Faint, Row } from "../../ui/layout.tsx";

/** Hours that were worked beside those that were estimated. The log's own spell of work is at hand. */
export function TimeWorked() {
  const { job, record } = useJobContext();
  const { view, events } = job;
  const { estimate, minutes, closed } = view;
  const logged = minutesInLog(events);
  const { control, handleSubmit, reset } = useForm({ defaultValues: { hours: "" } });
  const keep = (worked: number): void => {
    record({ type: "time-told", data: { minutes: Math.round(worked) } });
    reset({ hours: "" });
  };
  const estimated = estimate?.data.lines.reduce((sum, l) => sum + (l.kind === "labour" ? l.quantity : 0), 0);
  return (
    <>
      {minutes === undefined ? null : (
        <p>
          Worked {hoursWords(minutes)}
          {estimated === undefined ? "" : ` of ${hoursWords(60 * estimated)} estimated`}
          {estimated !== undefined && minutes > 60 * estimated ? <strong>, {hoursWords(minutes - 60 * estimated)} more</strong> : null}.
        </p>
      )}
      {closed === undefined ? (
        <FormStack
          onSubmit={(e) => void handleSubmit(({ hours }) => typedNumber(hours) !== undefined && keep(60 * typedNumber(hours)!))(e)}
          noValidate
        >
          <Row style={{ alignItems: "end" }}>
            <NumberInput control={control} name="hours" label="Worked so far, hours" least={0} most={1000} unit="h" />
            <Button type="submit">Save time</Button>
            {logged === 0 || logged === minutes ? null : (
              <Button onPress={() => keep(logged)}>Take {hoursWords(logged)} from the log</Button>
            )}
          </Row>
          <Faint>The log counts the time between entries that are less than twenty minutes apart.</Faint>
        </FormStack>
      ) : null}
    </>
  );
}
