import { useKeys } from "../ui/use-keys.ts";

interface Shortcut {
  /** As in KeyboardEvent.key; "mod+k" is Ctrl or ⌘ with k. */
  readonly keys: readonly string[];
  /** How the keys are shown; the keys themselves when left out. */
  readonly shown?: string;
  readonly words: string;
  /** The screen on which it works; everywhere when left out. */
  readonly on?: ShortcutScreen;
}

/** Screens that have keys of their own. */
export type ShortcutScreen = "board" | "job" | "trace" | "drawing";

/** Every single-key shortcut of the app. Whoever listens names one of them, and the help sheet lists them; there is no other list. */
export const SHORTCUTS = {
  help: { keys: ["?"], words: "This list" },
  palette: { keys: ["mod+k"], shown: "Ctrl K", words: "Find a command or a screen" },
  board: { keys: ["b"], words: "Board" },
  newJob: { keys: ["c"], words: "New job", on: "board" },
  vehicles: { keys: ["w"], words: "Vehicles" },
  nextStep: { keys: ["j"], words: "Next step of the job", on: "job" },
  stepBack: { keys: ["h"], words: "Step before", on: "job" },
  tray: { keys: ["t"], words: "Temporary changes: what is unplugged, pulled, jumpered or pierced", on: "job" },
  theme: { keys: ["d"], words: "Dark or light" },
  redLead: { keys: ["r"], words: "Red lead", on: "trace" },
  blackLead: { keys: ["k"], words: "Black lead", on: "trace" },
  reading: { keys: ["v"], words: "Reading", on: "trace" },
  takeNext: { keys: ["n"], words: "Use the proposed leads", on: "trace" },
  undo: { keys: ["Backspace"], shown: "⌫", words: "Strike the last reading", on: "trace" },
  simulate: { keys: ["m"], words: "Let the simulated vehicle answer (demo jobs)", on: "trace" },
  digit: {
    keys: [..."0123456789.-"],
    shown: "0 … 9",
    words: "A digit typed beside the fields goes into the reading",
    on: "trace",
  },
  findInTrace: { keys: ["/"], words: "Find a part, wire or cavity in the drawing", on: "trace" },
  findInDrawing: { keys: ["/"], words: "Find a part", on: "drawing" },
  zoomIn: { keys: ["+"], words: "Larger", on: "drawing" },
  zoomOut: { keys: ["-"], words: "Smaller", on: "drawing" },
  zoomFit: { keys: ["0"], words: "As large as fits", on: "drawing" },
} as const satisfies Readonly<Record<string, Shortcut>>;
export type ShortcutName = keyof typeof SHORTCUTS;

/** Keys that work inside fields, where no shortcut listens. */
export const FIELD_KEYS = [
  { shown: "Enter", words: "In a field: on to the next; in the reading: record it. In an empty lead field: take the proposal" },
  { shown: "Esc", words: "Leave a field, so that single keys work again" },
] as const;

export interface ShortcutRow {
  readonly shown: string;
  readonly words: string;
}

/** What the help sheet lists of one screen, or of every screen where none is named, in order. */
export const shortcutRows = (screen?: ShortcutScreen): readonly ShortcutRow[] => [
  ...Object.values<Shortcut>(SHORTCUTS).flatMap(({ keys, shown, words, on }) =>
    on === screen ? [{ shown: shown ?? keys.join(" "), words }] : [],
  ),
  ...(screen === undefined ? FIELD_KEYS : []),
];

/** Listens for shortcuts while mounted. A handler gets the key that was pressed. */
export function useShortcuts(handlers: Readonly<Partial<Record<ShortcutName, (key: string) => void>>>): void {
  const entries = Object.entries(handlers).flatMap(([name, handle]) =>
    SHORTCUTS[name as ShortcutName].keys.map((key) => [key, () => handle(key)] as const),
  );
  useKeys(Object.fromEntries(entries));
}
