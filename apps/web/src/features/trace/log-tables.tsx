import { useMemo, useState } from "react";
import { format } from "date-fns";
import { describeState } from "@rheonom/core/circuit";
import type { Harness } from "@rheonom/core/harness";
import { describeEvent, describeLeads, fitsBand, meterWords, type JobView, type LogEntry, type ReadingView } from "@rheonom/core/job";
import type { EventBody } from "../../job/record.ts";
import { bandWords } from "../../job/shelf/shelf-words.ts";
import { useShelf, useShelfOf } from "../../job/shelf/use-shelf.ts";
import { Button } from "../../ui/button.tsx";
import { Dialog } from "../../ui/dialog.tsx";
import { OneLineForm } from "../../ui/form.tsx";
import { Faint, Hidden } from "../../ui/layout.tsx";
import { ShowMore, useMoreRows } from "../../ui/more-rows.tsx";
import { Table } from "../../ui/table.tsx";

/** All readings of the job, latest first; a wrong one is struck, never changed. */
export function ReadingsTable({
  harness,
  view,
  unsaved,
  record,
}: {
  harness: Harness;
  view: JobView;
  unsaved: ReadonlySet<string>;
  record: (body: EventBody) => void;
}) {
  const [striking, setStriking] = useState<ReadingView | undefined>(undefined);
  const latestFirst = useMemo(() => view.readings.toReversed(), [view.readings]);
  const { shown, ...more } = useMoreRows(latestFirst);
  const goods = useShelfOf(view);
  if (view.readings.length === 0)
    return <Faint>No reading yet. Begin with the battery: red on +, black on −, key as it is when the fault shows.</Faint>;
  return (
    <>
      <Table>
        <caption>
          <Hidden>Readings</Hidden>
        </caption>
        <thead>
          <tr>
            <th scope="col">Time</th>
            <th scope="col">Leads</th>
            <th scope="col" className="n">
              Reading
            </th>
            <th scope="col">State</th>
            {goods.length === 0 ? null : <th scope="col">Good ones</th>}
            <th scope="col">By</th>
            <th scope="col">
              <Hidden>Strike</Hidden>
            </th>
          </tr>
        </thead>
        <tbody>
          {shown.map((r) => (
            <tr key={r.id} data-struck={r.struck === undefined ? undefined : true}>
              <td>{format(new Date(r.at), "HH:mm")}</td>
              <td>
                {describeLeads(r.data.leads)}
                {r.data.instrument === "worked out" ? <Faint> (worked out)</Faint> : null}
                {r.data.meter === undefined ? null : (
                  <>
                    <br />
                    <Faint>{meterWords(r)}</Faint>
                  </>
                )}
              </td>
              <td className="n">
                {r.data.text}
                {unsaved.has(r.id) ? " ·" : ""}
                {unsaved.has(r.id) ? <Hidden>not sent yet</Hidden> : null}
              </td>
              <td>{describeState(r.data.state, harness)}</td>
              {goods.length === 0 ? null : (
                <td>
                  <GoodOnes reading={r} view={view} record={record} />
                </td>
              )}
              <td>{r.by}</td>
              <td>
                {r.struck === undefined && view.closed === undefined ? (
                  <Button look="quiet" onPress={() => setStriking(r)} aria-label={`Strike ${describeLeads(r.data.leads)} ${r.data.text}`}>
                    Strike
                  </Button>
                ) : (
                  r.struck
                )}
              </td>
            </tr>
          ))}
        </tbody>
      </Table>
      <ShowMore {...more} />
      <StrikeDialog
        what={striking === undefined ? undefined : `${describeLeads(striking.data.leads)}: ${striking.data.text}`}
        onClose={() => setStriking(undefined)}
        onStrike={(why) => {
          if (striking !== undefined) record({ type: "struck", data: { target: striking.id, why } });
        }}
      />
    </>
  );
}

/** What good vehicles showed at the place of a reading, and a note in the log that it was held against them. */
function GoodOnes({ reading, view, record }: { reading: ReadingView; view: JobView; record: (body: EventBody) => void }) {
  const { leads, state, shown, text } = reading.data;
  const shelf = useShelf(view, leads, state);
  if (shelf?.band === undefined)
    return shelf === undefined || shelf.other.length === 0 ? null : <Faint>{shelf.other.length} of other options or states</Faint>;
  const words = bandWords(leads.quantity, shelf.band);
  const isUsed = shelf.like.some((i) => view.goodsUsed.includes(i.id));
  return (
    <>
      {shown.kind !== "value" ? null : fitsBand(shelf.band, shown.value) ? "fits" : <strong>does not fit</strong>} <Faint>{words}</Faint>
      {isUsed || view.closed !== undefined ? null : (
        <Button
          look="quiet"
          aria-label={`Note the good ones beside ${describeLeads(leads)} ${text}`}
          onPress={() =>
            record({
              type: "known-good-used",
              data: {
                items: shelf.like.slice(-MOST_NOTED).map((i) => i.id),
                what: `${describeLeads(leads)}: ${text}; good ones ${words}`.slice(0, 200),
              },
            })
          }
        >
          Note
        </Button>
      )}
    </>
  );
}
const MOST_NOTED = 50;

function StrikeDialog({ what, onClose, onStrike }: { what: string | undefined; onClose: () => void; onStrike: (why: string) => void }) {
  return (
    <Dialog title="Strike this reading" isOpen={what !== undefined} onClose={onClose}>
      <p>{what} stays in the log, struck through, and no longer counts.</p>
      <OneLineForm
        label="Why?"
        words="Strike it"
        solid
        initial="mistyped"
        onSubmit={(why) => {
          onStrike(why);
          onClose();
          return undefined;
        }}
        maxLength={300}
        autoFocus
        stacked
      >
        <Button onPress={onClose}>Cancel</Button>
      </OneLineForm>
    </Dialog>
  );
}

/** The whole log in words, latest first. */
export function LogList({ events, unsaved }: { events: readonly LogEntry[]; unsaved: ReadonlySet<string> }) {
  const latestFirst = useMemo(() => events.toReversed(), [events]);
  const { shown, ...more } = useMoreRows(latestFirst);
  return (
    <>
      <Table>
        <caption>
          <Hidden>Log of the job</Hidden>
        </caption>
        <tbody>
          {shown.map((e) => (
            <tr key={e.id}>
              <td style={{ whiteSpace: "nowrap" }}>{format(new Date(e.at), "d MMM HH:mm")}</td>
              <td>
                {e.type === "unreadable" ? <Unreadable entry={e} /> : describeEvent(e)}{" "}
                {unsaved.has(e.id) ? <Faint>not sent yet</Faint> : null}
              </td>
              <td>{e.by}</td>
            </tr>
          ))}
        </tbody>
      </Table>
      <ShowMore {...more} />
    </>
  );
}

/** What the server cannot read stands in its place, as it is. */
function Unreadable({ entry }: { entry: Extract<LogEntry, { type: "unreadable" }> }) {
  return (
    <details>
      <summary>
        <strong>Entry cannot be read</strong> <Faint>({entry.why}). It counts for nothing; the rest of the log is not affected.</Faint>
      </summary>
      <pre style={{ whiteSpace: "pre-wrap", overflowWrap: "anywhere" }}>{entry.raw}</pre>
    </details>
  );
}
