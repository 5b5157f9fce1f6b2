import { useKeys } from "../ui/use-keys.ts";

interface Shortcut {
  /** As in KeyboardEvent.key; "mod+k" is Ctrl or ⌘ with k. */
  readonly keys: readonly string[];
  /** How the keys are shown; the keys themselves when left out. */
  readonly shown?: string;
  /** Undefined: too plain to be listed. */
  readonly words: string | undefined;
}

/** Every single-key shortcut of the app. Whoever listens names one of them, and the help sheet lists them; there is no other list. */
export const SHORTCUTS = {
  help: { keys: ["?"], words: "This list" },
  palette: { keys: ["mod+k"], shown: "Ctrl K", words: "Find a command or a screen" },
  board: { keys: ["b"], words: "Board" },
  newJob: { keys: ["c"], words: "Board: new job" },
  vehicles: { keys: ["w"], words: "Vehicles" },
  nextStep: { keys: ["j"], words: "Next job step" },
  stepBack: { keys: ["h"], words: "Previous job step" },
  tray: { keys: ["t"], words: "Temporary changes: what is unplugged, pulled, jumpered or pierced" },
  theme: { keys: ["d"], words: "Dark or light" },
  redLead: { keys: ["r"], words: "Trace: red lead" },
  blackLead: { keys: ["k"], words: "Trace: black lead" },
  reading: { keys: ["v"], words: "Trace: reading" },
  takeNext: { keys: ["n"], words: "Trace: use the proposed leads" },
  undo: { keys: ["Backspace"], shown: "⌫", words: "Trace: strike the last reading" },
  simulate: { keys: ["m"], words: "Trace: let the simulated vehicle answer (demo jobs)" },
  digit: {
    keys: [..."0123456789.-"],
    shown: "0 … 9",
    words: "Trace: a digit typed beside the fields goes into the reading",
  },
  findInDrawing: { keys: ["/"], words: "Circuit of a vehicle: find a part" },
  zoomIn: { keys: ["+"], words: "Circuit of a vehicle: larger" },
  zoomOut: { keys: ["-"], words: "Circuit of a vehicle: smaller" },
  zoomFit: { keys: ["0"], words: "Circuit of a vehicle: as large as fits" },
} as const satisfies Readonly<Record<string, Shortcut>>;
export type ShortcutName = keyof typeof SHORTCUTS;

/** Keys that work inside fields, where no shortcut listens. */
export const FIELD_KEYS = [
  { shown: "Enter", words: "In a field: on to the next; in the reading: record it. In an empty lead field: take the proposal" },
  { shown: "Esc", words: "Leave a field, so that single keys work again" },
] as const;

/** What the help sheet lists, in order. */
export const shortcutRows = (): readonly { readonly shown: string; readonly words: string }[] => [
  ...Object.values<Shortcut>(SHORTCUTS).flatMap(({ keys, shown, words }) =>
    words === undefined ? [] : [{ shown: shown ?? keys.join(" "), words }],
  ),
  ...FIELD_KEYS,
];

/** Listens for shortcuts while mounted. A handler gets the key that was pressed. */
export function useShortcuts(handlers: Readonly<Partial<Record<ShortcutName, (key: string) => void>>>): void {
  const entries = Object.entries(handlers).flatMap(([name, handle]) =>
    SHORTCUTS[name as ShortcutName].keys.map((key) => [key, () => handle(key)] as const),
  );
  useKeys(Object.fromEntries(entries));
}
