import { useMemo, useState } from "react";
import { Link, useNavigate } from "react-router";
import {
  createColumnHelper,
  flexRender,
  getCoreRowModel,
  getFilteredRowModel,
  getSortedRowModel,
  useReactTable,
  type SortingState,
} from "@tanstack/react-table";
import { formatDistanceToNowStrict } from "date-fns";
import { ArrowDown, ArrowUp, Plus } from "lucide-react";
import { styled } from "styled-components";
import type { JobSummary } from "@rheonom/contract/api";
import { useJobsQuery } from "../../api/api.ts";
import { failureOf } from "../../api/failure.ts";
import { Button } from "../../ui/button.tsx";
import { Field } from "../../ui/field.tsx";
import { Faint, Hidden, Page, Panel, Row } from "../../ui/layout.tsx";
import { Notice } from "../../ui/notice.tsx";
import { Table } from "../../ui/table.tsx";
import { useKeys } from "../../ui/use-keys.ts";

const column = createColumnHelper<JobSummary>();
const ago = (iso: string): string => formatDistanceToNowStrict(new Date(iso), { addSuffix: true });

const Vehicle = styled(Link)`
  display: block;
  min-height: var(--target);
  padding: var(--s1) 0;
  color: var(--ink);
  font-weight: 680;
  text-decoration: none;
  &:hover {
    color: var(--accent);
    text-decoration: underline;
  }
  span {
    display: block;
    font-weight: 400;
    color: var(--ink-2);
  }
`;
const Stage = styled.span`
  display: inline-block;
  padding: 2px 10px;
  border-radius: 99px;
  border: 1px solid var(--line-strong);
  white-space: nowrap;
  &[data-stage="closed"] {
    border-style: dashed;
    color: var(--ink-2);
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

const columns = [
  column.accessor((j) => `${j.vehicle} ${j.registration}`, {
    id: "vehicle",
    header: "Vehicle",
    cell: ({ row: { original: j } }) => (
      <Vehicle to={`/jobs/${j.id}/${j.stage === "closed" ? "record" : j.stage}`}>
        {j.vehicle}
        <span>{j.registration}</span>
      </Vehicle>
    ),
  }),
  column.accessor("words", { header: "Complaint", cell: (c) => <span>{c.getValue()}</span> }),
  column.accessor("stage", { header: "Next step", cell: (c) => <Stage data-stage={c.getValue()}>{c.getValue()}</Stage> }),
  column.accessor("leftUndone", {
    header: "Left undone",
    cell: (c) => (c.getValue() === 0 ? <Faint>–</Faint> : <strong>{c.getValue()}</strong>),
  }),
  column.accessor("openedBy", { header: "Opened by" }),
  column.accessor("lastAt", { header: "Last entry", cell: (c) => <span title={c.getValue()}>{ago(c.getValue())}</span> }),
];

/** The shop's jobs. */
export function BoardScreen() {
  const { data, error, isLoading, refetch } = useJobsQuery(undefined, {
    refetchOnMountOrArgChange: true,
    pollingInterval: 30_000,
    skipPollingIfUnfocused: true,
  });
  const navigate = useNavigate();
  const [sorting, setSorting] = useState<SortingState>([{ id: "lastAt", desc: true }]);
  const [search, setSearch] = useState("");
  useKeys({ c: () => void navigate("/jobs/new") });
  const jobs = useMemo(() => data?.jobs ?? [], [data]);
  const table = useReactTable({
    data: jobs,
    columns,
    state: { sorting, globalFilter: search },
    onSortingChange: setSorting,
    onGlobalFilterChange: setSearch,
    globalFilterFn: "includesString",
    getCoreRowModel: getCoreRowModel(),
    getSortedRowModel: getSortedRowModel(),
    getFilteredRowModel: getFilteredRowModel(),
  });
  const rows = table.getRowModel().rows;
  return (
    <Page>
      <Row style={{ justifyContent: "space-between", alignItems: "end" }}>
        <h1>Board</h1>
        <Row style={{ alignItems: "end" }}>
          <Field label="Find" value={search} onChange={setSearch} placeholder="vehicle, plate, words" />
          <Button look="solid" onPress={() => void navigate("/jobs/new")}>
            <Plus size={18} aria-hidden /> New job
          </Button>
        </Row>
      </Row>
      {error === undefined ? null : (
        <Notice tone="danger" role="alert">
          {failureOf(error).message} <Button onPress={() => void refetch()}>Try again</Button>
        </Notice>
      )}
      {isLoading ? <p role="status">Fetching the jobs …</p> : null}
      {data !== undefined && jobs.length === 0 ? (
        <Panel>
          <p>
            There is no job yet. Start with <Link to="/jobs/new">a new job</Link>: vehicle and the customer’s words are enough.
          </p>
        </Panel>
      ) : null}
      {jobs.length > 0 ? (
        <Panel style={{ padding: 0, overflowX: "auto" }}>
          <Table>
            <caption>
              <Hidden>Jobs of the shop</Hidden>
            </caption>
            <thead>
              {table.getHeaderGroups().map((group) => (
                <tr key={group.id}>
                  {group.headers.map((h) => {
                    const sorted = h.column.getIsSorted();
                    return (
                      <th key={h.id} scope="col" aria-sort={sorted === false ? "none" : sorted === "asc" ? "ascending" : "descending"}>
                        <SortButton onClick={h.column.getToggleSortingHandler()}>
                          {flexRender(h.column.columnDef.header, h.getContext())}
                          {sorted === "asc" ? (
                            <ArrowUp size={14} aria-hidden />
                          ) : sorted === "desc" ? (
                            <ArrowDown size={14} aria-hidden />
                          ) : null}
                        </SortButton>
                      </th>
                    );
                  })}
                </tr>
              ))}
            </thead>
            <tbody>
              {rows.map((r) => (
                <tr key={r.id}>
                  {r.getVisibleCells().map((c) => (
                    <td key={c.id}>{flexRender(c.column.columnDef.cell, c.getContext())}</td>
                  ))}
                </tr>
              ))}
            </tbody>
          </Table>
          {rows.length === 0 ? (
            <p style={{ padding: "var(--s4)" }}>
              No job matches “{search}”. Clear the search to see all {jobs.length}.
            </p>
          ) : null}
        </Panel>
      ) : null}
    </Page>
  );
}
