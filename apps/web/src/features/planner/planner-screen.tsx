import { useState } from "react";
import { Button as AriaButton, GridList, GridListItem, isTextDropItem, useDragAndDrop } from "react-aria-components";
import { Link } from "react-router";
import { formatISO } from "date-fns";
import { GripVertical } from "lucide-react";
import { styled } from "styled-components";
import type { JobSummary } from "@rheonom/contract/light";
import { useJobsQuery } from "../../api/api.ts";
import { useShopQuery } from "../../api/shop-api.ts";
import { failureOf } from "../../api/failure.ts";
import { PersonDialog } from "../../job/person.tsx";
import { PlanDialog, planOfSummary } from "../../job/plan-dialog.tsx";
import { record } from "../../job/record.ts";
import { useAppDispatch, useAppSelector } from "../../job/store.ts";
import { Button } from "../../ui/button.tsx";
import { Faint, Page, Row } from "../../ui/layout.tsx";
import { Notice } from "../../ui/notice.tsx";
import { dayWords } from "../../ui/day-words.ts";
import { dayOf, hoursText, isLate, type Lane } from "./planner-model.ts";

const Lanes = styled.div`
  display: grid;
  grid-template-columns: repeat(auto-fill, minmax(260px, 1fr));
  gap: var(--s3);
  align-items: start;
`;
const LaneBox = styled.section`
  background: var(--surface);
  border: 1px solid var(--line);
  border-radius: var(--radius);
  padding: var(--s3);
  display: grid;
  gap: var(--s2);
`;
const Cards = styled(GridList<JobSummary>)`
  display: grid;
  gap: var(--s2);
  min-height: 64px;
  border-radius: var(--radius);
  outline: none;
  &[data-drop-target] {
    outline: 3px dashed var(--focus);
    outline-offset: 2px;
  }
`;
const Card = styled(GridListItem)`
  border: 1px solid var(--line-strong);
  border-radius: var(--radius);
  padding: var(--s1) var(--s2) var(--s1) 0;
  display: grid;
  grid-template-columns: auto minmax(0, 1fr);
  align-items: start;
  outline: none;
  &[data-focus-visible] {
    outline: 3px solid var(--focus);
  }
  &[data-dragging] {
    opacity: 0.5;
  }
`;
const Grip = styled(AriaButton)`
  font: inherit;
  display: grid;
  place-items: center;
  min-width: 32px;
  min-height: var(--target);
  padding: 0;
  border: none;
  background: none;
  color: var(--ink-2);
  cursor: grab;
`;
const Words = styled.div`
  display: -webkit-box;
  -webkit-box-orient: vertical;
  -webkit-line-clamp: 2;
  overflow: hidden;
`;
const Foot = styled.div`
  display: flex;
  flex-wrap: wrap;
  align-items: center;
  justify-content: space-between;
  column-gap: var(--s2);
  button {
    padding: 0 var(--s2);
  }
`;
const Load = styled.meter`
  width: 100%;
`;
const OF_JOB = "application/x-rheonom-job";
/** Open jobs that are planned at once. */
const MOST_JOBS = 200;
const USUAL_HOURS = 8;

/** Who has what today, in the order it is promised, and what waits. A job is dragged from one to another, by pointer, finger or keyboard. */
export function PlannerScreen() {
  const { data, error, refetch } = useJobsQuery({ stage: "open", limit: MOST_JOBS }, { refetchOnMountOrArgChange: true });
  const { data: shop } = useShopQuery(undefined);
  const person = useAppSelector((s) => s.session.person);
  const dispatch = useAppDispatch();
  const [planned, setPlanned] = useState<JobSummary | undefined>(undefined);
  const [unnamed, setUnnamed] = useState<{ readonly ids: readonly string[]; readonly whose: string } | undefined>(undefined);
  const jobs = data?.jobs ?? [];
  const people = [...new Set([person, ...(data?.people ?? [])])].filter((p) => p !== "");
  const now = formatISO(new Date()).slice(0, 16);
  const { lanes, waiting } = dayOf(jobs, people, now);
  const store = (ids: readonly string[], whose: string): void => {
    for (const job of jobs.filter((j) => ids.includes(j.id) && j.whose !== whose))
      dispatch(record(job.id, { type: "planned", data: { ...planOfSummary(job), whose } }));
  };
  const give = (ids: readonly string[], whose: string): void => (person === "" ? setUnnamed({ ids, whose }) : store(ids, whose));
  return (
    <Page>
      <Row style={{ justifyContent: "space-between" }}>
        <h1>Planner</h1>
        <Faint>
          {jobs.length} open, {hoursText(lanes.reduce((sum, l) => sum + l.hours, 0))} of work to be done, {waiting.length} waiting
        </Faint>
      </Row>
      {error === undefined ? null : (
        <Notice tone="danger" role="alert">
          {failureOf(error).message} <Button onPress={() => void refetch()}>Try again</Button>
        </Notice>
      )}
      {(data?.total ?? 0) > MOST_JOBS ? (
        <Notice tone="caution">
          {data!.total} jobs are open; the {MOST_JOBS} with the latest entries are planned here. Close what is done.
        </Notice>
      ) : null}
      {data === undefined && error === undefined ? <p role="status">Fetching the jobs …</p> : null}
      <Lanes>
        {lanes.map((lane) => (
          <LaneOf
            key={lane.person}
            lane={lane}
            now={now}
            hoursADay={shop?.hoursADay ?? USUAL_HOURS}
            onGive={(ids) => give(ids, lane.person)}
            onPlan={setPlanned}
          />
        ))}
      </Lanes>
      {waiting.length === 0 ? null : (
        <LaneBox aria-label="Waiting">
          <h2>Waiting</h2>
          <Lanes as="ul" style={{ listStyle: "none", margin: 0, padding: 0 }}>
            {waiting.map((j) => (
              <li key={j.id}>
                <JobLink job={j} /> <strong>{j.waits}</strong>
                {j.until === "" ? "" : ` until ${dayWords(j.until)}`} <Faint>{j.whose}</Faint>{" "}
                <Button look="quiet" onPress={() => setPlanned(j)} aria-label={`Plan ${j.vehicle} ${j.registration}`}>
                  Plan
                </Button>
              </li>
            ))}
          </Lanes>
        </LaneBox>
      )}
      {planned === undefined ? null : (
        <PlanDialog jobId={planned.id} plan={planOfSummary(planned)} people={people} onClose={() => setPlanned(undefined)} />
      )}
      <PersonDialog
        isOpen={unnamed !== undefined}
        onClose={() => setUnnamed(undefined)}
        onNamed={() => unnamed !== undefined && store(unnamed.ids, unnamed.whose)}
      />
    </Page>
  );
}

function JobLink({ job }: { job: JobSummary }) {
  return <Link to={`/jobs/${job.id}/${job.stage}`}>{job.registration === "" ? job.vehicle : `${job.registration} ${job.vehicle}`}</Link>;
}

interface LaneProps {
  readonly lane: Lane;
  readonly now: string;
  readonly hoursADay: number;
  readonly onGive: (ids: readonly string[]) => void;
  readonly onPlan: (job: JobSummary) => void;
}

function LaneOf({ lane: { person, jobs, hours }, now, hoursADay, onGive, onPlan }: LaneProps) {
  const name = person === "" ? "Nobody’s" : person;
  const { dragAndDropHooks } = useDragAndDrop({
    getItems: (keys) => [...keys].map((key) => ({ [OF_JOB]: String(key), "text/plain": nameOf(jobs, String(key)) })),
    acceptedDragTypes: [OF_JOB],
    getDropOperation: () => "move",
    onRootDrop: (e) => {
      void Promise.all(e.items.filter(isTextDropItem).map((item) => item.getText(OF_JOB))).then(onGive);
    },
  });
  return (
    <LaneBox aria-label={name}>
      <Row style={{ justifyContent: "space-between" }}>
        <h2>{name}</h2>
        <span>
          {hoursText(hours)} of {hoursText(hoursADay)}
        </span>
      </Row>
      <Load aria-label={`Hours of ${name}`} min={0} max={Math.max(hoursADay, hours)} high={hoursADay} low={0} optimum={0} value={hours} />
      {hours > hoursADay ? <strong>{hoursText(hours - hoursADay)} more than a day holds</strong> : null}
      <Cards
        aria-label={`Jobs of ${name}`}
        items={jobs}
        dragAndDropHooks={dragAndDropHooks}
        renderEmptyState={() => <Faint>Nothing. Drop a job here.</Faint>}
      >
        {(j) => (
          <Card id={j.id} textValue={`${j.registration} ${j.vehicle}`}>
            <Grip slot="drag" aria-label={`Move ${j.vehicle} ${j.registration}`}>
              <GripVertical size={18} aria-hidden />
            </Grip>
            <div>
              <JobLink job={j} />
              <Words title={j.words}>{j.words}</Words>
              <Foot>
                <span>
                  <PromisedFor job={j} now={now} /> <Faint>{hoursText(j.hoursOpen)}</Faint>
                </span>
                <Button look="quiet" onPress={() => onPlan(j)} aria-label={`Plan ${j.vehicle} ${j.registration}`}>
                  Plan
                </Button>
              </Foot>
            </div>
          </Card>
        )}
      </Cards>
    </LaneBox>
  );
}

const nameOf = (jobs: readonly JobSummary[], id: string): string => {
  const job = jobs.find((j) => j.id === id);
  return job === undefined ? id : `${job.registration} ${job.vehicle}`.trim();
};

function PromisedFor({ job, now }: { job: JobSummary; now: string }) {
  if (job.promised === "") return <Faint>no time promised</Faint>;
  const words = `promised ${dayWords(job.promised)}`;
  return isLate(job, now) ? <strong>{words}: late</strong> : <span>{words}</span>;
}
