import { useState } from "react";
import { useNavigate } from "react-router";
import { styled } from "styled-components";
import { usePractiseMutation, useShowFinishedMutation } from "../../api/api.ts";
import { failureOf } from "../../api/failure.ts";
import { PersonDialog } from "../../job/person.tsx";
import { useAppSelector } from "../../job/store.ts";
import { Button } from "../../ui/button.tsx";
import { Panel } from "../../ui/layout.tsx";
import { Notice } from "../../ui/notice.tsx";

const Ways = styled.div`
  display: grid;
  grid-template-columns: repeat(auto-fit, minmax(240px, 1fr));
  gap: var(--s3);
  p {
    margin: 0;
  }
`;
/** Ways to begin while the shop has no job. */
export function Beginnings() {
  const navigate = useNavigate();
  const person = useAppSelector((s) => s.session.person);
  const [practise, practising] = usePractiseMutation();
  const [showFinished, showing] = useShowFinishedMutation();
  const [failed, setFailed] = useState<string | undefined>(undefined);
  const [isUnnamed, setUnnamed] = useState(false);
  const go = async (begun: ReturnType<typeof practise> | ReturnType<typeof showFinished>, screen: string): Promise<void> => {
    const answer = await begun;
    if ("error" in answer) setFailed(failureOf(answer.error).message);
    else void navigate(`/jobs/${answer.data.jobId}/${screen}`);
  };
  const practiseAs = (by: string): void => void go(practise({ by }), "trace");
  const isBusy = practising.isLoading || showing.isLoading;
  return (
    <Ways>
      <Panel aria-label="A vehicle in the bay">
        <h2>A vehicle in the bay</h2>
        <p>Vehicle and the customer’s words are enough. Without a diagram, type the circuit as you find it.</p>
        <Button look="solid" onPress={() => void navigate("/jobs/new")}>
          New job
        </Button>
      </Panel>
      <Panel aria-label="A fault to practise on">
        <h2>A fault to practise on</h2>
        <p>A bench rig with something wrong in it. The simulated vehicle answers every reading.</p>
        <Button isDisabled={isBusy} onPress={() => (person === "" ? setUnnamed(true) : practiseAs(person))}>
          Practise
        </Button>
      </Panel>
      <Panel aria-label="A finished job">
        <h2>A finished job</h2>
        <p>From complaint to signed report, as it looks when the work is done.</p>
        <Button isDisabled={isBusy} onPress={() => void go(showFinished(undefined), "record")}>
          Have a look
        </Button>
      </Panel>
      {failed === undefined ? null : (
        <Notice tone="danger" role="alert">
          {failed}
        </Notice>
      )}
      <PersonDialog isOpen={isUnnamed} onClose={() => setUnnamed(false)} onNamed={practiseAs} />
    </Ways>
  );
}
