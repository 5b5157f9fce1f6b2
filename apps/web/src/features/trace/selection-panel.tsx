import { useState, type ReactNode } from "react";
import { Controller, useForm } from "react-hook-form";
import { styled } from "styled-components";
import { describeLink, describePlace, type Harness, linksOf, partNameIn } from "@rheonom/core/harness";
import { inWords, type Standing } from "@rheonom/core/diagnosis";
import type { Prediction } from "@rheonom/core/instruments";
import { formatAmps, formatVolts } from "@rheonom/core/quantity";
import { FOUND_KINDS, type EventOf } from "@rheonom/core/job";
import { reachWords } from "../../drawing/reach-words.ts";
import { Button } from "../../ui/button.tsx";
import { Dialog } from "../../ui/dialog.tsx";
import { FormStack, TextInput } from "../../ui/form.tsx";
import { Faint, Row } from "../../ui/layout.tsx";
import { Segmented } from "../../ui/segmented.tsx";

const Box = styled.section`
  border-top: 1px solid var(--line);
  padding: var(--s2) var(--s3);
  display: grid;
  gap: var(--s1);
  font-size: 0.9375rem;
`;

export interface SelectionPanelProps {
  readonly harness: Harness;
  /** A place or a link. */
  readonly selected: string | undefined;
  readonly sound: Prediction | undefined;
  /** Measured potential of a place against battery negative, V. */
  readonly measured: ReadonlyMap<string, number>;
  /** Where it stands among the suspects; undefined before anything is suspected. */
  readonly standing: Standing | undefined;
  readonly onAcross: (red: string, black: string) => void;
  /** Keeps what is otherwise on the vehicle; undefined when the job takes no more entries. */
  readonly onFound: ((data: Found) => void) | undefined;
  /** What can be worked out of it. */
  readonly workOut: ReactNode;
  /** Looks at it on the simulated vehicle; undefined for a real one. */
  readonly onLook: ((at: string) => void) | undefined;
}

type Found = EventOf<"found-different">["data"];

/** What is selected: what it is, where, what it should read and what was read. */
export function SelectionPanel({ harness, selected, sound, measured, standing, onAcross, onFound, workOut, onLook }: SelectionPanelProps) {
  if (selected === undefined) return null;
  const link = linksOf(harness).find((l) => l.id === selected);
  const owner = harness.components.find((c) => c.id === partNameIn(selected));
  if (link === undefined) {
    const place = selected;
    const volts = sound?.volts.get(place);
    const read = measured.get(place);
    return (
      <Box aria-label="Selected">
        <strong>
          {selected}: {describePlace(harness, place)}
        </strong>
        <Reach harness={harness} name={selected} />
        <span>
          expected {volts === undefined ? "floats in this state" : formatVolts(volts)}
          {read === undefined ? "" : `, measured ${formatVolts(read)}`}
        </span>
        <WhereItStands standing={standing} />
        <Row>
          {workOut} <LookButton at={owner?.id ?? selected} onLook={onLook} />
          {onFound === undefined ? null : <FoundDifferent harness={harness} at={owner?.id ?? selected} onFound={onFound} />}
        </Row>
      </Box>
    );
  }
  const amps = sound?.amps.get(link.id) ?? 0;
  const [from, to] = amps < 0 ? [link.b, link.a] : [link.a, link.b];
  const high = sound?.volts.get(from);
  const low = sound?.volts.get(to);
  return (
    <Box aria-label="Selected">
      <strong>{describeLink(harness, link)}</strong>
      <Reach harness={harness} name={selected} />
      <span>
        expected: {formatAmps(Math.abs(amps))}
        {high === undefined || low === undefined ? "" : `, drops ${formatVolts(high - low)}`}
      </span>
      <WhereItStands standing={standing} />
      <Row>
        <Button onPress={() => onAcross(from, to)}>Measure across it</Button> {workOut} <LookButton at={link.id} onLook={onLook} />
        {onFound === undefined ? null : (
          <FoundDifferent harness={harness} at={link.kind === "wire" ? link.id : (owner?.id ?? link.id)} onFound={onFound} />
        )}
      </Row>
    </Box>
  );
}

function LookButton({ at, onLook }: { at: string; onLook: SelectionPanelProps["onLook"] }) {
  return onLook === undefined ? null : <Button onPress={() => onLook(at)}>Look at {at}</Button>;
}

/** Where it is and how to reach it. */
function Reach({ harness, name }: { harness: Harness; name: string }) {
  return reachWords(harness, name).map((line) => <Faint key={line}>{line}</Faint>);
}

/** Why it is, or is not, among the suspects. */
function WhereItStands({ standing }: { standing: Standing | undefined }) {
  if (standing === undefined) return null;
  return (
    <div>
      {standing.words}
      {standing.because.map((r) => (
        <div key={r.evidence}>
          <Faint>
            {r.words}: {inWords(r.measured)}, predicted {inWords(r.predicted)}
          </Faint>
        </div>
      ))}
    </div>
  );
}

const KINDS = FOUND_KINDS.map((id) => ({ id, text: id }));

/** A note that something is otherwise on the vehicle than drawn. It stays with the job. */
function FoundDifferent({ harness, at, onFound }: { harness: Harness; at: string; onFound: (data: Found) => void }) {
  const [isOpen, setOpen] = useState(false);
  const { control, handleSubmit, reset, watch } = useForm<Pick<Found, "what" | "found">>({ defaultValues: { what: "colour", found: "" } });
  const { what, found } = watch();
  const drawn = drawnAs(harness, at, what);
  const keep = (said: Pick<Found, "what" | "found">): void => {
    if (said.found.trim() === "") return;
    onFound({ at, what: said.what, drawn, found: said.found.trim() });
    reset();
    setOpen(false);
  };
  return (
    <>
      <Button onPress={() => setOpen(true)}>Differs from diagram</Button>
      <Dialog title={`${at} is different on the vehicle`} isOpen={isOpen} onClose={() => setOpen(false)}>
        <FormStack onSubmit={(e) => void handleSubmit(keep)(e)}>
          <Controller
            control={control}
            name="what"
            render={({ field }) => <Segmented label="What" options={KINDS} value={field.value} onChange={field.onChange} />}
          />
          {drawn === "" ? null : <Faint>drawn: {drawn}</Faint>}
          <TextInput
            control={control}
            name="found"
            label="Found"
            placeholder={what === "colour" ? "BK/WH" : what === "cavity" ? "C12.5" : ""}
            maxLength={200}
            autoFocus
          />
          <Row style={{ justifyContent: "flex-end" }}>
            <Button onPress={() => setOpen(false)}>Cancel</Button>
            <Button look="solid" type="submit" isDisabled={found.trim() === ""}>
              Save note
            </Button>
          </Row>
        </FormStack>
      </Dialog>
    </>
  );
}

/** What the diagram says, for the note. */
function drawnAs(harness: Harness, at: string, what: Found["what"]): string {
  const wire = harness.wires.find((w) => w.id === at);
  const part = harness.components.find((c) => c.id === at);
  switch (what) {
    case "colour":
      return wire?.colour ?? "";
    case "cavity":
      return wire === undefined ? "" : `${wire.from.component}.${wire.from.pin} to ${wire.to.component}.${wire.to.pin}`;
    case "place":
      return part?.at ?? part?.zone ?? "";
    case "rating":
      return part?.kind === "fuse" ? `${part.ratingAmps} A` : "";
    case "other":
      return "";
  }
}
