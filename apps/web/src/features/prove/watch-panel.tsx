import { format, parseISO } from "date-fns";
import { useForm } from "react-hook-form";
import { watchWords, type EventOf } from "@rheonom/core/job";
import { useJobContext } from "../../job/job-context.ts";
import { Button } from "../../ui/button.tsx";
import { FormStack, TextInput } from "../../ui/form.tsx";
import { Faint, Panel, Row } from "../../ui/layout.tsx";

type Data = EventOf<"return-watched">["data"];
const EMPTY: Data = { until: "", distance: "", what: "" };

/** When somebody should ask whether it has come back. */
export function WatchPanel() {
  const { job, record } = useJobContext();
  const { watch: kept, closed } = job.view;
  const { control, handleSubmit, reset } = useForm<Data>({ defaultValues: EMPTY });
  return (
    <Panel aria-label="Watch for its return">
      <h2>Watch for its return</h2>
      {kept === undefined ? (
        <Faint>Nobody asks yet. Give a day or a distance after which somebody should.</Faint>
      ) : (
        <Row>
          <span>Ask {watchWords(kept, (day) => format(parseISO(day), "EEE d MMM yyyy"))}</span>
          <Button onPress={() => record({ type: "return-watched", data: EMPTY })}>{closed === undefined ? "Take off" : "Asked"}</Button>
        </Row>
      )}
      {closed === undefined ? (
        <FormStack
          onSubmit={(e) =>
            void handleSubmit((data) => {
              if (data.until === "" && data.distance.trim() === "") return;
              record({ type: "return-watched", data });
              reset(EMPTY);
            })(e)
          }
          noValidate
        >
          <Row style={{ alignItems: "end" }}>
            <TextInput control={control} name="until" label="Day" type="date" />
            <TextInput control={control} name="distance" label="Or after" placeholder="500 km" maxLength={40} />
            <TextInput control={control} name="what" label="What to ask" grow maxLength={300} />
            <Button type="submit">Set</Button>
          </Row>
        </FormStack>
      ) : null}
    </Panel>
  );
}
