import { useEffect, useImperativeHandle, useRef, type Ref } from "react";
import { autocompletion, closeBrackets, completionKeymap } from "@codemirror/autocomplete";
import { defaultKeymap, history, historyKeymap } from "@codemirror/commands";
import { lintGutter, lintKeymap, setDiagnostics, type Diagnostic } from "@codemirror/lint";
import { EditorState } from "@codemirror/state";
import { drawSelection, EditorView, highlightActiveLine, keymap, lineNumbers } from "@codemirror/view";
import { styled } from "styled-components";
import type { NotationProblem } from "@rheonom/core/notation";
import { completeNotation, notationHighlight, notationLanguage, notationTheme } from "./notation-language.ts";

const Box = styled.div`
  flex: 1;
  min-height: 220px;
  overflow: hidden;
  border: 1px solid var(--line-strong);
  border-radius: var(--radius);
`;

export interface EditorHandle {
  readonly goTo: (line: number, column: number) => void;
  readonly replaceAll: (text: string) => void;
}

export interface NotationEditorProps {
  readonly ref: Ref<EditorHandle>;
  readonly initial: string;
  readonly problems: readonly NotationProblem[];
  readonly onChange: (text: string) => void;
  readonly onSave: () => void;
}

/** Text editor for circuits with highlighting, completion and the parser's problems at their place. */
export function NotationEditor({ ref, initial, problems, onChange, onSave }: NotationEditorProps) {
  const box = useRef<HTMLDivElement>(null);
  const editor = useRef<EditorView>(undefined);
  // The editor is made once; its text is its own from then on.
  const begun = useRef(initial);
  const latest = useRef({ onChange, onSave });
  useEffect(() => {
    latest.current = { onChange, onSave };
  });
  useEffect(() => {
    if (box.current === null) return;
    const view = new EditorView({
      parent: box.current,
      state: EditorState.create({
        doc: begun.current,
        extensions: [
          lineNumbers(),
          history(),
          drawSelection(),
          highlightActiveLine(),
          closeBrackets(),
          lintGutter(),
          EditorView.lineWrapping,
          notationLanguage,
          notationHighlight,
          notationTheme,
          autocompletion({ override: [completeNotation], icons: false }),
          keymap.of([
            {
              key: "Mod-Enter",
              run: () => {
                latest.current.onSave();
                return true;
              },
            },
            // Tab leaves the editor, so that the keyboard is never caught in it; completion is taken with Enter.
            ...completionKeymap,
            ...lintKeymap,
            ...historyKeymap,
            ...defaultKeymap,
          ]),
          EditorView.contentAttributes.of({ "aria-label": "Circuit text", spellcheck: "false", tabindex: "0" }),
          EditorView.updateListener.of((u) => {
            if (u.docChanged) latest.current.onChange(u.state.doc.toString());
          }),
        ],
      }),
    });
    editor.current = view;
    return () => view.destroy();
  }, []);
  useEffect(() => {
    const view = editor.current;
    if (view !== undefined)
      view.dispatch(
        setDiagnostics(
          view.state,
          problems.map((p) => diagnosticOf(view.state, p)),
        ),
      );
  }, [problems]);
  useImperativeHandle(ref, () => ({
    goTo(line, column) {
      const view = editor.current;
      if (view === undefined) return;
      const at = offsetOf(view.state, line, column);
      view.dispatch({ selection: { anchor: at }, scrollIntoView: true });
      view.focus();
    },
    replaceAll(text) {
      const view = editor.current;
      view?.dispatch({ changes: { from: 0, to: view.state.doc.length, insert: text } });
      view?.focus();
    },
  }));
  return <Box ref={box} />;
}

const offsetOf = (state: EditorState, line: number, column: number): number => {
  const found = state.doc.line(Math.min(Math.max(1, line), state.doc.lines));
  return Math.min(found.to, found.from + column - 1);
};

function diagnosticOf(state: EditorState, p: NotationProblem): Diagnostic {
  const from = offsetOf(state, p.line, p.column);
  return { from, to: Math.min(state.doc.length, from + p.length), severity: p.severity, message: p.message };
}
