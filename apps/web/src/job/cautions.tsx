import { useState } from "react";
import { styled } from "styled-components";
import { TriangleAlert } from "lucide-react";
import { CAUTION_FOOTER, type Caution } from "@rheonom/core/job";

const Box = styled.details`
  background: var(--caution-soft);
  color: var(--caution);
  border: 1px solid var(--caution-line);
  border-left-width: 6px;
  border-radius: var(--radius);
  padding: 0 var(--s3);
  summary {
    min-height: 40px;
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

/** Cautions that were read and folded on this page; they stay one line until the page is loaded again. */
const folded = new Set<string>();

/** The cautions of the act at hand: open the first time, one line afterwards. */
export function Cautions({ cautions }: { cautions: readonly Caution[] }) {
  const [, redraw] = useState(0);
  if (cautions.length === 0) return null;
  const key = cautions.map((c) => c.id).join("+");
  return (
    <Box
      key={key}
      open={!folded.has(key)}
      onToggle={(e) => {
        if (e.currentTarget.open) folded.delete(key);
        else folded.add(key);
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
