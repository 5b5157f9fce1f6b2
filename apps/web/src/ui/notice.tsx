import type { ReactNode } from "react";
import { CircleAlert, Info, OctagonAlert, TriangleAlert } from "lucide-react";
import { styled } from "styled-components";

export type Tone = "info" | "caution" | "danger" | "fault";

const COLOURS: Record<Tone, { ink: string; back: string; line: string }> = {
  info: { ink: "var(--ink)", back: "var(--sunken)", line: "var(--line-strong)" },
  caution: { ink: "var(--caution)", back: "var(--caution-soft)", line: "var(--caution-line)" },
  danger: { ink: "var(--danger)", back: "var(--danger-soft)", line: "var(--danger)" },
  fault: { ink: "var(--suspect)", back: "var(--suspect-soft)", line: "var(--suspect)" },
};
const Box = styled.div<{ $tone: Tone }>`
  display: flex;
  gap: var(--s3);
  align-items: flex-start;
  padding: var(--s2) var(--s3);
  border-radius: var(--radius);
  color: ${(p) => COLOURS[p.$tone].ink};
  background: ${(p) => COLOURS[p.$tone].back};
  border: 1px solid ${(p) => COLOURS[p.$tone].line};
  border-left-width: 6px;
  & > svg {
    flex: none;
    margin-top: 1px;
  }
  & > div {
    min-width: 0;
    flex: 1;
  }
`;
const ICONS = { info: Info, caution: TriangleAlert, danger: OctagonAlert, fault: CircleAlert };

/** A framed message; its tone is told by shape and words, not by colour alone. */
export function Notice({ tone, title, children, role }: { tone: Tone; title?: string; children?: ReactNode; role?: "alert" | "status" }) {
  const Icon = ICONS[tone];
  return (
    <Box $tone={tone} role={role}>
      <Icon size={20} aria-hidden />
      <div>
        {title === undefined ? null : <strong>{title}. </strong>}
        {children}
      </div>
    </Box>
  );
}
