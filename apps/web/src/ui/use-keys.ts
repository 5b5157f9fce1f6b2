import { useEffect, useRef } from "react";

/** Single-key shortcuts by key as in KeyboardEvent.key, such as "r" or "?"; "mod+k" is Ctrl or ⌘ with k. */
export type Keys = Readonly<Record<string, () => void>>;

const isTyping = (target: EventTarget | null): boolean =>
  target instanceof HTMLElement &&
  (target.isContentEditable || target.closest("input, textarea, select, [role=textbox], [role=dialog], [role=listbox]") !== null);

/** Listens on the whole page while mounted. Plain keys rest while something is being typed; "mod+" ones do not. */
export function useKeys(keys: Keys): void {
  const latest = useRef(keys);
  useEffect(() => {
    latest.current = keys;
  });
  useEffect(() => {
    const onKey = (event: KeyboardEvent): void => {
      if (event.defaultPrevented || event.altKey) return;
      const mod = event.ctrlKey || event.metaKey;
      const act = latest.current[mod ? `mod+${event.key.toLowerCase()}` : event.key];
      if (act === undefined || (!mod && isTyping(event.target))) return;
      event.preventDefault();
      act();
    };
    window.addEventListener("keydown", onKey);
    return () => window.removeEventListener("keydown", onKey);
  }, []);
}
