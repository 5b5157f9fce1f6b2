import { useState } from "react";
import { DialogTrigger, Popover, Dialog } from "react-aria-components";
import { styled } from "styled-components";
import { inWords, type Test } from "@rheonom/core/diagnosis";
import type { Harness } from "@rheonom/core/harness";
import { Button } from "../../ui/button.tsx";
import { Faint } from "../../ui/layout.tsx";
import { percent } from "../../ui/percent.ts";
import { ShareBar } from "../../ui/share.tsx";
import type { Asking } from "../../worker/use-diagnosis.ts";
import { useQuery } from "../../worker/use-query.ts";

const Box = styled(Popover)`
  width: min(440px, calc(100vw - 2 * var(--s3)));
  max-height: 70vh;
  overflow: auto;
  background: var(--surface);
  border: 2px solid var(--line-strong);
  border-radius: var(--radius);
  box-shadow: var(--shadow);
  padding: var(--s3);
`;
const List = styled.dl`
  margin: 0;
  display: grid;
  gap: var(--s2);
  dt {
    font-weight: 680;
  }
  dd {
    margin: 0;
    display: flex;
    align-items: center;
    gap: var(--s2);
    span:last-child {
      min-width: 3.5em;
    }
  }
`;

/** Why a test is worth doing: for each way in which it may come out, what would be left. */
export function WhyTest({ harness, question, test }: { harness: Harness; question: Asking; test: Test }) {
  const [isOpen, setOpen] = useState(false);
  return (
    <DialogTrigger isOpen={isOpen} onOpenChange={setOpen}>
      <Button>Why this test</Button>
      <Box placement="bottom end">
        <Dialog aria-label="Why this test">{isOpen ? <Outcomes harness={harness} question={question} test={test} /> : null}</Dialog>
      </Box>
    </DialogTrigger>
  );
}

function Outcomes({ harness, question, test }: { harness: Harness; question: Asking; test: Test }) {
  const { value, busy, failed } = useQuery("outcomes", harness, { question, test });
  if (failed !== undefined) return <p role="alert">{failed}</p>;
  if (value === undefined || busy) return <p role="status">Working out the outcomes …</p>;
  if (value.length < 2) return <p>All suspects that are left show the same here: this test confirms one and separates none.</p>;
  return (
    <List>
      {value.map(({ shows, chance, left, more }) => (
        <div key={shows}>
          <dt>
            {inWords(shows)} <Faint>({percent(chance)}) leaves</Faint>
          </dt>
          {left.map((l) => (
            <dd key={l.element}>
              <ShareBar $share={l.share} />
              <span>{l.element}</span>
              <span>{percent(l.share)}</span>
            </dd>
          ))}
          {more === 0 ? null : (
            <dd>
              <Faint>and {more} more</Faint>
            </dd>
          )}
        </div>
      ))}
    </List>
  );
}
