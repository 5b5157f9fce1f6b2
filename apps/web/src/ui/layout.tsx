import { styled } from "styled-components";

/** The scrolling room of a screen. */
export const Page = styled.main`
  padding: var(--s5);
  max-width: 1180px;
  margin: 0 auto;
  width: 100%;
  display: flex;
  flex-direction: column;
  gap: var(--s4);
  @media (max-width: 760px) {
    padding: var(--s3);
  }
  @media print {
    padding: 0;
    max-width: none;
  }
`;
export const Panel = styled.section`
  background: var(--surface);
  border: 1px solid var(--line);
  border-radius: var(--radius);
  padding: var(--s4);
  display: flex;
  flex-direction: column;
  gap: var(--s3);
  min-width: 0;
  @media print {
    border: none;
    padding: 0;
  }
`;
export const Row = styled.div`
  display: flex;
  flex-wrap: wrap;
  gap: var(--s2) var(--s3);
  align-items: center;
`;
export const Columns = styled.div`
  display: grid;
  grid-template-columns: repeat(auto-fit, minmax(min(100%, 300px), 1fr));
  gap: var(--s4);
`;
export const Faint = styled.span`
  color: var(--ink-2);
  font-size: 0.9375rem;
`;
export const Mono = styled.span`
  font-family: var(--mono);
  font-size: 0.9375em;
`;
export const ScreenOnly = styled.div`
  @media print {
    display: none !important;
  }
`;
/** Read out, not drawn. */
export const Hidden = styled.span`
  position: absolute;
  width: 1px;
  height: 1px;
  overflow: hidden;
  clip-path: inset(50%);
  white-space: nowrap;
`;
