import { estimateRows } from "@rheonom/core/job";
import type { Estimate } from "@rheonom/core/repair";
import { Table } from "../ui/table.tsx";

/** Lines of an estimate, tax and total, written as the browser's language has it. */
export function EstimateTable({ estimate }: { estimate: Estimate }) {
  return (
    <Table>
      <tbody>
        {estimateRows(estimate, navigator.language).map(([text, each, sum], i) => (
          <tr key={i}>
            <th scope="row">{text}</th>
            <td className="n">{each}</td>
            <td className="n">{sum}</td>
          </tr>
        ))}
      </tbody>
    </Table>
  );
}
