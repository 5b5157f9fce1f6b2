import { Tab, TabList, TabPanel } from "react-aria-components";
import { styled } from "styled-components";
import { Panel } from "../../ui/layout.tsx";

export const Grid = styled.main`
  flex: 1;
  display: grid;
  grid-template-columns: minmax(300px, 372px) minmax(0, 1fr);
  gap: var(--s3);
  padding: var(--s3);
  align-items: start;
  @media (max-width: 900px) {
    grid-template-columns: minmax(0, 1fr);
  }
`;
export const SliceBox = styled.section`
  position: sticky;
  top: var(--s3);
  height: calc(100dvh - 78px);
  display: flex;
  flex-direction: column;
  background: var(--surface);
  border: 1px solid var(--line);
  border-radius: var(--radius);
  min-width: 0;
  @media (max-width: 900px) {
    position: static;
    order: 2;
    height: 520px;
  }
`;
export const Work = styled.div`
  display: flex;
  flex-direction: column;
  gap: var(--s3);
  min-width: 0;
`;
export const Tight = styled(Panel)`
  padding: var(--s3);
  gap: var(--s2);
`;
export const TabRow = styled(TabList)`
  display: flex;
  flex-wrap: wrap;
  border-bottom: 1px solid var(--line);
`;
export const TabName = styled(Tab)`
  min-height: var(--target);
  padding: 0 var(--s4);
  display: flex;
  align-items: center;
  cursor: pointer;
  border-bottom: 4px solid transparent;
  &[data-selected] {
    border-bottom-color: var(--accent);
    font-weight: 680;
  }
`;
export const TabBody = styled(TabPanel)`
  overflow-x: auto;
  padding-top: var(--s2);
`;
