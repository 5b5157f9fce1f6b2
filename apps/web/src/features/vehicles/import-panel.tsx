import { useState } from "react";
import { Upload } from "lucide-react";
import type { Harness } from "@rheonom/core/harness";
import { Button } from "../../ui/button.tsx";
import { FileButton } from "../../ui/file-button.tsx";
import { Faint, Hidden, Panel, Row } from "../../ui/layout.tsx";
import { Notice } from "../../ui/notice.tsx";
import { Table } from "../../ui/table.tsx";
import { session } from "../../worker/the-session.ts";
import { mend, readFiles, type FilesRead, type Reader } from "./read-files.ts";

function orGivenUp<T>(answer: T | undefined): T {
  if (answer === undefined) throw new Error("Reading was given up.");
  return answer;
}

const READER: Reader = {
  tables: async (files, onProgress) => orGivenUp(await session.askAlone("tables", { files }, onProgress).answer),
  parse: async (text) => orGivenUp(await session.askAlone("parse", { text }).answer),
};

/** Chooses files, reads them, and lists what is wrong by row and column. What is done with the wiring is up to the caller. */
export function ImportPanel({ onRead }: { onRead: (harness: Harness | undefined) => void }) {
  const [share, setShare] = useState<number | undefined>(undefined);
  const [read, setRead] = useState<FilesRead | undefined>(undefined);
  const choose = async (files: readonly File[]): Promise<void> => {
    setRead(undefined);
    onRead(undefined);
    setShare(0);
    try {
      const result = await readFiles(files, READER, setShare);
      setRead(result);
      onRead(result.harness);
    } catch (error) {
      const message = `The files could not be read: ${error instanceof Error ? error.message : String(error)}`;
      setRead({
        harness: undefined,
        problems: [{ severity: "error", file: files[0]!.name, row: undefined, column: "", message }],
        found: [],
      });
    } finally {
      setShare(undefined);
    }
  };
  const errors = read?.problems.filter((p) => p.severity === "error").length ?? 0;
  return (
    <Panel style={{ padding: "var(--s3)" }}>
      <h2>Bring in</h2>
      <Faint>
        A JSON document, a circuit text, or the CSV tables of a spreadsheet, several at once. Nothing is stored before you say so.
      </Faint>
      <Row>
        <FileButton
          label="Files with wiring"
          accept=".json,.csv,.tsv,.txt,.circuit,text/csv,application/json,text/plain"
          multiple
          onFiles={(files) => void choose(files)}
        >
          <Upload size={18} aria-hidden /> Choose files
        </FileButton>
        {share === undefined ? null : (
          <>
            <progress value={share} max={1} aria-label="Reading" />
            <Faint role="status">{Math.round(share * 100)} %</Faint>
          </>
        )}
      </Row>
      {read === undefined ? null : (
        <div role="status">
          {read.found.length === 0 ? null : <Faint>{read.found.join("; ")}</Faint>}
          {errors > 0 ? (
            <Notice tone="danger" title={`${errors} ${errors === 1 ? "error" : "errors"}; nothing was taken in`}>
              Mend them in the file and choose it again.
            </Notice>
          ) : null}
          {read.problems.length === 0 ? null : (
            // A scrolling region must be reachable by keyboard.
            // eslint-disable-next-line jsx-a11y/no-noninteractive-tabindex
            <div style={{ overflow: "auto", maxHeight: 340 }} tabIndex={0} role="region" aria-label="Problems">
              <Table>
                <caption>
                  <Hidden>Problems of the files</Hidden>
                </caption>
                <thead>
                  <tr>
                    <th scope="col">File</th>
                    <th scope="col" className="n">
                      Row
                    </th>
                    <th scope="col">Column</th>
                    <th scope="col">What is wrong</th>
                  </tr>
                </thead>
                <tbody>
                  {read.problems.slice(0, 200).map((p, i) => (
                    <tr key={i}>
                      <td>{p.file}</td>
                      <td className="n">{p.row ?? ""}</td>
                      <td>{p.column}</td>
                      <td>
                        {p.severity === "warning" ? "doubt: " : ""}
                        {p.message}{" "}
                        {p.fix === undefined ? null : (
                          <Button
                            onPress={() => {
                              const next = mend(read, p.fix!.edit);
                              setRead(next);
                              onRead(next.harness);
                            }}
                          >
                            {p.fix.words}
                          </Button>
                        )}
                      </td>
                    </tr>
                  ))}
                </tbody>
              </Table>
            </div>
          )}
        </div>
      )}
    </Panel>
  );
}
