import { useImperativeHandle, useMemo, useRef, useState, type KeyboardEvent, type Ref } from "react";
import { styled } from "styled-components";
import type { VehicleState } from "@rheonom/core/circuit";
import { readWord, type Observable, type ResultWord } from "@rheonom/core/diagnosis";
import { describePlace, parsePlace, type Harness } from "@rheonom/core/harness";
import { METER_OHMS, refusalsOf, type Act as Doing, type Leads, type Reading } from "@rheonom/core/instruments";
import type { EventOf, JobView } from "@rheonom/core/job";
import { formatAmps, formatOhms, formatVolts } from "@rheonom/core/quantity";
import type { BenchDraft } from "../../job/bench.ts";
import { leadsOfMeter } from "../../job/instrument/live-reading.ts";
import type { MeterAtHand } from "../../job/instrument/use-meter.ts";
import { blackOf, clampedIn, leadsFor, leadsOnBench, readTyped } from "../../job/reading.ts";
import { bandWords } from "../../job/shelf/shelf-words.ts";
import { useShelf } from "../../job/shelf/use-shelf.ts";
import { Button } from "../../ui/button.tsx";
import { Field } from "../../ui/field.tsx";
import { Faint } from "../../ui/layout.tsx";
import { Segmented } from "../../ui/segmented.tsx";
import { session } from "../../worker/the-session.ts";
import { MeterStrip } from "./meter-strip.tsx";
import { useQuery } from "../../worker/use-query.ts";

const Line = styled.div`
  display: grid;
  grid-template-columns: minmax(110px, 1fr) minmax(110px, 1fr) minmax(120px, 1fr) auto auto;
  gap: var(--s2);
  align-items: start;
  @media (max-width: 760px) {
    grid-template-columns: 1fr 1fr;
  }
`;
const Choices = styled.div`
  display: flex;
  flex-wrap: wrap;
  gap: var(--s2);
  align-items: center;
`;
const Act = styled.div`
  padding-top: 26px;
  display: flex;
  gap: var(--s2);
`;

/** Stands for the place of a test that has none. */
export const NO_PLACE = "…";

const LIVE =
  "In this state there should be voltage between these places, and ohms on a live circuit prove nothing. Switch off and disconnect the feed, then set the state to what it is.";

/** "beep" and "no beep", as a meter on ohms may answer; undefined for anything else. */
function beepTyped(text: string): ResultWord | undefined {
  const read = readWord({ kind: "continuity", red: "", black: "" }, text);
  return read.kind === "word" ? read.word : undefined;
}

/** What is typed when a test is answered with a word: letters alone. */
const WORDS = /^[a-z]{2,}( [a-z]+)*$/i;

export type ReadingData = EventOf<"reading-taken">["data"];

export interface EntryHandle {
  /** `at` "end" puts the cursor behind what stands there instead of selecting it. */
  readonly focus: (field: "red" | "black" | "value", at?: "end") => void;
  readonly simulate: () => void;
  /** Records what a connected meter shows. */
  readonly takeMeter: () => void;
  /** A lead's place is being typed. */
  readonly isPlacing: () => boolean;
  /** The reading's own field has the focus. */
  readonly isReading: () => boolean;
}

export interface ReadingEntryProps {
  readonly ref: Ref<EntryHandle>;
  readonly harness: Harness;
  readonly view: JobView;
  readonly state: VehicleState;
  readonly draft: BenchDraft;
  readonly change: (change: Partial<BenchDraft>) => void;
  /** What an empty red field takes with Enter. */
  readonly proposal: { readonly text: string; readonly take: () => void } | undefined;
  /** Answers the proposed test with a word; with a message where it does not. */
  readonly sayWord: (typed: string) => string | undefined;
  readonly isDisabled: boolean;
  /** The meter beeped between two places, or did not. */
  readonly onBeep: (observe: Beeper, word: ResultWord) => void;
  readonly onReading: (data: Pick<ReadingData, "leads" | "text" | "shown" | "instrument" | "meter">) => void;
  /** A connected meter: what it shows is recorded where nothing is typed. */
  readonly meter: MeterAtHand | undefined;
  /** Asks the stand-in vehicle; undefined for a real one. Answers with a message when it cannot. */
  readonly simulate: ((leads: Leads) => Promise<{ readonly text: string } | { readonly message: string }>) | undefined;
}

export type Beeper = Extract<Observable, { kind: "continuity" }>;

type Wrong = {
  readonly field: "red" | "black" | "value";
  readonly message: string;
  readonly choices?: readonly string[];
  readonly anyway?: () => void;
};

/** Black lead, red lead, reading: typed one after the other with Enter between. */
export function ReadingEntry({
  ref,
  harness,
  view,
  state,
  draft,
  change,
  proposal,
  sayWord,
  isDisabled,
  onBeep,
  onReading,
  meter,
  simulate,
}: ReadingEntryProps) {
  const red = useRef<HTMLInputElement>(null);
  const black = useRef<HTMLInputElement>(null);
  const value = useRef<HTMLInputElement>(null);
  const [wrong, setWrong] = useState<Wrong | undefined>(undefined);
  const clamp = draft.mode === "amps";
  const focus = (field: "red" | "black" | "value", at?: "end"): void => {
    const input = { red, black, value }[field].current;
    input?.focus();
    if (at === undefined) input?.select();
    else requestAnimationFrame(() => input?.setSelectionRange(input.value.length, input.value.length));
  };
  const blackText = blackOf(draft);

  /** The place of a lead field, or undefined with a message at the field. */
  function place(field: "red" | "black"): string | undefined {
    const text = field === "black" ? blackText : clamp ? draft.around : draft.red;
    if (clamp) {
      const around = clampedIn(harness, text);
      if (around !== undefined) return around;
      setWrong({
        field,
        message: "Which wire is the clamp around? Type its number, such as W2, or the battery for all cables on its negative post.",
      });
      return undefined;
    }
    const found = parsePlace(harness, text);
    if (found.kind === "place") return found.place;
    if (found.kind === "ambiguous") setWrong({ field, message: `“${text}” could be either. Which side?`, choices: found.choices });
    else if (text.trim() === "")
      setWrong({
        field,
        message:
          proposal?.text === NO_PLACE
            ? "The next test is answered with a word, above. For a reading, type a place."
            : "Where is the red lead? Type a place, or tap it on the drawing.",
        choices: [],
      });
    else setWrong({ field, message: `There is no “${text.slice(0, 20)}” in this circuit. Near it:`, choices: found.nearest });
    return undefined;
  }

  const takeProposal = (): void => {
    if (proposal === undefined) return;
    setWrong(undefined);
    proposal.take();
  };

  const next = (field: "red" | "black"): void => {
    if (field === "red" && (clamp ? draft.around : draft.red).trim() === "" && proposal !== undefined) return takeProposal();
    const found = place(field);
    if (found === undefined) return;
    setWrong(undefined);
    change(field === "black" ? { black: found } : clamp ? { around: found } : { red: found });
    focus(field === "black" && draft.red === "" && !clamp ? "red" : "value");
  };

  async function submit(anyway = false, instrument: ReadingData["instrument"] = "typed", text = draft.text): Promise<void> {
    const beeper = draft.mode === "ohms" && draft.red.trim() !== "" ? beepTyped(text) : undefined;
    if (beeper === undefined && readTyped(text, draft.mode).kind === "bad" && WORDS.test(text.trim())) {
      const message = sayWord(text);
      setWrong(message === undefined ? undefined : { field: "value", message });
      if (message !== undefined) return;
      change({ text: "", red: "", around: "", armed: "red" });
      return red.current?.focus();
    }
    const at = place("red");
    if (at === undefined) return;
    const from = clamp ? "" : place("black");
    if (from === undefined) return;
    if (!clamp && at === from) return setWrong({ field: "red", message: "Both leads on one point always show 0. Move one." });
    if (beeper !== undefined) return beep({ kind: "continuity", red: at, black: from }, beeper);
    const live = text.trim() === "" ? meter?.live : undefined;
    if (live !== undefined && live.kept === undefined)
      return setWrong({ field: "value", message: `The meter shows ${live.text}: nothing that can be recorded. Type what you read.` });
    const typed = live?.kept === undefined ? readTyped(text, draft.mode) : { kind: "ok" as const, ...live.kept };
    if (typed.kind === "bad") return setWrong({ field: "value", message: typed.message });
    const bare = leadsFor(typed.shown, at, from, at);
    const leads = live === undefined || meter === undefined ? bare : leadsOfMeter(bare, meter.inputOhms);
    const refused = refusedFor(leads);
    if (refused !== undefined) return setWrong({ field: "red", message: refused });
    if (!anyway && (await isLive(leads)))
      return setWrong({ field: "value", message: LIVE, anyway: () => void submit(true, instrument, text) });
    onReading({
      leads,
      text: typed.text,
      shown: typed.shown,
      instrument: live === undefined ? instrument : "connected",
      ...(live?.kept?.meter === undefined ? {} : { meter: live.kept.meter }),
    });
    setWrong(undefined);
    change({ text: "", red: "", around: "", armed: "red" });
    red.current?.focus();
  }

  /** Whether ohms would be taken where a good circuit has voltage. */
  async function isLive(leads: Leads): Promise<boolean> {
    if (leads.quantity !== "ohms") return false;
    return (await session.ask("read", harness, { state, leads }).answer)?.kind === "void";
  }

  async function beep(observe: Beeper, word: ResultWord): Promise<void> {
    const leads: Leads = { quantity: "ohms", red: observe.red, black: observe.black };
    const refused = refusedFor(leads);
    if (refused !== undefined) return setWrong({ field: "red", message: refused });
    if (await isLive(leads)) return setWrong({ field: "value", message: LIVE });
    onBeep(observe, word);
    setWrong(undefined);
    change({ text: "", red: "", around: "", armed: "red" });
    red.current?.focus();
  }

  /** Where people could come to harm no lead goes, and nothing lifts that. */
  function refusedFor(leads: Leads): string | undefined {
    const act: Doing =
      leads.quantity === "amps" ? { kind: "touch", places: [leads.around] } : { kind: leads.quantity, places: [leads.red, leads.black] };
    const found = refusalsOf(harness, state, act).find((r) => r.harm === "people");
    return found === undefined ? undefined : `${found.reason} Instead: ${found.instead}`;
  }

  const ask = async (): Promise<void> => {
    if (simulate === undefined) return;
    const at = place("red");
    const from = clamp ? "" : place("black");
    if (at === undefined || from === undefined) return;
    const leads: Leads = clamp
      ? { quantity: "amps", around: at }
      : { quantity: draft.mode === "ohms" ? "ohms" : "volts", red: at, black: from };
    const refused = refusedFor(leads);
    if (refused !== undefined) return setWrong({ field: "red", message: refused });
    const answer = await simulate(leads);
    if ("message" in answer) return setWrong({ field: "value", message: answer.message });
    change({ text: answer.text });
    await submit(false, "simulated", answer.text);
  };
  useImperativeHandle(ref, () => ({
    focus,
    simulate: () => void ask(),
    takeMeter: () => void submit(),
    isReading: () => document.activeElement !== null && document.activeElement === value.current,
    isPlacing: () =>
      document.activeElement !== null && (document.activeElement === red.current || document.activeElement === black.current),
  }));

  const onEnter = (event: KeyboardEvent, act: () => void): void => {
    if (event.key === "Escape") (event.target as HTMLElement).blur();
    if (event.key !== "Enter" || event.nativeEvent.isComposing) return;
    event.preventDefault();
    act();
  };
  const errorAt = (field: Wrong["field"]): string | undefined => (wrong?.field === field ? wrong.message : undefined);
  return (
    <form onSubmit={(e) => e.preventDefault()} aria-label="Reading" noValidate>
      <Line>
        <Field
          label="Black lead"
          mono
          inputRef={black}
          value={clamp ? "" : draft.black}
          placeholder={clamp ? "not used" : "− battery"}
          onChange={(v) => change({ black: v })}
          onKeyDown={(e) => onEnter(e, () => next("black"))}
          onFocus={() => change({ armed: "black" })}
          error={errorAt("black")}
          isDisabled={isDisabled || clamp}
          maxLength={60}
        />
        <Field
          label={clamp ? "Clamp around" : "Red lead"}
          mono
          inputRef={red}
          value={clamp ? draft.around : draft.red}
          placeholder={clamp ? "W2" : proposal === undefined ? "F3.2" : `${proposal.text} ⏎`}
          onChange={(v) => change(clamp ? { around: v } : { red: v })}
          onKeyDown={(e) => onEnter(e, () => next("red"))}
          onFocus={() => change({ armed: "red" })}
          error={errorAt("red")}
          isDisabled={isDisabled}
          maxLength={60}
        />
        <Field
          label="Reading"
          mono
          inputRef={value}
          value={draft.text}
          placeholder={
            meter !== undefined
              ? meter.live.text
              : proposal?.text === NO_PLACE
                ? "lit, dim, out"
                : { volts: "12.31", ohms: "0.4, OL, beep", amps: "18.2" }[draft.mode]
          }
          onChange={(v) => change({ text: v })}
          onKeyDown={(e) => onEnter(e, () => void submit())}
          error={errorAt("value")}
          isDisabled={isDisabled}
          maxLength={30}
        />
        <Act>
          <Segmented
            label="Meter"
            hideLabel
            value={draft.mode}
            onChange={(mode) => {
              change({ mode });
              setWrong(undefined);
            }}
            isDisabled={isDisabled}
            options={[
              { id: "volts", text: "V" },
              { id: "ohms", text: "Ω" },
              { id: "amps", text: "A" },
            ]}
          />
        </Act>
        <Act>
          <Button look="solid" onPress={() => void submit()} isDisabled={isDisabled}>
            Record
          </Button>
          {simulate === undefined ? null : (
            <Button onPress={() => void ask()} isDisabled={isDisabled} aria-label="Let the simulated vehicle answer">
              Simulate
            </Button>
          )}
        </Act>
      </Line>
      {wrong === undefined ? null : (
        <Choices role="status" style={{ marginTop: 4 }}>
          {wrong.choices?.map((c) => (
            <Button
              key={c}
              onPress={() => {
                change(wrong.field === "black" ? { black: c } : { red: c });
                setWrong(undefined);
                focus(wrong.field === "black" && draft.red === "" ? "red" : "value");
              }}
            >
              <span style={{ fontFamily: "var(--mono)" }}>{c}</span> <Faint>{describePlace(harness, c)}</Faint>
            </Button>
          ))}
          {wrong.anyway === undefined ? null : <Button onPress={wrong.anyway}>Record anyway</Button>}
        </Choices>
      )}
      <Choices style={{ marginTop: 2, minHeight: 24, justifyContent: "space-between" }}>
        <Expected harness={harness} view={view} state={state} draft={draft} inputOhms={meter?.inputOhms} />
        {meter === undefined ? null : <MeterStrip meter={meter} quantity={draft.mode} />}
      </Choices>
    </form>
  );
}

/** What a sound circuit would show between the leads as they stand. */
function Expected({
  harness,
  view,
  state,
  draft,
  inputOhms = METER_OHMS,
}: {
  harness: Harness;
  view: JobView;
  state: VehicleState;
  draft: BenchDraft;
  inputOhms: number | undefined;
}) {
  const leads = useMemo(() => {
    const bare = leadsOnBench(harness, draft);
    return bare === undefined ? undefined : leadsOfMeter(bare, inputOhms);
  }, [harness, draft, inputOhms]);
  const band = useShelf(view, leads, state)?.band;
  const sound = useQuery("read", harness, leads === undefined ? undefined : { state, leads }).value;
  if (leads === undefined || sound === undefined) return <Faint>Enter: next field. Empty red field: proposed test.</Faint>;
  const where = leads.quantity === "amps" ? leads.around : describePlace(harness, leads.red);
  return (
    <span>
      <Faint>{where}:</Faint> expected <strong>{wordReading(sound)}</strong>
      {band === undefined ? null : <Faint>; good ones {bandWords(leads.quantity, band)}</Faint>}
    </span>
  );
}

/** What an instrument shows, with its unit. */
export function wordReading(reading: Reading): string {
  switch (reading.kind) {
    case "value":
      return { volts: formatVolts, ohms: formatOhms, amps: formatAmps }[reading.quantity](reading.value);
    case "over":
      return "OL";
    case "void":
      return "void, the circuit is live";
    case "unsolved":
      return `no answer at ${reading.at}`;
  }
}
