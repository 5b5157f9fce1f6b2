import { REST_STATE } from "@rheonom/core/circuit";
import { WhatIf } from "../../explore/what-if.tsx";
import { useJobContext } from "../../job/job-context.ts";
import { Faint, Page } from "../../ui/layout.tsx";
import { Notice } from "../../ui/notice.tsx";

/** An idea checked in the bay: what the vehicle of this job would do with a fault that is supposed. */
export function WhatIfScreen() {
  const { job, harness } = useJobContext();
  const last = job.view.seen.find((s) => s.struck === undefined && s.data.wrong)?.data.state;
  return (
    <Page style={{ maxWidth: "none" }}>
      <h1>What if</h1>
      <Faint>Nothing that is supposed here goes into the job.</Faint>
      {harness === undefined ? (
        <Notice tone="info">The job has no circuit yet, so nothing can be computed.</Notice>
      ) : (
        <WhatIf key={job.id} harness={harness} state={last ?? REST_STATE} />
      )}
    </Page>
  );
}
