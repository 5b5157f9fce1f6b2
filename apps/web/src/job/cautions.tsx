import { useEffect, useRef, useState } from "react";
import { styled } from "styled-components";
import { TriangleAlert } from "lucide-react";
import { CAUTION_FOOTER, isCranking, type Caution } from "@rheonom/core/job";
import { Button } from "../ui/button.tsx";
import { keepItem, readLike } from "./kept.ts";

const Beside = styled.div`
  display: flex;
  flex-wrap: wrap;
  gap: var(--s2);
  align-items: start;
`;
const Box = styled.details`
  flex: 1 1 16rem;
  background: var(--caution-soft);
  color: var(--caution);
  border: 1px solid var(--caution-line);
  border-left-width: 6px;
  border-radius: var(--radius);
  padding: 0 var(--s3);
  summary {
    min-height: 30px;
    display: flex;
    align-items: center;
    gap: var(--s2);
    cursor: pointer;
    font-weight: 700;
  }
  p {
    margin: 0;
    padding-bottom: var(--s1);
    font-size: 0.875rem;
    line-height: 1.25;
  }
`;

/** Cautions that were read and folded; in a job they stay one line. */
const folded = new Set<string>();
const MOST_KEPT = 60;
const KEPT = "rheonom.cautions-read";
const readKeys = (): readonly string[] =>
  readLike(KEPT, { keys: "" })
    .keys.split("\n")
    .filter((k) => k !== "");
const isRead = (key: string): boolean => folded.has(key) || readKeys().includes(key);

function fold(key: string, isFolded: boolean): void {
  const others = readKeys().filter((k) => k !== key);
  if (isFolded) folded.add(key);
  else folded.delete(key);
  keepItem(KEPT, JSON.stringify({ keys: [...others, ...(isFolded ? [key] : [])].slice(-MOST_KEPT).join("\n") }));
}

export interface CautionsProps {
  readonly cautions: readonly Caution[];
  readonly job?: string;
  /** How often the act was done; cautions fold by themselves once it was done under them. */
  readonly done?: number;
  /** Says that the engine may turn; left out once somebody has, or where nobody can. */
  readonly onClear?: (() => void) | undefined;
}

/** The cautions of the act at hand: open the first time in a job, one line once they were folded or the act was done. */
export function Cautions({ cautions, job = "", done = 0, onClear }: CautionsProps) {
  const [, redraw] = useState(0);
  const key = [job, ...cautions.map((c) => c.id)].join("+");
  const under = useRef({ key, done });
  useEffect(() => {
    const before = under.current;
    under.current = { key, done };
    if (cautions.length === 0 || before.key !== key || done <= before.done || isRead(key)) return;
    fold(key, true);
    redraw((n) => n + 1);
  }, [key, done, cautions.length]);
  if (cautions.length === 0) return null;
  const isToClear = onClear !== undefined && cautions.some(isCranking);
  return (
    <Beside>
      <Box
        key={key}
        open={!isRead(key)}
        onToggle={(e) => {
          fold(key, !e.currentTarget.open);
          redraw((n) => n + 1);
        }}
      >
        <summary>
          <TriangleAlert size={18} aria-hidden /> {cautions.map((c) => c.title).join(" · ")}
        </summary>
        <p>{[...cautions.map((c) => c.text), CAUTION_FOOTER].join(" ")}</p>
      </Box>
      {isToClear ? <Button onPress={onClear}>Clear to crank</Button> : null}
    </Beside>
  );
}
