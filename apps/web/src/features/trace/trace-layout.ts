import { Tab, TabList, TabPanel } from "react-aria-components";
import { styled } from "styled-components";
import { Panel } from "../../ui/layout.tsx";

export const Grid = styled.main`
  display: grid;
  grid-template-columns: minmax(280px, 356px) minmax(0, 1fr);
  grid-template-rows: minmax(0, 1fr);
  gap: var(--s2);
  padding: var(--s2);
  height: max(640px, calc(100dvh - var(--above, 56px)));
  @media (max-width: 900px) {
    grid-template-columns: minmax(0, 1fr);
    grid-template-rows: none;
    height: auto;
  }
`;
export const SliceBox = styled.section`
  height: 100%;
  min-height: 0;
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
  position: relative;
  display: flex;
  flex-direction: column;
  gap: var(--s2);
  min-width: 0;
  min-height: 0;
  overflow: hidden auto;
  @media (max-width: 900px) {
    overflow: visible;
  }
`;
export const Tight = styled(Panel)`
  padding: var(--s2) var(--s3);
  gap: var(--s2);
`;
/** Takes the room that is left, and scrolls by itself. */
export const Rest = styled.div`
  flex: 1 0 128px;
  height: 128px;
  overflow: auto;
  @media (max-width: 900px) {
    flex: none;
    height: auto;
    overflow: visible;
  }
`;
/** Its tabs stand below everything; what one holds slides over the lower half. */
export const Drawer = styled.div`
  flex: none;
  position: sticky;
  bottom: 0;
  z-index: 3;
  background: var(--surface);
  border: 1px solid var(--line);
  border-radius: var(--radius);
`;
export const Sheet = styled.div`
  position: absolute;
  inset: auto -1px 100% -1px;
  /* The next test and the reading field stay in sight above it. */
  max-height: max(240px, calc(100dvh - var(--above, 56px) - 390px));
  overflow: auto;
  padding: 0 var(--s3) var(--s3);
  background: var(--surface);
  border: 2px solid var(--line-strong);
  border-radius: var(--radius);
  box-shadow: var(--shadow);
  z-index: 2;
  @media (max-width: 900px) {
    position: static;
    max-height: none;
    box-shadow: none;
  }
`;
export const TabRow = styled(TabList)`
  display: flex;
  flex-wrap: wrap;
  border-bottom: 1px solid var(--line);
`;
export const TabName = styled(Tab)`
  min-height: var(--target);
  padding: 0 var(--s3);
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
