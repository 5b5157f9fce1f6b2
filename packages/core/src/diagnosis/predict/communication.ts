import type { VehicleState } from "../../circuit/index.ts";
import { lookupOf } from "../../harness/index.ts";
import { singlesOf, type Hypothesis } from "../hypotheses/space.ts";
import { busesOf, hears, touchesBus, type Speaker } from "../simulate/bus-view.ts";
import { isAwakeIn } from "../simulate/row.ts";
import type { RowStore } from "./row-store.ts";

/** Chance that a code is there whose monitor sees nothing wrong, and one whose monitor does. */
const SET_BY_CHANCE = 0.02;
const SET = 0.95;

/** 1 where a module answers the scan tool, 0 where it does not, NaN where there is no telling. */
export function answersChance(rows: RowStore, state: VehicleState, module: string, of: Hypothesis | undefined): number {
  const { harness } = rows;
  if (!lookupOf(harness).parts.has(module)) return NaN;
  const { view } = rows.shelf(state);
  const row = rows.row(rows.shelf(state), of);
  if (view === undefined || row === undefined || row.unsolved) return NaN;
  const isAwake = (id: string): boolean => isAwakeIn(view, row, id);
  if (!isAwake(module)) return 0;
  const member = busesOf(harness).find((b) => b.id === module && b.listeners.length > 0);
  if (member === undefined) return 1;
  // What has nothing to do with the lines leaves them as they are: then it is enough that somebody listens.
  if (of !== undefined && !singlesOf(of).some((c) => touchesBus(harness, member, c.fault)))
    return member.listeners.some((ear) => isAwake(ear.id)) ? heardChance(rows, state, member, undefined) : 0;
  return heardChance(rows, state, member, of);
}

function heardChance(rows: RowStore, state: VehicleState, member: Speaker, of: Hypothesis | undefined): number {
  const quiet = rows.shelf(state, { phase: 1 }, "quiet");
  const speaks = rows.shelf(state, { phase: 1, also: [member.held] }, `speaks ${member.id}`);
  const [still, held] = [rows.row(quiet, of), rows.row(speaks, of)];
  if (quiet.view === undefined || speaks.view === undefined || still === undefined || held === undefined) return NaN;
  return hears(member, quiet.view, still, speaks.view, held) ? 1 : 0;
}

/** Chance that a code is set; NaN where no monitor says how. `liveVolts`: what a module sees at a pin, V. */
export function codeChance(
  rows: RowStore,
  state: VehicleState,
  code: string,
  of: Hypothesis | undefined,
  liveVolts: (module: string, pin: string) => number,
): number {
  // A tool may add a failure type that the vehicle's list does not tell apart.
  const monitors = rows.harness.monitors?.filter((m) => m.code === code || code.startsWith(`${m.code}-`)) ?? [];
  if (monitors.every((m) => m.silent === undefined && m.pin === undefined)) return NaN;
  const answers = (module: string): number => answersChance(rows, state, module, of);
  const sees = monitors.some((m) => {
    if (m.silent !== undefined) return answers(m.silent) === 0 && answers(m.module) === 1;
    if (m.pin === undefined) return false;
    const seen = liveVolts(m.module, m.pin);
    return (m.belowVolts !== undefined && seen < m.belowVolts) || (m.aboveVolts !== undefined && seen > m.aboveVolts);
  });
  return sees ? SET : SET_BY_CHANCE;
}
