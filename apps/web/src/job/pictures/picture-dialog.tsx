import { useRef, useState, type KeyboardEvent } from "react";
import { Trash2, Undo2 } from "lucide-react";
import { styled } from "styled-components";
import { MOST_MARKS, type PictureView as Picture } from "@rheonom/core/job";
import { Button } from "../../ui/button.tsx";
import { Dialog } from "../../ui/dialog.tsx";
import { Field } from "../../ui/field.tsx";
import { Faint, Row } from "../../ui/layout.tsx";
import { Segmented } from "../../ui/segmented.tsx";
import { useJobContext } from "../job-context.ts";
import { MarksCanvas } from "./marks-canvas.tsx";
import { drawnMark, moved, scaled, withMark, withoutChosen, type Layer, type MarkTool } from "./marks-model.ts";

const Frame = styled.div`
  display: grid;
  justify-content: center;
  outline-offset: 2px;
`;
const TOOLS: readonly { readonly id: MarkTool; readonly text: string }[] = [
  { id: "arrow", text: "Arrow" },
  { id: "circle", text: "Circle" },
  { id: "words", text: "Words" },
];
/** Room around the canvas in a sheet, px. */
const ASIDE = 78;
const WIDEST = 720;
const NUDGE = 0.01;
const GROW = 1.15;
const MOVES: Readonly<Record<string, readonly [number, number]>> = {
  ArrowLeft: [-NUDGE, 0],
  ArrowRight: [NUDGE, 0],
  ArrowUp: [0, -NUDGE],
  ArrowDown: [0, NUDGE],
};

/** Marks over a picture: they lie on a layer of their own, which can be changed as long as the job is open. */
export default function PictureDialog({ picture, onClose }: { picture: Picture; onClose: () => void }) {
  const { record } = useJobContext();
  const { data } = picture;
  const [history, setHistory] = useState<readonly Layer[]>([{ marks: picture.marks, chosen: undefined }]);
  const [tool, setTool] = useState<MarkTool>("arrow");
  const [text, setText] = useState("");
  const frame = useRef<HTMLDivElement>(null);
  const layer = history.at(-1)!;
  const room = { width: Math.min(WIDEST, window.innerWidth - ASIDE), height: window.innerHeight * 0.5 };
  const fit = Math.min(room.width / data.width, room.height / data.height);
  const [width, height] = [Math.round(data.width * fit), Math.round(data.height * fit)];
  const change = (next: Layer): void => {
    if (next.marks.length > MOST_MARKS) return;
    // Choosing another one is nothing to undo.
    setHistory((h) => (next.marks === h.at(-1)!.marks ? [...h.slice(0, -1), next] : [...h, next]));
  };
  const onKey = (e: KeyboardEvent): void => {
    const move = MOVES[e.key];
    if (move !== undefined && layer.chosen !== undefined) change(moved(layer, ...move));
    else if (e.key === "+" || e.key === "=") change(scaled(layer, GROW));
    else if (e.key === "-") change(scaled(layer, 1 / GROW));
    else if ((e.key === "Delete" || e.key === "Backspace") && layer.chosen !== undefined) change(withoutChosen(layer));
    else if (e.key === "Enter") addInMiddle();
    else return;
    e.preventDefault();
  };
  const addInMiddle = (): void => {
    const made = drawnMark(tool, [0.5, 0.5], [0.5, 0.5], text);
    if (made !== undefined) change(withMark(layer, made));
    frame.current?.focus();
  };
  const keep = (): void => {
    if (layer.marks !== picture.marks) record({ type: "picture-marked", data: { target: picture.id, marks: [...layer.marks] } });
    onClose();
  };
  return (
    <Dialog title={`Picture ${data.when} the repair${data.at === "" ? "" : `: ${data.at}`}`} isOpen onClose={onClose} wide>
      <Row style={{ alignItems: "end" }}>
        <Segmented label="Mark with" hideLabel options={TOOLS} value={tool} onChange={setTool} />
        {tool === "words" ? <Field label="Words" value={text} onChange={setText} maxLength={120} grow autoFocus /> : null}
        <Button onPress={addInMiddle} isDisabled={tool === "words" && text.trim() === ""}>
          Add in the middle
        </Button>
      </Row>
      <Frame
        ref={frame}
        // The canvas itself takes no keys: they move what is chosen on it.
        tabIndex={0}
        role="application"
        aria-label={`Marks, ${layer.marks.length}. Enter adds one, arrow keys move it, plus and minus size it, Delete takes it off.`}
        onKeyDown={onKey}
      >
        <MarksCanvas
          picture={{ ...data, marks: layer.marks }}
          layer={layer}
          tool={tool}
          text={text}
          width={width}
          height={height}
          onLayer={change}
        />
      </Frame>
      <Row style={{ justifyContent: "space-between" }}>
        <Row>
          <Button isDisabled={history.length === 1} onPress={() => setHistory((h) => h.slice(0, -1))}>
            <Undo2 size={18} aria-hidden /> Undo
          </Button>
          <Button isDisabled={layer.chosen === undefined} onPress={() => change(withoutChosen(layer))}>
            <Trash2 size={18} aria-hidden /> Take off
          </Button>
        </Row>
        <Row>
          <Button onPress={onClose}>Cancel</Button>
          <Button look="solid" onPress={keep}>
            Keep marks
          </Button>
        </Row>
      </Row>
      <Faint>
        Drag to draw. Tap a mark to choose it, drag it to move it.
        {tool === "words" ? " Write the words first, then tap where they belong." : ""}
      </Faint>
    </Dialog>
  );
}
