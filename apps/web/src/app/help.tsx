import { shortcutRows } from "../job/shortcuts.ts";
import { Dialog } from "../ui/dialog.tsx";
import { Button } from "../ui/button.tsx";
import { Table } from "../ui/table.tsx";

/** The keyboard, on one sheet. */
export function HelpDialog({ isOpen, onClose }: { isOpen: boolean; onClose: () => void }) {
  return (
    <Dialog title="Keys" isOpen={isOpen} onClose={onClose} wide>
      <Table>
        <tbody>
          {shortcutRows().map(({ shown, words }) => (
            <tr key={words}>
              <td style={{ whiteSpace: "nowrap" }}>
                <kbd>{shown}</kbd>
              </td>
              <td>{words}</td>
            </tr>
          ))}
        </tbody>
      </Table>
      <p>
        Lead places: <kbd>-</kbd> and <kbd>+</kbd> are the battery posts, <kbd>F3.2</kbd> the second blade of fuse F3, <kbd>C12.4a</kbd>{" "}
        side a of cavity 4, <kbd>G5</kbd> a ground stud, <kbd>body</kbd> bare metal. Readings: <kbd>12.31</kbd>, <kbd>440 mV</kbd>,{" "}
        <kbd>4.7 kohm</kbd>, <kbd>OL</kbd>.
      </p>
      <Button look="solid" onPress={onClose}>
        Close
      </Button>
    </Dialog>
  );
}
