import { useState } from "react";
import { useNavigate } from "react-router";
import { styled } from "styled-components";
import type { Harness } from "@rheonom/core/harness";
import { vehicleId } from "@rheonom/contract/light";
import { FormDialog } from "../../notation/form-dialog.tsx";
import { NotationPane, useNotationDraft } from "../../notation/notation-pane.tsx";
import { NotationHelp } from "../../notation/notation-help.tsx";
import { Button } from "../../ui/button.tsx";
import { Field } from "../../ui/field.tsx";
import { Page, Row } from "../../ui/layout.tsx";
import { toast } from "../../ui/toast.tsx";
import { keepItem } from "../../job/kept.ts";
import { ImportPanel } from "./import-panel.tsx";
import { SaveVersion } from "./save-version.tsx";

const Grid = styled.div`
  display: grid;
  grid-template-columns: minmax(0, 1.3fr) minmax(0, 1fr);
  gap: var(--s3);
  @media (max-width: 900px) {
    grid-template-columns: minmax(0, 1fr);
  }
`;
const Half = styled.div`
  display: flex;
  flex-direction: column;
  gap: var(--s3);
  min-width: 0;
`;
const Editor = styled.div`
  height: 380px;
  display: flex;
  flex-direction: column;
`;

const DRAFT = "rheonom.wiring.new";
const START = 'circuit "New vehicle"\nvehicle "Make" "Model" 2020-2024\n';

/** A vehicle that the shop does not have yet: typed, from a form, or brought in. */
export function NewVehicleScreen() {
  const navigate = useNavigate();
  const draft = useNotationDraft(localStorage.getItem(DRAFT) ?? START, (next) => void keepItem(DRAFT, next));
  const [incoming, setIncoming] = useState<Harness | undefined>(undefined);
  const [formOpen, setFormOpen] = useState(false);
  const [typedId, setTypedId] = useState<string | undefined>(undefined);
  const harness = incoming ?? draft.parsed.value?.harness;
  const id = typedId ?? shortName(harness?.name ?? "");
  const isNamed = vehicleId.safeParse(id).success;
  return (
    <Page style={{ maxWidth: 1320 }}>
      <h1>New vehicle</h1>
      <Grid>
        <Half>
          <Row>
            <Button onPress={() => setFormOpen(true)}>From a form</Button>
          </Row>
          <Editor>
            <NotationPane draft={draft} onSave={() => toast("Keep it with the button at the right.")} />
          </Editor>
          <NotationHelp />
        </Half>
        <Half>
          <ImportPanel onRead={setIncoming} />
          {harness === undefined ? null : (
            <>
              <Field
                label="Short name in addresses"
                value={id}
                onChange={setTypedId}
                error={isNamed ? undefined : "Small letters, digits and hyphens, such as plover-2."}
              />
              {isNamed ? (
                <SaveVersion
                  id={id}
                  before={undefined}
                  basedOn={0}
                  after={harness}
                  onSaved={() => {
                    localStorage.removeItem(DRAFT);
                    void navigate(`/vehicles/${id}/circuit`);
                  }}
                />
              ) : null}
            </>
          )}
        </Half>
      </Grid>
      <FormDialog
        isOpen={formOpen}
        onClose={() => setFormOpen(false)}
        from={undefined}
        replaces={draft.text !== START}
        onText={(t) => draft.replace(t)}
      />
    </Page>
  );
}

const shortName = (name: string): string =>
  name
    .toLowerCase()
    .replace(/[^a-z0-9]+/g, "-")
    .replace(/^-+|-+$/g, "")
    .slice(0, 40);
