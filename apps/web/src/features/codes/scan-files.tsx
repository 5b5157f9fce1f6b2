import { useState } from "react";
import { styled } from "styled-components";
import { readScanCsv, scanSchema, writeScanCsv, type CodeEntry, type Misread, type Scan } from "@rheonom/core/codes";
import { Button } from "../../ui/button.tsx";
import { FileButton } from "../../ui/file-button.tsx";
import { Row } from "../../ui/layout.tsx";
import { Notice } from "../../ui/notice.tsx";

const Misreads = styled.ul`
  margin: 0;
  padding-left: var(--s4);
`;

/** What could not be read, by line and character. */
export function Bad({ misread }: { misread: readonly Misread[] }) {
  return (
    <Notice tone="caution" title="Not read">
      <Misreads>
        {misread.slice(0, 12).map((m) => (
          <li key={`${m.line} ${m.column}`}>
            Line {m.line}, character {m.column}: {m.found === "" ? "the end" : `“${m.found}”`}; expected {m.expected}.
          </li>
        ))}
      </Misreads>
    </Notice>
  );
}

/** A scan as a file of another tool: JSON of this one, or a table with a column "code". */
export function Import({ onRead }: { onRead: (codes: readonly CodeEntry[], silent: readonly string[], takenAt?: string) => void }) {
  const [misread, setMisread] = useState<readonly Misread[]>([]);
  const take = async (file: File | undefined): Promise<void> => {
    if (file === undefined) return;
    const text = await file.text();
    const json = file.name.toLowerCase().endsWith(".json") ? parseScan(text) : undefined;
    if (json !== undefined && "misread" in json) {
      setMisread([json.misread]);
      return;
    }
    if (json !== undefined) {
      setMisread([]);
      onRead(
        json.scan.codes,
        json.scan.modules.flatMap((m) => (m.answers ? [] : [m.id])),
        json.scan.takenAt,
      );
      return;
    }
    const read = readScanCsv(text);
    setMisread(read.misread);
    if (read.codes.length + read.silent.length > 0) onRead(read.codes, read.silent);
  };
  return (
    <>
      <FileButton label="Scan file" accept=".csv,.json,text/csv,application/json" onFiles={([file]) => void take(file)}>
        Import a scan
      </FileButton>
      {misread.length === 0 ? null : <Bad misread={misread} />}
    </>
  );
}

function parseScan(text: string): { readonly scan: Scan } | { readonly misread: Misread } {
  let data: unknown;
  try {
    data = JSON.parse(text);
  } catch (error) {
    return { misread: { line: 1, column: 1, found: error instanceof Error ? error.message : "no JSON", expected: "a scan as JSON" } };
  }
  const read = scanSchema.safeParse(data);
  if (read.success) return { scan: read.data };
  const issue = read.error.issues[0]!;
  return { misread: { line: 1, column: 1, found: issue.path.join("."), expected: issue.message } };
}

export function Export({ scan }: { scan: Scan }) {
  const save = (name: string, type: string, text: string): void => {
    const link = document.createElement("a");
    link.href = URL.createObjectURL(new Blob([text], { type }));
    link.download = name;
    link.click();
    URL.revokeObjectURL(link.href);
  };
  const name = `scan-${scan.takenAt.slice(0, 16).replaceAll(":", "")}`;
  return (
    <Row>
      <Button onPress={() => save(`${name}.csv`, "text/csv", writeScanCsv(scan))}>Save as CSV</Button>
      <Button onPress={() => save(`${name}.json`, "application/json", JSON.stringify(scan, null, 2))}>Save as JSON</Button>
    </Row>
  );
}
