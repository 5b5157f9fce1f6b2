import type { ReactNode } from "react";
import { Dialog as AriaDialog, Heading, Modal, ModalOverlay } from "react-aria-components";
import { styled } from "styled-components";

/** What lies between a sheet and the page under it. */
export const Veil = styled(ModalOverlay)`
  position: fixed;
  inset: 0;
  z-index: 50;
  background: rgb(6 12 14 / 55%);
  display: grid;
  place-items: start center;
  padding: 8vh var(--s4) var(--s4);
`;
export const Sheet = styled(Modal)<{ $wide: boolean }>`
  width: min(${(p) => (p.$wide ? "760px" : "520px")}, 100%);
  max-height: 84vh;
  overflow: auto;
  background: var(--surface);
  border: 1px solid var(--line-strong);
  border-radius: 10px;
  box-shadow: var(--shadow);
`;
const Body = styled(AriaDialog)`
  padding: var(--s5);
  display: flex;
  flex-direction: column;
  gap: var(--s4);
  outline: none;
`;

export interface DialogProps {
  readonly title: string;
  readonly isOpen: boolean;
  readonly onClose: () => void;
  readonly wide?: boolean;
  readonly children: ReactNode;
}

/** A sheet over the page; Escape and a press beside it close it. */
export function Dialog({ title, isOpen, onClose, wide = false, children }: DialogProps) {
  return (
    <Veil isOpen={isOpen} onOpenChange={(open) => !open && onClose()} isDismissable>
      <Sheet $wide={wide}>
        <Body>
          <Heading slot="title">{title}</Heading>
          {children}
        </Body>
      </Sheet>
    </Veil>
  );
}
