import { useEffect, useMemo, useRef, useState, type ReactNode, type RefObject } from "react";
import { applyEdit } from "@rheonom/core/harness";
import { printNotation, type NotationProblem, type ParseResult } from "@rheonom/core/notation";
import { useParsed, type Computed } from "../worker/use-query.ts";
import { NotationEditor, type EditorHandle } from "./notation-editor.tsx";
import { ProblemList } from "./problem-list.tsx";

/** Typing pauses for so long before the text is read. */
const SETTLE_MS = 200;

/** A circuit text that is being typed, and what it reads as. */
export interface NotationDraft {
  readonly initial: string;
  readonly text: string;
  /** The text of the last pause in typing, which `parsed` belongs to. */
  readonly settled: string;
  readonly parsed: Computed<ParseResult>;
  readonly problems: readonly NotationProblem[];
  readonly editor: RefObject<EditorHandle | null>;
  readonly change: (text: string) => void;
  /** Puts another text in its place; the editor's undo brings the old one back. */
  readonly replace: (text: string) => void;
}

/** `onChange` hears of every keystroke, for keeping a draft. */
export function useNotationDraft(initial: string, onChange: (text: string) => void): NotationDraft {
  const [begun] = useState(initial);
  const [text, setText] = useState(begun);
  const [settled, setSettled] = useState(begun);
  const editor = useRef<EditorHandle>(null);
  useEffect(() => {
    const timer = setTimeout(() => setSettled(text), SETTLE_MS);
    return () => clearTimeout(timer);
  }, [text]);
  const parsed = useParsed(settled);
  const problems = useMemo(() => parsed.value?.problems ?? [], [parsed.value]);
  return {
    initial: begun,
    text,
    settled,
    parsed,
    problems,
    editor,
    change: (next) => {
      setText(next);
      onChange(next);
    },
    replace: (next) => editor.current?.replaceAll(next),
  };
}

export interface NotationPaneProps {
  readonly draft: NotationDraft;
  readonly onSave: () => void;
  /** Stands where the problems would, when the text is not even read. */
  readonly instead?: ReactNode;
}

/** The editor with its problems below; those that have a mending offer it. */
export function NotationPane({ draft, onSave, instead }: NotationPaneProps) {
  const { editor, initial, problems, parsed, settled } = draft;
  return (
    <>
      <NotationEditor ref={editor} initial={initial} problems={problems} onChange={draft.change} onSave={onSave} />
      {instead ?? (
        <ProblemList
          problems={problems}
          lines={settled.split("\n").length}
          onGoTo={(line, column) => editor.current?.goTo(line, column)}
          busy={parsed.busy}
          onFix={(edit) => {
            const read = parsed.value?.draft;
            if (read !== undefined) draft.replace(printNotation(applyEdit(read, edit)));
          }}
        />
      )}
    </>
  );
}
