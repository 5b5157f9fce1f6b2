import { Controller } from "react-hook-form";
import { format } from "date-fns";
import { DRIVE_OUTCOMES, driveWords, type EventOf } from "@rheonom/core/job";
import { useJobContext } from "../../job/job-context.ts";
import { useKeptForm } from "../../job/kept-form.ts";
import { NumberInput } from "../../job/number-input.tsx";
import { typedNumber } from "../../job/typed-number.ts";
import { Button } from "../../ui/button.tsx";
import { Check } from "../../ui/check.tsx";
import { FormStack, TextInput } from "../../ui/form.tsx";
import { Columns, Faint, Panel, Row } from "../../ui/layout.tsx";
import { Segmented } from "../../ui/segmented.tsx";
import { DriveLive, useDriveLive } from "./drive-live.tsx";
import { useDriveClock } from "./drive-clock.ts";
import { conditionsOf } from "./drive-conditions.ts";

type Outcome = EventOf<"driven">["data"]["outcome"] | "";
interface Form {
  readonly outcome: Outcome;
  /** Conditions that were brought about. */
  readonly met: readonly string[];
  readonly seen: string;
  readonly from: string;
  readonly to: string;
}
const EMPTY: Form = { outcome: "", met: [], seen: "", from: "", to: "" };

/** A drive under the conditions of the complaint: what was brought about, how long and how far, and whether the fault came. One that cannot be done now becomes a wait on the board. */
export function DrivePanel() {
  const { job, record } = useJobContext();
  const { view } = job;
  const wanted = conditionsOf(view.complaint);
  const clock = useDriveClock(job.id);
  const live = useDriveLive();
  const { control, handleSubmit, setValue, watch, clear } = useKeptForm<Form>(`rheonom.drive-form.${job.id}`, EMPTY);
  const { outcome, met } = watch();
  const made = view.drives.filter((d) => d.struck === undefined);
  const keep = (form: Form): void => {
    if (form.outcome === "") return;
    const [from, to] = [typedNumber(form.from), typedNumber(form.to)];
    const minutes = clock.minutes;
    record({
      type: "driven",
      data: {
        outcome: form.outcome,
        seen: form.seen.trim(),
        met: [...form.met],
        unmet: wanted.filter((w) => !form.met.includes(w)),
        ...(minutes === undefined ? {} : { minutes }),
        ...(from === undefined ? {} : { from }),
        ...(to === undefined ? {} : { to }),
        ...(live.told.length === 0 ? {} : { live: [...live.told] }),
      },
    });
    if (form.outcome === "not possible now") record({ type: "planned", data: { ...view.plan, waits: "test drive" } });
    clock.clear();
    live.clear();
    clear();
  };
  return (
    <Panel aria-label="Test drive">
      <h2>Test drive under the conditions of the complaint</h2>
      {made.map((d) => (
        <span key={d.id}>
          {driveWords(d.data)}{" "}
          <Faint>
            {d.by}, {format(new Date(d.at), "d MMM HH:mm")}
          </Faint>
        </span>
      ))}
      {view.closed === undefined ? (
        <FormStack onSubmit={(e) => void handleSubmit(keep)(e)} noValidate>
          {wanted.length === 0 ? (
            <Faint>The complaint names no conditions. Drive as the customer does.</Faint>
          ) : (
            <Row>
              {wanted.map((w) => (
                <Check
                  key={w}
                  isSelected={met.includes(w)}
                  onChange={(on) => setValue("met", on ? [...met, w] : met.filter((m) => m !== w))}
                >
                  {w}
                </Check>
              ))}
            </Row>
          )}
          <DriveLive live={live} />
          <Row>
            <Button
              onPress={() => {
                if (clock.isRunning) {
                  clock.stop();
                  live.stop();
                } else {
                  clock.start();
                  live.start();
                }
              }}
            >
              {clock.isRunning ? "Stop the clock" : "Start the clock"}
            </Button>
            <span role="timer">{clock.minutes === undefined ? "not started" : `${clock.minutes} min`}</span>
            <Controller
              control={control}
              name="outcome"
              render={({ field }) => (
                <Segmented<Outcome>
                  label="Outcome"
                  hideLabel
                  value={field.value}
                  onChange={field.onChange}
                  options={DRIVE_OUTCOMES.map((id) => ({ id, text: id }))}
                />
              )}
            />
          </Row>
          <Columns>
            {(["from", "to"] as const).map((name) => (
              <NumberInput
                key={name}
                control={control}
                name={name}
                label={name === "from" ? "Odometer before" : "Odometer after"}
                least={0}
                most={1e7}
                unit="as it stands there"
              />
            ))}
            <TextInput
              control={control}
              name="seen"
              label={outcome === "not possible now" ? "Why not now" : "What was seen"}
              maxLength={1000}
            />
          </Columns>
          <Row>
            <Button type="submit" isDisabled={outcome === ""}>
              Save test drive
            </Button>
            {outcome === "" ? <Faint>First say whether the fault appeared.</Faint> : null}
          </Row>
        </FormStack>
      ) : null}
    </Panel>
  );
}
