import { styled } from "styled-components";
import { colouredLeads, coloursAt, WIRE_COLOUR } from "@rheonom/core/diagnosis";
import { cavityIn } from "@rheonom/core/harness";
import { observedBy } from "@rheonom/core/job";
import { Button } from "../../ui/button.tsx";
import { Faint } from "../../ui/layout.tsx";
import { toast } from "../../ui/toast.tsx";
import type { TraceBench } from "./use-trace.ts";

const Line = styled.div`
  display: flex;
  flex-wrap: wrap;
  gap: var(--s2) var(--s4);
  align-items: center;
`;

/**
 * The colours drawn where the leads of the latest reading stood. A wire of another colour means that the reading tells of another wire than the diagram says: it is set aside.
 * On a simulated vehicle the colour is looked at, on a real one it is said; where a test is proposed its own buttons say it before the reading.
 */
export function LeadColours({ bench }: { bench: TraceBench }) {
  const { harness, job, state, hands } = bench;
  const latest = job.view.readings.findLast((r) => r.struck === undefined);
  if (latest === undefined || bench.closed || (hands.look === undefined && bench.advised)) return null;
  const places = colouredLeads(harness, observedBy(latest.data.leads));
  if (places.length === 0) return null;
  return (
    <Line aria-label="Wire colours">
      {places.map((at) => {
        const compared = job.view.seen.findLast(
          ({ struck, data: { observe: o } }) =>
            struck === undefined && o.kind === "check" && o.what === WIRE_COLOUR && cavityIn(o.at) === cavityIn(at),
        );
        const observe = { kind: "check", at, what: WIRE_COLOUR } as const;
        const compare = (): void => {
          if (hands.look === undefined) return hands.onSeen({ state, observe, word: "otherwise", wrong: false });
          void hands.look(state, observe, false).then((trouble) => {
            if (trouble !== undefined) toast(trouble);
          });
        };
        return (
          <span key={at}>
            <Faint>
              {at} drawn {coloursAt(harness, at).join(", ")}
            </Faint>{" "}
            {compared === undefined ? (
              <Button onPress={compare}>
                {hands.look === undefined ? `${at} is not ${coloursAt(harness, at).join(", ")}` : "Compare colour"}
              </Button>
            ) : compared.data.word === "otherwise" ? (
              <strong>another colour on the vehicle: readings here are set aside</strong>
            ) : (
              <Faint>as drawn</Faint>
            )}
          </span>
        );
      })}
    </Line>
  );
}
