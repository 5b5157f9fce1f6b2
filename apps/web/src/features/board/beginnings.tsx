import { useState } from "react";
import { useNavigate } from "react-router";
import { styled } from "styled-components";
import { useShowFinishedMutation } from "../../api/api.ts";
import { failureOf } from "../../api/failure.ts";
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
  const [showFinished, showing] = useShowFinishedMutation();
  const [failed, setFailed] = useState<string | undefined>(undefined);
  const go = async (begun: ReturnType<typeof showFinished>, screen: string): Promise<void> => {
    const answer = await begun;
    if ("error" in answer) setFailed(failureOf(answer.error).message);
    else void navigate(`/jobs/${answer.data.jobId}/${screen}`);
  };
  const isBusy = showing.isLoading;
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
        <p>A rig or vehicle with something wrong in it, and what its customer says. The simulated vehicle answers every test.</p>
        <Button onPress={() => void navigate("/practice")}>Practise</Button>
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
    </Ways>
  );
}
