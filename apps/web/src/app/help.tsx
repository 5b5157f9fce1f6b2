import { Dialog } from "../ui/dialog.tsx";
import { Button } from "../ui/button.tsx";
import { Table } from "../ui/table.tsx";

const KEYS: readonly (readonly [string, string])[] = [
  ["?", "This list"],
  ["Ctrl K", "Find a command or a screen"],
  ["b", "Board"],
  ["w", "Vehicles"],
  ["j  h", "One step of the job on, one back"],
  ["t", "Left undone: what is unplugged, pulled, jumpered or pierced"],
  ["d", "Dark or light"],
  ["r  k  v", "Trace: red lead, black lead, reading"],
  ["n", "Trace: put the leads where the tool proposes"],
  ["m", "Trace: let the simulated vehicle answer (demo jobs)"],
  ["Enter", "In a field: on to the next; in the reading: record it. In an empty lead field: take the proposal"],
  ["0 … 9", "Trace: a digit typed beside the fields goes into the reading"],
  ["Esc", "Leave a field, so that single keys work again"],
];

/** The keyboard, on one sheet. */
export function HelpDialog({ isOpen, onClose }: { isOpen: boolean; onClose: () => void }) {
  return (
    <Dialog title="Keys" isOpen={isOpen} onClose={onClose} wide>
      <Table>
        <tbody>
          {KEYS.map(([key, text]) => (
            <tr key={key}>
              <td style={{ whiteSpace: "nowrap" }}>
                {key.split(/ {2,}/).map((k) => (
                  <span key={k}>
                    <kbd>{k}</kbd>{" "}
                  </span>
                ))}
              </td>
              <td>{text}</td>
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
