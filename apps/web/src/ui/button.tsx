import { Button as AriaButton, ToggleButton as AriaToggle, type ButtonProps, type ToggleButtonProps } from "react-aria-components";
import { css, styled } from "styled-components";

export type Look = "solid" | "plain" | "quiet";

const base = css`
  font: inherit;
  display: inline-flex;
  align-items: center;
  justify-content: center;
  gap: var(--s2);
  min-height: var(--target);
  min-width: var(--target);
  padding: 0 var(--s4);
  border-radius: var(--radius);
  border: 1px solid transparent;
  cursor: pointer;
  white-space: nowrap;
  text-decoration: none;
  /* Words are cut off before the icon is. */
  & > svg {
    flex: none;
  }
  &[data-disabled] {
    cursor: not-allowed;
    border-style: dashed;
    border-color: var(--line-strong);
    background: transparent;
    color: var(--ink-2);
  }
  @media print {
    display: none;
  }
`;

const looks: Record<Look, ReturnType<typeof css>> = {
  solid: css`
    background: var(--accent);
    color: var(--on-accent);
    font-weight: 640;
    &[data-hovered] {
      filter: brightness(1.1);
    }
  `,
  plain: css`
    background: var(--field);
    color: var(--ink);
    border-color: var(--line-strong);
    &[data-hovered] {
      background: var(--accent-soft);
    }
  `,
  quiet: css`
    background: transparent;
    color: var(--accent);
    padding: 0 var(--s3);
    &[data-hovered] {
      background: var(--accent-soft);
    }
  `,
};

const Styled = styled(AriaButton)<{ $look: Look }>`
  ${base}
  ${(p) => looks[p.$look]}
`;

/** A push button of at least 44 px. */
export function Button({ look = "plain", ...props }: ButtonProps & { look?: Look }) {
  return <Styled $look={look} {...props} />;
}

/** The same look for links, which lead somewhere instead of doing something. */
export const buttonLink = css`
  ${base}
  ${looks.plain}
  &:hover {
    background: var(--accent-soft);
  }
`;

const StyledToggle = styled(AriaToggle)`
  ${base}
  ${looks.plain}
  padding: 0 var(--s3);
  &[data-selected] {
    background: var(--accent);
    color: var(--on-accent);
    border-color: var(--accent);
    font-weight: 640;
  }
`;

/** On or off; says its state to a screen reader. */
export function Toggle(props: ToggleButtonProps) {
  return <StyledToggle {...props} />;
}
