import { format } from "date-fns";
import { damageWords, faultSaid, METHOD_WORDS } from "@rheonom/core/job";
import { useJobContext } from "../../job/job-context.ts";
import { Button } from "../../ui/button.tsx";
import { Faint, Panel, Row } from "../../ui/layout.tsx";

/** The repairs that stand in the log; one recorded in error is struck. */
export function MendsMade() {
  const { job, record } = useJobContext();
  const made = job.view.mends.filter((m) => m.struck === undefined);
  if (made.length === 0) return null;
  return (
    <Panel>
      <h2>Repaired so far</h2>
      {made.map((m) => (
        <Row key={m.id} style={{ justifyContent: "space-between", flexWrap: "nowrap" }}>
          <p>
            <strong>{m.data.at}</strong>, {METHOD_WORDS[m.data.method]}
            {m.data.fault === undefined ? "" : `, ${faultSaid(m.data.fault)}`}
            {m.data.damage === undefined ? "" : `, ${damageWords(m.data.damage)}`}. {m.data.found} {m.data.done}
            {m.data.override === undefined ? "" : ` Without proof, because ${m.data.override}.`}{" "}
            <Faint>
              {m.by}, {format(new Date(m.at), "d MMM HH:mm")}
            </Faint>
          </p>
          {job.view.closed === undefined ? (
            <Button look="quiet" onPress={() => record({ type: "struck", data: { target: m.id, why: "recorded in error" } })}>
              Strike
            </Button>
          ) : null}
        </Row>
      ))}
    </Panel>
  );
}
