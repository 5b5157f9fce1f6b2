import { useState, type FormEvent } from "react";
import { styled } from "styled-components";
import { REST_STATE } from "@rheonom/core/circuit";
import { parsePlace, type Harness } from "@rheonom/core/harness";
import { refusalsOf, type Act } from "@rheonom/core/instruments";
import { cautionsFor, openTray, TEMPORARY_KINDS, trayInModel, type JobView, type TemporaryKind, type TrayItem } from "@rheonom/core/job";
import { Button, Toggle } from "../ui/button.tsx";
import { Dialog } from "../ui/dialog.tsx";
import { Field } from "../ui/field.tsx";
import { Select } from "../ui/select.tsx";
import { Faint, Row } from "../ui/layout.tsx";
import { Notice } from "../ui/notice.tsx";
import type { EventBody } from "./record.ts";

const List = styled.ul`
  list-style: none;
  margin: 0;
  padding: 0;
  display: grid;
  gap: var(--s2);
`;
const Item = styled.li`
  display: flex;
  flex-wrap: wrap;
  gap: var(--s2);
  align-items: center;
  padding: var(--s2) 0;
  border-bottom: 1px solid var(--line);
  & > span {
    flex: 1 1 200px;
  }
`;
const Form = styled.form`
  display: grid;
  gap: var(--s3);
  border-top: 1px solid var(--line);
  padding-top: var(--s4);
`;

export const trayWords = (t: Pick<TrayItem, "place" | "kind" | "to" | "note">): string =>
  `${t.place} ${t.kind}${t.to === "" ? "" : ` to ${t.to}`}${t.note === "" ? "" : ` – ${t.note}`}`;

export interface TrayProps {
  readonly view: JobView;
  readonly harness: Harness | undefined;
  readonly record: (body: EventBody) => void;
}

/** What is temporarily changed on the vehicle. Unplugged, pulled and jumpered things count in the model too. */
export function TrayDialog({ isOpen, onClose, ...props }: TrayProps & { isOpen: boolean; onClose: () => void }) {
  return (
    <Dialog title="Left undone" isOpen={isOpen} onClose={onClose} wide>
      <TrayList {...props} />
      {props.view.closed === undefined ? <AddForm {...props} /> : null}
      <Row>
        <Button onPress={onClose}>Close</Button>
      </Row>
    </Dialog>
  );
}

/** The open items, each with a way to end it. */
export function TrayList({ view, record }: TrayProps) {
  const open = openTray(view);
  const [explaining, setExplaining] = useState<string | undefined>(undefined);
  const [why, setWhy] = useState("");
  if (open.length === 0) return <Faint>Nothing is unplugged, pulled, jumpered or pierced.</Faint>;
  const explain = (event: FormEvent, id: string): void => {
    event.preventDefault();
    if (why.trim() === "") return;
    record({ type: "temporary-explained", data: { target: id, why: why.trim() } });
    setExplaining(undefined);
    setWhy("");
  };
  return (
    <List>
      {open.map((t) => (
        <Item key={t.id}>
          <span>
            <strong>{trayWords(t)}</strong>
            <br />
            <Faint>by {t.by}</Faint>
          </span>
          {explaining === t.id ? (
            <form onSubmit={(e) => explain(e, t.id)} style={{ display: "flex", gap: "var(--s2)", alignItems: "end", flex: "1 1 300px" }}>
              <Field label="Why does it stay?" value={why} onChange={setWhy} maxLength={300} autoFocus grow />
              <Button type="submit" isDisabled={why.trim() === ""}>
                Keep it
              </Button>
            </form>
          ) : (
            <>
              <Button
                look="solid"
                onPress={() => record({ type: "temporary-undone", data: { target: t.id } })}
                aria-label={`Undone: ${trayWords(t)}`}
              >
                Undone
              </Button>
              <Button onPress={() => setExplaining(t.id)} aria-label={`It stays: ${trayWords(t)}`}>
                It stays …
              </Button>
            </>
          )}
        </Item>
      ))}
    </List>
  );
}

/** A typed name as the circuit writes it; free words where the circuit does not know it. */
function placeName(harness: Harness | undefined, typed: string): string {
  const text = typed.trim();
  if (harness === undefined) return text;
  const part = harness.components.find((c) => c.id.toLowerCase() === text.toLowerCase())?.id;
  const wire = harness.wires.find((w) => w.id.toLowerCase() === text.toLowerCase())?.id;
  const place = parsePlace(harness, text);
  return part ?? wire ?? (place.kind === "place" ? place.place : text);
}

/** What a change does to the vehicle, for the rules that pins and zones set. */
function actOf(kind: TemporaryKind, at: string, to: string, fused: boolean): Act {
  switch (kind) {
    case "jumpered":
      return { kind: "jumper", places: [at, to], fused };
    case "lamp fitted":
      return { kind: "lamp", places: [at, to] };
    case "unplugged":
      return { kind: "unplug", places: [at] };
    case "pierced":
      return { kind: "pierce", places: [at] };
    case "pulled":
    case "cover off":
    case "other":
      return { kind: "touch", places: [at] };
  }
}

const TWO_ENDED: readonly TemporaryKind[] = ["jumpered", "lamp fitted"];

function AddForm({ view, harness, record }: TrayProps) {
  const [kind, setKind] = useState<TemporaryKind>("unplugged");
  const [at, setAt] = useState("");
  const [to, setTo] = useState("");
  const [note, setNote] = useState("");
  const [error, setError] = useState("");
  const [fused, setFused] = useState(true);
  /** A rule that is about equipment only may be set aside; that stands in the log. */
  const [against, setAgainst] = useState<string | undefined>(undefined);
  const twoEnded = TWO_ENDED.includes(kind);
  const cautions = cautionsFor({ kind: "temporary", temporary: kind }, harness);
  const name = placeName(harness, at);
  const inModel =
    harness !== undefined &&
    (harness.components.some((c) => c.id === name) ||
      harness.wires.some((w) => w.id === name) ||
      parsePlace(harness, name).kind === "place");
  const submit = (event: FormEvent | undefined, anyway = false): void => {
    event?.preventDefault();
    setAgainst(undefined);
    if (at.trim() === "") return setError("Name what was changed, such as C12, F3 or W5.");
    if (twoEnded && to.trim() === "") return setError(`A ${kind === "jumpered" ? "jumper" : "lamp"} has two ends. Name the other one too.`);
    const other = twoEnded ? placeName(harness, to) : "";
    const state = { ...REST_STATE, ...(harness === undefined ? {} : trayInModel(harness, view)) };
    const refused = harness === undefined ? undefined : refusalsOf(harness, state, actOf(kind, name, other, fused))[0];
    if (refused !== undefined && (refused.harm === "people" || !anyway)) {
      setError(`${refused.reason} Instead: ${refused.instead}`);
      if (refused.harm === "equipment") setAgainst(refused.reason);
      return;
    }
    const words = [note.trim(), refused === undefined ? "" : `done all the same: ${refused.reason}`].filter(Boolean).join("; ");
    record({ type: "temporary-made", data: { kind, at: name, to: other, note: words.slice(0, 300) } });
    setAt("");
    setTo("");
    setNote("");
    setError("");
  };
  return (
    <Form onSubmit={submit} noValidate>
      <h3>Add what you change, as you change it</h3>
      <Row style={{ alignItems: "end" }}>
        <Select label="What" options={TEMPORARY_KINDS.map((k) => ({ id: k, text: k }))} value={kind} onChange={setKind} />
        <Field
          label={twoEnded ? "From" : "Where"}
          value={at}
          onChange={setAt}
          error={error}
          placeholder="C12, F3, W5"
          mono
          maxLength={80}
        />
        {twoEnded ? <Field label="To" value={to} onChange={setTo} placeholder="F3.2" mono maxLength={80} /> : null}
        {kind === "jumpered" ? (
          <Toggle isSelected={fused} onChange={setFused}>
            {fused ? "through a fuse" : "without a fuse"}
          </Toggle>
        ) : null}
        <Field label="Note" value={note} onChange={setNote} maxLength={300} grow />
        <Button look="solid" type="submit">
          Add
        </Button>
        {against === undefined ? null : <Button onPress={() => submit(undefined, true)}>Done all the same</Button>}
      </Row>
      {at.trim() !== "" && !inModel && harness !== undefined ? (
        <Faint>“{at.trim()}” is not in the circuit: it is listed, but the expected values do not change.</Faint>
      ) : null}
      {cautions.map((c) => (
        <Notice key={c.id} tone="caution" title={c.title}>
          {c.text}
        </Notice>
      ))}
    </Form>
  );
}
