import { useMemo } from "react";
import { useNavigate } from "react-router";
import { styled } from "styled-components";
import { MAX_NOTATION_LENGTH, printNotation } from "@rheonom/core/notation";
import { NotationPane, useNotationDraft } from "../../notation/notation-pane.tsx";
import { NotationHelp } from "../../notation/notation-help.tsx";
import { Button } from "../../ui/button.tsx";
import { Faint, Row } from "../../ui/layout.tsx";
import { toast } from "../../ui/toast.tsx";
import { keepItem } from "../../job/kept.ts";
import { SaveVersion } from "./save-version.tsx";
import { useVehicle } from "./vehicle-context.ts";

const Grid = styled.div`
  display: grid;
  grid-template-columns: minmax(0, 1.4fr) minmax(300px, 1fr);
  gap: var(--s3);
  @media (max-width: 900px) {
    grid-template-columns: minmax(0, 1fr);
  }
`;
const Half = styled.div`
  display: flex;
  flex-direction: column;
  gap: var(--s2);
  min-width: 0;
  min-height: 0;
`;
const Editor = styled.div`
  height: calc(100dvh - 320px);
  min-height: 360px;
  display: flex;
  flex-direction: column;
`;

/** The wiring as text: change it, see what that changes, save it as a new version. A draft stays on this device. */
export function TextTab() {
  const { id, version, versions, whole } = useVehicle();
  const navigate = useNavigate();
  const stored = useMemo(() => printNotation(whole), [whole]);
  const key = `rheonom.wiring.${id}.${version}`;
  const draft = useNotationDraft(localStorage.getItem(key) ?? stored, (next) => {
    if (next === stored) localStorage.removeItem(key);
    else if (next.length <= MAX_NOTATION_LENGTH) keepItem(key, next);
  });
  const { text, parsed } = draft;
  const after = parsed.value?.harness;
  const latest = versions[0]!.version;
  return (
    <Grid>
      <Half>
        <Row style={{ justifyContent: "space-between" }}>
          <Faint>{text === stored ? "as saved" : "changed; kept on this device until saved"}</Faint>
          <Button isDisabled={text === stored} onPress={() => draft.replace(stored)}>
            Back to version {version}
          </Button>
        </Row>
        <Editor>
          <NotationPane draft={draft} onSave={() => toast("Save it with a reason, at the right.")} />
        </Editor>
      </Half>
      <Half>
        {after === undefined ? (
          <Faint>Correct the errors first; then this shows what would change.</Faint>
        ) : (
          <SaveVersion
            id={id}
            before={whole}
            basedOn={latest}
            after={after}
            onSaved={(v) => {
              localStorage.removeItem(key);
              toast(`Saved as version ${v}.`);
              void navigate(`/vehicles/${id}/circuit`);
            }}
          />
        )}
        <NotationHelp />
      </Half>
    </Grid>
  );
}
