import { useState } from "react";
import { useSearchParams } from "react-router";
import { styled } from "styled-components";
import { ADVICE_GIVEN, type PracticeMenu } from "@rheonom/contract/practice";
import { usePracticeMenuQuery } from "../../api/practice-api.ts";
import { failureOf } from "../../api/failure.ts";
import { useBeginPractice } from "../../job/begin-practice.tsx";
import { Button, Toggle } from "../../ui/button.tsx";
import { Faint, Hidden, Page, Panel, Row } from "../../ui/layout.tsx";
import { Notice } from "../../ui/notice.tsx";
import { Segmented } from "../../ui/segmented.tsx";
import { Select } from "../../ui/select.tsx";
import { Table } from "../../ui/table.tsx";
import { ClassPanel } from "./class-panel.tsx";
import { DrillPanel } from "./drill-panel.tsx";
import { LearningPanel } from "./learning-panel.tsx";

const Form = styled.div`
  display: grid;
  grid-template-columns: minmax(0, 1fr) minmax(0, 1fr);
  gap: var(--s3);
  @media (max-width: 760px) {
    grid-template-columns: minmax(0, 1fr);
  }
`;
const Said = styled.span`
  display: block;
  max-width: 70ch;
`;

const LEVELS = [
  { id: "easy", text: "Easy", value: 0.25 },
  { id: "medium", text: "Medium", value: 0.45 },
  { id: "hard", text: "Hard", value: 0.7 },
] as const;
type Level = (typeof LEVELS)[number]["id"];
const levelOf = (difficulty: number): Level => (difficulty < 0.36 ? "easy" : difficulty < 0.56 ? "medium" : "hard");
const ADVICE_WORDS = { off: "Off", asked: "On request", on: "On" } as const;
type Advice = (typeof ADVICE_GIVEN)[number];

const ANY = "any";
const VIEWS = [
  { id: "me", text: "For me" },
  { id: "drill", text: "One minute" },
  { id: "class", text: "Class" },
] as const;

/** Faults without end: a vehicle, a kind of fault and how hard, or one of those that are ready. */
export function PracticeScreen() {
  const { data, error } = usePracticeMenuQuery(undefined);
  return (
    <Page>
      <h1>Practice</h1>
      {error !== undefined ? (
        <Notice tone="danger" role="alert">
          {failureOf(error).message}
        </Notice>
      ) : data === undefined ? (
        <p role="status">Loading …</p>
      ) : (
        <Chosen menu={data} />
      )}
    </Page>
  );
}

function Chosen({ menu }: { menu: PracticeMenu }) {
  const [params, setParams] = useSearchParams();
  const { begin, isBusy, person, beside } = useBeginPractice();
  const set = (name: string, value: string): void => {
    const next = new URLSearchParams(params);
    next.set(name, value);
    setParams(next, { replace: true });
  };
  const view = VIEWS.find((v) => v.id === params.get("view"))?.id ?? "me";
  const vehicle = params.get("vehicle") ?? ANY;
  const family = params.get("family") ?? ANY;
  const level = LEVELS.find((l) => l.id === params.get("level")) ?? LEVELS[0];
  const advice: Advice = ADVICE_GIVEN.find((a) => a === params.get("advice")) ?? "asked";
  const of = params.get("of");
  const isTimed = params.get("clock") !== "off";
  const misdrawn = params.get("diagram") === "doubtful";
  const chosen = menu.vehicles.find((v) => `${v.from} ${v.id}` === vehicle);
  const manner = { advice, clock: isTimed };
  const views = <Segmented label="Practice for" hideLabel value={view} onChange={(v) => set("view", v)} options={VIEWS} />;
  if (view === "drill")
    return (
      <>
        {views}
        <DrillPanel />
      </>
    );
  return (
    <>
      {views}
      {view === "class" ? <ClassPanel menu={menu} /> : null}
      {of === null ? null : (
        <Panel aria-label="A fault that this shop had">
          <h2>A fault that this shop had</h2>
          <p>The fault that the repair of that job was made for, on its circuit, without whose vehicle it was.</p>
          <Button look="solid" isDisabled={isBusy} onPress={() => begin({ ofJob: of, ...manner })}>
            Practise it
          </Button>
        </Panel>
      )}
      <Panel aria-label="Make a practice job">
        <h2>Make one</h2>
        <Form>
          <Select
            label="Vehicle"
            value={chosen === undefined ? ANY : vehicle}
            onChange={(v) => set("vehicle", v)}
            options={[{ id: ANY, text: "Any bench rig" }, ...menu.vehicles.map((v) => ({ id: `${v.from} ${v.id}`, text: v.name }))]}
          />
          <Select
            label="Kind of fault"
            value={family}
            onChange={(f) => set("family", f)}
            options={[{ id: ANY, text: "Any: not told" }, ...menu.families.map((f) => ({ id: f, text: f }))]}
          />
        </Form>
        <Row style={{ marginTop: "var(--s3)" }}>
          <Segmented label="Difficulty" value={level.id} onChange={(l) => set("level", l)} options={LEVELS} />
          <Toggle isSelected={isTimed} onChange={(on) => set("clock", on ? "on" : "off")}>
            Show minutes
          </Toggle>
          <Toggle isSelected={misdrawn} onChange={(on) => set("diagram", on ? "doubtful" : "right")}>
            Diagram may be wrong
          </Toggle>
          <Segmented
            label="Advice"
            value={advice}
            onChange={(a) => set("advice", a)}
            options={ADVICE_GIVEN.map((id) => ({ id, text: ADVICE_WORDS[id] }))}
          />
        </Row>
        <Row style={{ marginTop: "var(--s3)" }}>
          <Button
            look="solid"
            isDisabled={isBusy}
            onPress={() =>
              begin({
                ...(chosen === undefined ? {} : { vehicle: { from: chosen.from, id: chosen.id } }),
                ...(family === ANY ? {} : { family }),
                difficulty: level.value,
                misdrawn,
                ...manner,
              })
            }
          >
            {isBusy ? "Breaking something …" : "Start"}
          </Button>
          <Faint>
            The vehicle is simulated: meter, lamp, scan tool, scope, eyes and hands answer. What is wrong is told when the job is closed.
          </Faint>
        </Row>
        {beside}
      </Panel>
      {view === "class" ? null : <LearningPanel by={person} isBusy={isBusy} onNext={() => begin({ next: true, ...manner })} />}
      <Ready menu={menu} vehicle={chosen?.id} level={level.id} isBusy={isBusy} onStart={(id) => begin({ ready: id, ...manner })} />
    </>
  );
}

/** One of each vehicle after the other, so that neighbours in the list are no neighbours on a vehicle. */
function mixed(list: PracticeMenu["ready"]): PracticeMenu["ready"] {
  const counts = new Map<string, number>();
  const placed = list.map((r) => {
    const at = counts.get(r.vehicle) ?? 0;
    counts.set(r.vehicle, at + 1);
    return { r, at };
  });
  return placed.sort((p, q) => p.at - q.at).map((p) => p.r);
}

/** Rows that are shown at first. */
const SHOWN = 12;

function Ready({
  menu,
  vehicle,
  level,
  isBusy,
  onStart,
}: {
  menu: PracticeMenu;
  vehicle: string | undefined;
  level: Level;
  isBusy: boolean;
  onStart: (id: string) => void;
}) {
  const [isAll, setAll] = useState(false);
  const fit = mixed(menu.ready.filter((r) => (vehicle === undefined || r.vehicle === vehicle) && levelOf(r.difficulty) === level));
  const shown = isAll ? fit : fit.slice(0, SHOWN);
  return (
    <Panel aria-label="Ready scenarios">
      <h2>Ready scenarios</h2>
      <Faint>
        {fit.length} of {menu.ready.length}, {vehicle === undefined ? "" : "for this vehicle, "}
        {level}. Tests: what the engine’s own proposals needed.
      </Faint>
      {fit.length === 0 ? (
        <p>No ready scenario for this vehicle and difficulty. Choose another one, or make one above.</p>
      ) : (
        <Table aria-label="Ready scenarios">
          <thead>
            <tr>
              <th scope="col">Vehicle</th>
              <th scope="col">The customer says</th>
              <th scope="col">Tests</th>
              <th scope="col">
                <Hidden>Start</Hidden>
              </th>
            </tr>
          </thead>
          <tbody>
            {shown.map((r) => (
              <tr key={r.id}>
                <td>{r.name}</td>
                <td>
                  <Said>{r.words}</Said>
                  {r.misdrawn === true ? <Faint>The diagram may be wrong in one place.</Faint> : null}
                </td>
                <td>{r.tests}</td>
                <td>
                  <Button isDisabled={isBusy} onPress={() => onStart(r.id)} aria-label={`Start ${r.id}`}>
                    Start
                  </Button>
                </td>
              </tr>
            ))}
          </tbody>
        </Table>
      )}
      {fit.length > shown.length ? <Button onPress={() => setAll(true)}>Show all {fit.length}</Button> : null}
    </Panel>
  );
}
