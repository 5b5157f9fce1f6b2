import { useDeferredValue, useRef, useState } from "react";
import { Autocomplete, Dialog, Input, Menu, MenuItem, SearchField, useFilter } from "react-aria-components";
import { useNavigate } from "react-router";
import { styled } from "styled-components";
import { useJobsQuery } from "../api/api.ts";
import { Sheet, Veil } from "../ui/dialog.tsx";
import { STEPS } from "../job/steps.ts";

const Box = styled(Input)`
  width: 100%;
  min-height: 52px;
  padding: 0 var(--s4);
  border: none;
  border-bottom: 1px solid var(--line);
  background: transparent;
  outline-offset: -3px;
`;
const List = styled(Menu<Command>)`
  max-height: 50vh;
  overflow: auto;
  padding: var(--s1);
`;
const Line = styled(MenuItem)`
  min-height: var(--target);
  display: flex;
  align-items: center;
  padding: 0 var(--s3);
  border-radius: var(--radius);
  cursor: pointer;
  &[data-focused] {
    background: var(--accent-soft);
  }
`;

interface Command {
  readonly id: string;
  readonly text: string;
  readonly act: () => void;
}

export interface PaletteProps {
  readonly isOpen: boolean;
  /** What was typed before it was there. */
  readonly typed: string;
  readonly onClose: () => void;
  readonly jobId: string | undefined;
  readonly flipTheme: () => void;
}

/** Jobs that are offered: the latest ones, of those that hold what is typed. */
const PALETTE_JOBS = 20;
/** What is typed finds jobs on the server, however many there are. */
const JOB = "Job: ";

/** Type a few letters of a screen, a job or a command. */
export function Palette({ isOpen, typed, onClose, jobId, flipTheme }: PaletteProps) {
  return (
    <Veil isOpen={isOpen} onOpenChange={(open) => !open && onClose()} isDismissable>
      <Sheet $wide={false}>
        <Dialog aria-label="Find a command">
          <Commands typed={typed} onClose={onClose} jobId={jobId} flipTheme={flipTheme} />
        </Dialog>
      </Sheet>
    </Veil>
  );
}

function Commands({ typed, onClose, jobId, flipTheme }: Omit<PaletteProps, "isOpen">) {
  const navigate = useNavigate();
  const [text, setText] = useState(typed);
  const { currentData } = useJobsQuery({ limit: PALETTE_JOBS, search: useDeferredValue(text).slice(0, 200) });
  const { contains } = useFilter({ sensitivity: "base" });
  const isFound = (command: string, asked: string): boolean => command.startsWith(JOB) || contains(command, asked);
  const box = useRef<HTMLInputElement>(null);
  const go = (to: string) => () => void navigate(to);
  const commands: Command[] = [
    ...(jobId === undefined ? [] : STEPS.map((s) => ({ id: s.path, text: s.name, act: go(`/jobs/${jobId}/${s.path}`) }))),
    ...(jobId === undefined
      ? []
      : [
          { id: "bench", text: "Bench: meter, scope, traces", act: go(`/jobs/${jobId}/bench`) },
          { id: "what-if", text: "What if: suppose a fault and see what would read", act: go(`/jobs/${jobId}/what-if`) },
          { id: "debrief", text: "Debrief of a practice job", act: go(`/jobs/${jobId}/debrief`) },
        ]),
    { id: "board", text: "Board", act: go("/") },
    { id: "vehicles", text: "Vehicles", act: go("/vehicles") },
    { id: "planner", text: "Planner", act: go("/planner") },
    { id: "practice", text: "Practice: a fault to find on a simulated vehicle", act: go("/practice") },
    { id: "shop", text: "Shop: settings, customers of old jobs", act: go("/shop") },
    { id: "known-goods", text: "Known-goods: what good vehicles showed", act: go("/known-goods") },
    { id: "plug", text: "Unknown connector: find its pins", act: go("/plug") },
    { id: "new", text: "New job", act: go("/jobs/new") },
    { id: "theme", text: "Change between light and dark", act: flipTheme },
    ...(currentData?.jobs ?? []).map((j) => ({
      id: j.id,
      text: `${JOB}${j.vehicle} ${j.registration} – ${j.words.slice(0, 60)}`,
      act: go(`/jobs/${j.id}`),
    })),
  ];
  const run = (id: unknown): void => {
    onClose();
    commands.find((c) => c.id === id)?.act();
  };
  /** Enter takes the first match, also before the list has marked it, which it does half a second after the last key. */
  const runFirst = (asked: string): void => {
    const marked = box.current?.getAttribute("aria-activedescendant") ?? "";
    const first = marked === "" && asked !== "" ? commands.find((c) => isFound(c.text, asked)) : undefined;
    if (first !== undefined) run(first.id);
  };
  return (
    <Autocomplete filter={isFound} inputValue={text} onInputChange={setText}>
      <SearchField aria-label="Find a command, a screen or a job" autoFocus onSubmit={runFirst}>
        <Box ref={box} placeholder="Screen, job or command" />
      </SearchField>
      <List items={commands} onAction={run} aria-label="Commands">
        {(c) => (
          <Line id={c.id} textValue={c.text}>
            {c.text}
          </Line>
        )}
      </List>
    </Autocomplete>
  );
}
