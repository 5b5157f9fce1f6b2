import type { ReactNode } from "react";
import { ArrowDown, ArrowUp } from "lucide-react";
import { styled } from "styled-components";

/** A plain data table. Give cells of figures the class "n". */
export const Table = styled.table`
  width: 100%;
  border-collapse: collapse;
  font-size: 0.9375rem;
  th,
  td {
    text-align: left;
    vertical-align: top;
    padding: 6px var(--s3);
    border-bottom: 1px solid var(--line);
  }
  th {
    font-weight: 640;
    color: var(--ink-2);
    font-size: 0.875rem;
    white-space: nowrap;
  }
  thead th {
    position: sticky;
    top: 0;
    background: var(--surface);
    z-index: 1;
  }
  .n {
    text-align: right;
    white-space: nowrap;
    font-family: var(--mono);
    font-size: 0.875rem;
  }
  tr[data-struck] td {
    text-decoration: line-through;
    color: var(--ink-2);
  }
  tr[data-selected] td,
  tr[data-selected] th {
    background: var(--accent-soft);
  }
  @media print {
    thead th {
      position: static;
    }
    tr {
      break-inside: avoid;
    }
  }
`;

const SortButton = styled.button`
  all: unset;
  cursor: pointer;
  display: inline-flex;
  align-items: center;
  gap: 4px;
  min-height: 36px;
  &:focus-visible {
    outline: 3px solid var(--focus);
    outline-offset: 2px;
  }
`;

export type Order = "asc" | "desc";

/** A column's heading that sorts by it; pressed again it turns the order round. `order`: undefined while another column sorts. */
export function SortHeading({
  order,
  onSort,
  children,
}: {
  order: Order | undefined;
  onSort: (order: Order) => void;
  children: ReactNode;
}) {
  return (
    <th scope="col" aria-sort={order === undefined ? "none" : order === "asc" ? "ascending" : "descending"}>
      <SortButton onClick={() => onSort(order === "asc" ? "desc" : "asc")}>
        {children}
        {order === "asc" ? <ArrowUp size={14} aria-hidden /> : order === "desc" ? <ArrowDown size={14} aria-hidden /> : null}
      </SortButton>
    </th>
  );
}
