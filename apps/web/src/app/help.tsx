import { useLocation } from "react-router";
import { shortcutRows, type ShortcutRow } from "../job/shortcuts.ts";
import { Button } from "../ui/button.tsx";
import { Dialog } from "../ui/dialog.tsx";
import { Table } from "../ui/table.tsx";
import { helpFor } from "./screen-help.ts";

/** What this screen is for, and its keys. */
export function HelpDialog({ isOpen, onClose }: { isOpen: boolean; onClose: () => void }) {
  const { pathname } = useLocation();
  const { name, lines, keys } = helpFor(pathname);
  const own = keys.flatMap((screen) => shortcutRows(screen));
  return (
    <Dialog title={name} isOpen={isOpen} onClose={onClose} wide>
      <ul style={{ margin: 0, paddingLeft: "1.1em" }}>
        {lines.map((line) => (
          <li key={line}>{line}</li>
        ))}
      </ul>
      {own.length === 0 ? null : <KeyTable title="Keys here" rows={own} />}
      {keys.includes("trace") ? (
        <p style={{ margin: 0 }}>
          Lead places: <kbd>-</kbd> and <kbd>+</kbd> are the battery posts, <kbd>F3.2</kbd> the second blade of fuse F3, <kbd>C12.4a</kbd>{" "}
          side a of cavity 4, <kbd>G5</kbd> a ground stud, <kbd>body</kbd> bare metal. Readings: <kbd>12.31</kbd>, <kbd>440 mV</kbd>,{" "}
          <kbd>4.7 kohm</kbd>, <kbd>OL</kbd>.
        </p>
      ) : null}
      <KeyTable title="Keys everywhere" rows={shortcutRows()} />
      <Button look="solid" onPress={onClose}>
        Close
      </Button>
    </Dialog>
  );
}

function KeyTable({ title, rows }: { title: string; rows: readonly ShortcutRow[] }) {
  return (
    <section aria-label={title}>
      <h2 style={{ margin: 0, fontSize: "1rem" }}>{title}</h2>
      <Table>
        <tbody>
          {rows.map(({ shown, words }) => (
            <tr key={words}>
              <td style={{ whiteSpace: "nowrap" }}>
                <kbd>{shown}</kbd>
              </td>
              <td>{words}</td>
            </tr>
          ))}
        </tbody>
      </Table>
    </section>
  );
}
