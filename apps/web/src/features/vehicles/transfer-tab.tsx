import { useState } from "react";
import { useNavigate } from "react-router";
import { printNotation, writeTables } from "@rheonom/core/notation";
import type { Harness } from "@rheonom/core/harness";
import { saveFile } from "../../ui/save-file.ts";
import { Button } from "../../ui/button.tsx";
import { Columns, Faint, Panel, Row } from "../../ui/layout.tsx";
import { toast } from "../../ui/toast.tsx";
import { ImportPanel } from "./import-panel.tsx";
import { SaveVersion } from "./save-version.tsx";
import { useVehicle } from "./vehicle-context.ts";

/** The wiring as files, out and in. */
export function TransferTab() {
  const { id, version, versions, whole } = useVehicle();
  const navigate = useNavigate();
  const [incoming, setIncoming] = useState<Harness | undefined>(undefined);
  const tables = writeTables(whole);
  return (
    <Columns>
      <Panel style={{ padding: "var(--s3)" }}>
        <h2>Take along</h2>
        <Faint>Version {version}, with all its options.</Faint>
        <Row>
          <Button onPress={() => saveFile(`${id}-v${version}.json`, JSON.stringify(whole, null, 2), "application/json")}>JSON</Button>
          <Button onPress={() => saveFile(`${id}-v${version}.circuit`, printNotation(whole), "text/plain")}>Circuit text</Button>
        </Row>
        <h3>Tables for a spreadsheet (CSV)</h3>
        <Row>
          {tables.map((t) => (
            <Button key={t.name} onPress={() => saveFile(`${id}-${t.name}`, t.text, "text/csv")}>
              {t.name.replace(".csv", "")}
            </Button>
          ))}
        </Row>
      </Panel>
      <div style={{ display: "flex", flexDirection: "column", gap: "var(--s3)" }}>
        <ImportPanel onRead={setIncoming} />
        {incoming === undefined ? null : (
          <SaveVersion
            id={id}
            before={whole}
            basedOn={versions[0]!.version}
            after={incoming}
            onSaved={(v) => {
              toast(`Saved as version ${v}.`);
              void navigate(`/vehicles/${id}/circuit`);
            }}
          />
        )}
      </div>
    </Columns>
  );
}
