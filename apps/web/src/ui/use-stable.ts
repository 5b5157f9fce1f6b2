import { useLayoutEffect, useRef, useState } from "react";

/** The same function object as long as a screen stands, which does what the latest one does: what is handed it need not be drawn anew. Only for what is called by hand, never while rendering. */
export function useStable<A extends readonly unknown[], R>(latest: (...args: A) => R): (...args: A) => R {
  const held = useRef(latest);
  useLayoutEffect(() => {
    held.current = latest;
  });
  const [stable] = useState(
    () =>
      (...args: A): R =>
        held.current(...args),
  );
  return stable;
}
