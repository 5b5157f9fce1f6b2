import {
  Button,
  Text,
  UNSTABLE_Toast as AriaToast,
  UNSTABLE_ToastContent as Content,
  UNSTABLE_ToastQueue as Queue,
  UNSTABLE_ToastRegion as Region,
} from "react-aria-components";
import { X } from "lucide-react";
import { styled } from "styled-components";

interface Message {
  readonly text: string;
}
const queue = new Queue<Message>({ maxVisibleToasts: 3 });
const SHOWN_MS = 6000;

/** Says something in the corner for a few seconds. Nothing that must be read belongs here. */
export const toast = (text: string): void => void queue.add({ text }, { timeout: SHOWN_MS });

const Corner = styled(Region<Message>)`
  position: fixed;
  right: var(--s4);
  bottom: var(--s4);
  z-index: 60;
  display: flex;
  flex-direction: column-reverse;
  gap: var(--s2);
  outline: none;
  @media print {
    display: none;
  }
`;
const Slip = styled(AriaToast<Message>)`
  display: flex;
  align-items: center;
  gap: var(--s3);
  max-width: 420px;
  padding: var(--s2) var(--s2) var(--s2) var(--s4);
  background: var(--ink);
  color: var(--page);
  border-radius: var(--radius);
  box-shadow: var(--shadow);
`;
const Close = styled(Button)`
  font: inherit;
  min-width: var(--target);
  min-height: var(--target);
  display: grid;
  place-items: center;
  border: none;
  background: transparent;
  color: inherit;
  cursor: pointer;
`;

export function Toasts() {
  return (
    <Corner queue={queue} aria-label="Messages">
      {({ toast: shown }) => (
        <Slip toast={shown}>
          <Content>
            <Text slot="title">{shown.content.text}</Text>
          </Content>
          <Close slot="close" aria-label="Dismiss">
            <X size={18} aria-hidden />
          </Close>
        </Slip>
      )}
    </Corner>
  );
}
