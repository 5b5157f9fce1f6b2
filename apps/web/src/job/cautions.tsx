import { useState } from "react";
import { styled } from "styled-components";
import { TriangleAlert } from "lucide-react";
import { CAUTION_FOOTER, type Caution } from "@rheonom/core/job";
import { keepItem, readLike } from "./kept.ts";

const Box = styled.details`
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
    padding-bottom: var(--s2);
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

/** The cautions of the act at hand: open the first time in a job, one line once they were folded. */
export function Cautions({ cautions, job = "" }: { cautions: readonly Caution[]; job?: string }) {
  const [, redraw] = useState(0);
  if (cautions.length === 0) return null;
  const key = [job, ...cautions.map((c) => c.id)].join("+");
  return (
    <Box
      key={key}
      open={!isRead(key)}
      onToggle={(e) => {
        const others = readKeys().filter((k) => k !== key);
        if (e.currentTarget.open) folded.delete(key);
        else folded.add(key);
        keepItem(KEPT, JSON.stringify({ keys: [...others, ...(e.currentTarget.open ? [] : [key])].slice(-MOST_KEPT).join("\n") }));
        redraw((n) => n + 1);
      }}
    >
      <summary>
        <TriangleAlert size={18} aria-hidden /> {cautions.map((c) => c.title).join(" · ")}
      </summary>
      {cautions.map((c) => (
        <p key={c.id}>{c.text}</p>
      ))}
      <p>{CAUTION_FOOTER}</p>
    </Box>
  );
}
