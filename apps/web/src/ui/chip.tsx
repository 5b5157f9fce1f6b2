import { ChevronDown } from "lucide-react";
import { Dialog, DialogTrigger, Popover } from "react-aria-components";
import { styled } from "styled-components";
import { Button } from "./button.tsx";
import { Segmented, type Choices } from "./segmented.tsx";

const Box = styled(Popover)`
  background: var(--surface);
  border: 2px solid var(--line-strong);
  border-radius: var(--radius);
  box-shadow: var(--shadow);
  padding: var(--s2);
`;
const Face = styled(Button)`
  padding: 0 var(--s2) 0 var(--s3);
  gap: var(--s1);
`;

/** One of a few as a chip that says what is chosen; a tap opens the choice, and choosing closes it. */
export function ChoiceChip<T extends string>(props: Omit<Choices<T>, "hideLabel">) {
  const { label, options, value, onChange, isDisabled = false } = props;
  const text = options.find((o) => o.id === value)?.text ?? value;
  return (
    <DialogTrigger>
      <Face isDisabled={isDisabled} aria-label={`${label}: ${text}`}>
        <span>
          {label} <strong>{text}</strong>
        </span>
        <ChevronDown size={16} aria-hidden />
      </Face>
      <Box placement="bottom start">
        <Dialog aria-label={label}>
          {({ close }) => (
            <Segmented
              {...props}
              hideLabel
              autoFocus
              onChange={(chosen) => {
                onChange(chosen);
                close();
              }}
            />
          )}
        </Dialog>
      </Box>
    </DialogTrigger>
  );
}
