import { readTypedCodes, type CodeEntry, type Scan } from "@rheonom/core/codes";
import { useJobContext } from "../../job/job-context.ts";
import { useKeptForm } from "../../job/kept-form.ts";
import { Button } from "../../ui/button.tsx";
import { TextInput } from "../../ui/form.tsx";
import { Faint, Panel, Row } from "../../ui/layout.tsx";
import { toast } from "../../ui/toast.tsx";
import { areWrittenDown, linesLeft } from "./codes-model.ts";
import { Bad, Import } from "./scan-files.tsx";

const DRAFT = { text: "" };

export interface TypeCodesProps {
  readonly onKeep: (codes: readonly CodeEntry[], silent: readonly string[], source: Scan["source"], takenAt?: string) => void;
}

/** Codes as they stand on a scan tool, typed or from a file. */
export function TypeCodes({ onKeep }: TypeCodesProps) {
  const { job, record } = useJobContext();
  const { control, watch, setValue, clear } = useKeptForm(`rheonom.codes.${job.id}`, DRAFT);
  const text = watch("text");
  const typed = readTypedCodes(text);
  const isKept = areWrittenDown(job.view);
  return (
    <Panel>
      <TextInput
        control={control}
        name="text"
        label="What the scan tool shows, one code a line"
        hint="U0100-87 active ECM · the status may be left out (stored) · “ECM silent” for a module that does not answer"
        lines={5}
      />
      {typed.misread.length === 0 ? null : <Bad misread={typed.misread} />}
      <Row>
        <Button
          look="solid"
          isDisabled={typed.codes.length + typed.silent.length === 0}
          onPress={() => {
            onKeep(typed.codes, typed.silent, "typed");
            if (typed.misread.length === 0) clear();
            else setValue("text", linesLeft(text, typed.misread));
          }}
        >
          Keep {typed.codes.length} {typed.codes.length === 1 ? "code" : "codes"}
          {typed.silent.length === 0 ? "" : ` and ${typed.silent.length} silent`}
        </Button>
        <Import onRead={(codes, silent, takenAt) => onKeep(codes, silent, "import", takenAt)} />
        <Button
          isDisabled={!isKept}
          onPress={() => {
            record({ type: "codes-cleared", data: { note: "" } });
            toast("Written down: the codes were cleared. Turn the key, read them again, and keep what has come back.");
          }}
        >
          Codes were cleared
        </Button>
        {isKept ? null : <Faint>They are written down before they are cleared.</Faint>}
      </Row>
    </Panel>
  );
}
