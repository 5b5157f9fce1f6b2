import { memo, useEffect, useState } from "react";
import type { Remote } from "comlink";
import { styled } from "styled-components";
import { Check } from "../../ui/check.tsx";
import { Button } from "../../ui/button.tsx";
import { Faint, Hidden, Row } from "../../ui/layout.tsx";
import { ShowMore, useMoreRows } from "../../ui/more-rows.tsx";
import { Notice } from "../../ui/notice.tsx";
import { Select } from "../../ui/select.tsx";
import { Table } from "../../ui/table.tsx";
import { useSame } from "../../worker/use-query.ts";
import type { BenchWorker, TraceShape } from "./bench.worker.ts";
import type { Decoded, Decoding } from "./decode.ts";
import { scaled } from "./scope-model.ts";

const FrameTable = styled(Table)`
  td {
    vertical-align: middle;
    padding-block: 0;
  }
`;

export interface DecodePanelProps {
  readonly shape: TraceShape;
  readonly factors: readonly number[];
  readonly worker: Remote<BenchWorker>;
  /** Who sends the frames of an identifier, where that is known. */
  readonly senders: ReadonlyMap<number, string>;
  /** Shows a frame on the chart. */
  readonly onShow: (from: number, to: number) => void;
}

interface Way {
  readonly id: string;
  readonly text: string;
  readonly decoding: Decoding | undefined;
}

/** How the channels of a trace can be read. */
function waysOf({ channels }: TraceShape): readonly Way[] {
  const name = (i: number): string => `${i + 1} ${channels[i]!.name}`;
  const each = channels.map((_, i) => i);
  return [
    { id: "none", text: "nothing", decoding: undefined },
    ...each.map((i): Way => ({ id: `lin ${i}`, text: `LIN, ${name(i)}`, decoding: { kind: "lin", channel: i } })),
    ...each.flatMap((i) =>
      each.flatMap((k): Way[] =>
        i === k ? [] : [{ id: `can ${i} ${k}`, text: `CAN, high ${name(i)}, low ${name(k)}`, decoding: { kind: "can", high: i, low: k } }],
      ),
    ),
    ...each.flatMap((i): Way[] => [
      { id: `diff ${i}`, text: `CAN, difference in ${name(i)}`, decoding: { kind: "can difference", channel: i } },
      { id: `rx ${i}`, text: `CAN, logic level ${name(i)}`, decoding: { kind: "can receiver", channel: i } },
    ]),
  ];
}

/** Frames of a bus in the trace, each tied to its place in it. */
export const DecodePanel = memo(function DecodePanel({ shape, factors, worker, senders, onShow }: DecodePanelProps) {
  const ways = waysOf(shape);
  const [chosen, setChosen] = useState("none");
  const way = ways.find((w) => w.id === chosen) ?? ways[0]!;
  const [result, setResult] = useState<{ readonly of: object; readonly value: Decoded | string } | undefined>(undefined);
  const [onlyBad, setOnlyBad] = useState(false);
  const { decoding } = way;
  const asked = useSame({ decoding, factors, shape });
  useEffect(() => {
    if (asked.decoding === undefined) return;
    let over = false;
    worker.decoded(asked.decoding, asked.factors).then(
      (value) => over || setResult({ of: asked, value }),
      (error: unknown) => over || setResult({ of: asked, value: error instanceof Error ? error.message : String(error) }),
    );
    return () => void (over = true);
  }, [worker, asked]);
  const shown = result?.of === asked ? result.value : undefined;
  return (
    <section aria-label="Bus">
      <Row style={{ alignItems: "end" }}>
        <Select label="Read as a bus" options={ways} value={way.id} onChange={setChosen} />
        {decoding === undefined ? null : shown === undefined ? (
          <span role="status">Reading …</span>
        ) : typeof shown === "string" ? (
          <span role="alert">{shown}</span>
        ) : (
          <>
            <span>
              <strong>
                {shown.frames} {shown.frames === 1 ? "frame" : "frames"}, {shown.bad} bad
              </strong>{" "}
              <Faint>{shown.baud === undefined ? "" : scaled(shown.baud, "bit/s", 3)}</Faint>
            </span>
            {shown.bad > 0 ? (
              <Check isSelected={onlyBad} onChange={setOnlyBad}>
                Bad ones only
              </Check>
            ) : null}
          </>
        )}
      </Row>
      {decoding === undefined || shown === undefined || typeof shown === "string" ? null : (
        <Frames key={way.id + String(onlyBad)} decoded={shown} onlyBad={onlyBad && shown.bad > 0} senders={senders} onShow={onShow} />
      )}
    </section>
  );
});

/** Remarks on the line that are shown at most. */
const MOST_REMARKS = 6;

interface FramesProps extends Pick<DecodePanelProps, "senders" | "onShow"> {
  readonly decoded: Decoded;
  readonly onlyBad: boolean;
}

function Frames({ decoded, onlyBad, senders, onShow }: FramesProps) {
  const { shown, left, showMore } = useMoreRows(onlyBad ? decoded.rows.filter((r) => r.wrong !== "") : decoded.rows);
  return (
    <>
      {decoded.remarks.slice(0, MOST_REMARKS).map((words) => (
        <Notice key={words} tone="info">
          {words}
        </Notice>
      ))}
      {shown.length === 0 ? null : (
        <FrameTable>
          <caption>
            <Hidden>Frames</Hidden>
          </caption>
          <thead>
            <tr>
              <th scope="col">Time</th>
              <th scope="col">Identifier</th>
              <th scope="col">Data</th>
              <th scope="col">What is wrong</th>
              <th scope="col">
                <Hidden>Show</Hidden>
              </th>
            </tr>
          </thead>
          <tbody>
            {shown.map((r) => (
              <tr key={r.from}>
                <td className="n">{scaled(r.startS, "s", 6)}</td>
                <td style={{ fontFamily: "var(--mono)" }}>
                  {r.name} <Faint>{senders.get(Number(r.name)) ?? ""}</Faint>
                </td>
                <td style={{ fontFamily: "var(--mono)" }}>
                  {r.data} <Faint>{r.note}</Faint>
                </td>
                <td>{r.wrong === "" ? "–" : <strong>{r.wrong}</strong>}</td>
                <td>
                  <Button look="quiet" onPress={() => onShow(r.from, r.to)} aria-label={`Show ${r.name} at ${scaled(r.startS, "s", 6)}`}>
                    Show
                  </Button>
                </td>
              </tr>
            ))}
          </tbody>
        </FrameTable>
      )}
      <ShowMore left={left} showMore={showMore} what="later ones" />
    </>
  );
}
