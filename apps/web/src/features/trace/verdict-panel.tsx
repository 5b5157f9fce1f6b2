import { Check, CircleAlert, CircleDashed } from "lucide-react";
import { styled } from "styled-components";
import type { VerdictWords } from "@rheonom/core/diagnosis";
import { Button } from "../../ui/button.tsx";

const Box = styled.section`
  display: grid;
  grid-template-columns: auto 1fr;
  gap: 2px var(--s3);
  padding: var(--s3);
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
const Headline = styled.p`
  font-size: 1.125rem;
  font-weight: 700;
`;
const Next = styled.div`
  grid-column: 2;
  display: flex;
  flex-wrap: wrap;
  gap: var(--s2);
  align-items: center;
  margin-top: var(--s1);
  & > span {
    flex: 1 1 220px;
  }
`;
const ICONS = { fault: CircleAlert, sound: Check, "open question": CircleDashed };

export interface VerdictPanelProps {
  readonly words: VerdictWords;
  readonly next: string | undefined;
  /** They are of the readings before the latest. */
  readonly busy: boolean;
  readonly onTake: () => void;
}

/** What the readings say, and where to put the leads next. */
export function VerdictPanel({ words, next, busy, onTake }: VerdictPanelProps) {
  const Icon = ICONS[words.tone];
  return (
    <Box data-tone={words.tone} aria-label="Verdict" aria-live="polite" aria-busy={busy}>
      <Icon size={22} aria-hidden />
      <div>
        <Headline>{words.headline}</Headline>
        <p>{words.detail}</p>
      </div>
      {next === undefined ? null : (
        <Next>
          <span>
            <strong>On this path:</strong> {next}
          </span>
          <Button onPress={onTake}>
            Leads there <kbd>n</kbd>
          </Button>
        </Next>
      )}
    </Box>
  );
}
