import { useState } from "react";
import { Controller, useForm } from "react-hook-form";
import { styled } from "styled-components";
import { REST_STATE } from "@rheonom/core/circuit";
import { lookupOf, parsePlace, type Harness } from "@rheonom/core/harness";
import { refusalsOf, type Act } from "@rheonom/core/instruments";
import { cautionsFor, openTray, TEMPORARY_KINDS, trayInModel, type JobView, type TemporaryKind, type TrayItem } from "@rheonom/core/job";
import { Button, Toggle } from "../ui/button.tsx";
import { Dialog } from "../ui/dialog.tsx";
import { OneLineForm, TextInput } from "../ui/form.tsx";
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
    <Dialog title="Temporary changes" isOpen={isOpen} onClose={onClose} wide>
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
  if (open.length === 0) return <Faint>Nothing is unplugged, pulled, jumpered or pierced.</Faint>;
  const explain = (target: string, why: string): undefined => {
    record({ type: "temporary-explained", data: { target, why } });
    setExplaining(undefined);
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
            <OneLineForm
              label="Why does it stay in place?"
              words="Leave in place"
              onSubmit={(why) => explain(t.id, why)}
              maxLength={300}
              autoFocus
              grow
            />
          ) : (
            <>
              <Button
                look="solid"
                onPress={() => record({ type: "temporary-undone", data: { target: t.id } })}
                aria-label={`Put back: ${trayWords(t)}`}
              >
                Put back
              </Button>
              <Button onPress={() => setExplaining(t.id)} aria-label={`Leave in place: ${trayWords(t)}`}>
                Leave in place …
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

interface Added {
  readonly kind: TemporaryKind;
  readonly at: string;
  readonly to: string;
  readonly note: string;
  readonly fused: boolean;
}
const NOTHING_ADDED: Added = { kind: "unplugged", at: "", to: "", note: "", fused: true };

/** What is said of a change that rules are against: whose harm it is, and what to do instead. */
interface Against {
  readonly reason: string;
  readonly message: string;
  /** A rule that is about equipment only may be set aside; that stands in the log. */
  readonly mayBe: boolean;
}

/** What is missing in what was typed, else undefined. */
const missingIn = ({ kind, at, to }: Added): string | undefined =>
  at.trim() === ""
    ? "Name what was changed, such as C12, F3 or W5."
    : TWO_ENDED.includes(kind) && to.trim() === ""
      ? `A ${kind === "jumpered" ? "jumper" : "lamp"} has two ends. Name the other one too.`
      : undefined;

/** The change as the log takes it, by the names of the circuit. */
function changeFrom(
  harness: Harness | undefined,
  { kind, at, to }: Added,
): { readonly kind: TemporaryKind; readonly at: string; readonly to: string } {
  return { kind, at: placeName(harness, at), to: TWO_ENDED.includes(kind) ? placeName(harness, to) : "" };
}

/** What a rule has against it; undefined when nothing has. */
function againstIn(harness: Harness | undefined, view: JobView, added: Added): Against | undefined {
  if (harness === undefined) return undefined;
  const { kind, at, to } = changeFrom(harness, added);
  const state = { ...REST_STATE, ...trayInModel(harness, view) };
  const refused = refusalsOf(harness, state, actOf(kind, at, to, added.fused))[0];
  if (refused === undefined) return undefined;
  return { reason: refused.reason, message: `${refused.reason} Instead: ${refused.instead}`, mayBe: refused.harm !== "people" };
}

const isInModel = (harness: Harness, name: string): boolean =>
  lookupOf(harness).parts.has(name) || lookupOf(harness).wires.has(name) || parsePlace(harness, name).kind === "place";

function AddForm({ view, harness, record }: TrayProps) {
  const { control, handleSubmit, reset, setError, watch } = useForm({ defaultValues: NOTHING_ADDED });
  const [against, setAgainst] = useState<Against | undefined>(undefined);
  const { kind, at } = watch();
  const twoEnded = TWO_ENDED.includes(kind);
  const cautions = cautionsFor({ kind: "temporary", temporary: kind }, harness);
  const add = (added: Added, anyway: boolean): void => {
    setAgainst(undefined);
    const missing = missingIn(added);
    if (missing !== undefined) return setError("at", { message: missing });
    const found = againstIn(harness, view, added);
    if (found !== undefined && !(anyway && found.mayBe)) {
      setError("at", { message: found.message });
      if (found.mayBe) setAgainst(found);
      return;
    }
    const words = [added.note.trim(), found === undefined ? "" : `done all the same: ${found.reason}`].filter(Boolean).join("; ");
    record({ type: "temporary-made", data: { ...changeFrom(harness, added), note: words.slice(0, 300) } });
    reset({ ...NOTHING_ADDED, kind: added.kind, fused: added.fused });
  };
  return (
    <Form onSubmit={(e) => void handleSubmit((added) => add(added, false))(e)} noValidate>
      <h3>Add what you change, as you change it</h3>
      <Row style={{ alignItems: "end" }}>
        <Controller
          control={control}
          name="kind"
          render={({ field }) => (
            <Select label="What" options={TEMPORARY_KINDS.map((k) => ({ id: k, text: k }))} value={field.value} onChange={field.onChange} />
          )}
        />
        <TextInput control={control} name="at" label={twoEnded ? "From" : "Where"} placeholder="C12, F3, W5" mono maxLength={80} />
        {twoEnded ? <TextInput control={control} name="to" label="To" placeholder="F3.2" mono maxLength={80} /> : null}
        {kind === "jumpered" ? (
          <Controller
            control={control}
            name="fused"
            render={({ field }) => (
              <Toggle isSelected={field.value} onChange={field.onChange}>
                {field.value ? "through a fuse" : "without a fuse"}
              </Toggle>
            )}
          />
        ) : null}
        <TextInput control={control} name="note" label="Note" maxLength={300} grow />
        <Button look="solid" type="submit">
          Add
        </Button>
        {against === undefined ? null : <Button onPress={() => void handleSubmit((added) => add(added, true))()}>Record anyway</Button>}
      </Row>
      {at.trim() !== "" && harness !== undefined && !isInModel(harness, placeName(harness, at)) ? (
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
