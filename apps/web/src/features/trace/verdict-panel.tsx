import { Check, CircleAlert, CircleDashed } from "lucide-react";
import { styled } from "styled-components";
import type { VerdictWords } from "@rheonom/core/diagnosis";

const Box = styled.section`
  display: grid;
  grid-template-columns: auto 1fr;
  gap: 2px var(--s3);
  padding: 1px var(--s3);
  /* Always two lines high, so that nothing below it moves; what is longer scrolls. */
  height: 48px;
  overflow: auto;
  align-content: center;
  line-height: 1.3;
  font-size: 0.9375rem;
  border-radius: var(--radius);
  border: 1px solid var(--line);
  border-left-width: 6px;
  background: var(--surface);
  svg {
    margin-top: 2px;
  }
  &[data-tone="fault"] {
    background: var(--suspect-soft);
    border-color: var(--suspect);
    svg {
      color: var(--suspect);
    }
  }
  &[data-tone="sound"] {
    background: var(--ok-soft);
    border-color: var(--ok);
    svg {
      color: var(--ok);
    }
  }
`;
const ICONS = { fault: CircleAlert, sound: Check, "open question": CircleDashed };

export interface VerdictPanelProps {
  readonly words: VerdictWords;
  /** They are of the readings before the latest. */
  readonly busy: boolean;
}

/** What the readings on this path say. */
export function VerdictPanel({ words, busy }: VerdictPanelProps) {
  const Icon = ICONS[words.tone];
  return (
    <Box data-tone={words.tone} aria-label="Verdict" aria-live="polite" aria-busy={busy}>
      <Icon size={20} aria-hidden />
      <div>
        <strong>{words.headline}</strong> <span>{words.detail}</span>
      </div>
    </Box>
  );
}
