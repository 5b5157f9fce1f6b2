import { useState } from "react";
import { Button } from "./button.tsx";
import { Row } from "./layout.tsx";

/** Rows that are drawn at first, and with each press more. */
const AT_ONCE = 200;

export interface MoreRows<T> {
  readonly shown: readonly T[];
  readonly left: number;
  readonly showMore: () => void;
}

/** The first rows of a long list, so that a log of thousands does not hold the page; more of them when they are asked for. */
export function useMoreRows<T>(all: readonly T[]): MoreRows<T> {
  const [count, setCount] = useState(AT_ONCE);
  const shown = all.length <= count ? all : all.slice(0, count);
  return { shown, left: all.length - shown.length, showMore: () => setCount((n) => n + AT_ONCE) };
}

/** Below the list: how many more there are. Nothing when all are shown. */
export function ShowMore({
  left,
  showMore,
  what = "older ones",
}: Pick<MoreRows<unknown>, "left" | "showMore"> & { readonly what?: string }) {
  if (left === 0) return null;
  return (
    <Row>
      <Button onPress={showMore}>Show {Math.min(left, AT_ONCE)} more</Button>
      <span>
        {left} {what} are not shown
      </span>
    </Row>
  );
}
