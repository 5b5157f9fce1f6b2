import type { VehicleState } from "../../circuit/index.ts";
import { lookupOf, mayAsk, type BusMember, type Harness } from "../../harness/index.ts";
import { monitorsOfCode } from "../../codes/index.ts";
import { singlesOf, type Hypothesis } from "../hypotheses/space.ts";
import { busesOf, hears, onBuses, touchesBus, type Speaker } from "../simulate/bus-view.ts";
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
  if (!isAwakeIn(view, row, module)) return 0;
  const members = membersOn(harness, module);
  if (members.length === 0) return 1;
  // Most modules are heard by the first that is asked: each pair costs solutions of its own.
  let isUntold = false;
  for (const m of members)
    for (const ear of m.listeners) {
      if (!mayAsk(harness, m.sort, ear.id, module)) continue;
      const talks = bothWays(rows, state, m, ear, of);
      if (talks === 1) return 1;
      isUntold ||= Number.isNaN(talks);
    }
  return isUntold ? NaN : 0;
}

/** 1 where `to` gets the messages of `from`, 0 where it does not, NaN where there is no telling or they share no bus. */
function getsChance(rows: RowStore, state: VehicleState, to: string, from: string, of: Hypothesis | undefined): number {
  const { harness } = rows;
  const ways = membersOn(harness, from).flatMap((m) =>
    m.listeners
      .filter((ear) => ear.id === to)
      .map((ear) =>
        m.sort === "lin" && mayAsk(harness, m.sort, to, from) ? bothWays(rows, state, m, ear, of) : heardChance(rows, state, m, ear, of),
      ),
  );
  return ways.includes(1) ? 1 : ways.length === 0 || ways.some(Number.isNaN) ? NaN : 0;
}

function isAwakeFor(rows: RowStore, state: VehicleState, module: string, of: Hypothesis | undefined): boolean {
  const shelf = rows.shelf(state);
  const row = rows.row(shelf, of);
  return shelf.view !== undefined && row !== undefined && !row.unsolved && isAwakeIn(shelf.view, row, module);
}

const membersOn = (harness: Harness, module: string): readonly Speaker[] =>
  busesOf(harness).filter((b) => b.id === module && b.listeners.length > 0);

/** Whether two modules hear each other. */
function bothWays(rows: RowStore, state: VehicleState, member: Speaker, ear: BusMember, of: Hypothesis | undefined): number {
  const there = heardChance(rows, state, member, ear, of);
  if (there !== 1) return there;
  const answering = busesOf(rows.harness).find((b) => b.id === ear.id && b.pins.join() === ear.pins.join())!;
  return heardChance(rows, state, answering, member, of);
}

/** Whether one module hears another. */
function heardChance(rows: RowStore, state: VehicleState, member: Speaker, ear: BusMember, of: Hypothesis | undefined): number {
  const { harness } = rows;
  // What has nothing to do with the lines leaves them as they are: then it is enough that both are awake.
  if (of !== undefined && !rows.space.isSmall && !singlesOf(of).some((c) => touchesBus(harness, member, c.fault))) {
    const { view } = rows.shelf(state);
    const row = rows.row(rows.shelf(state), of);
    if (view === undefined || row === undefined || row.unsolved) return NaN;
    if (!isAwakeIn(view, row, member.id) || !isAwakeIn(view, row, ear.id)) return 0;
    return heardChance(rows, state, member, ear, undefined);
  }
  const quiet = rows.shelf(state, { phase: 1 }, "quiet", onBuses(harness));
  const speaks = rows.shelf(state, { phase: 1, also: [member.held] }, `speaks ${member.id} ${member.pins.join()}`, onBuses(harness));
  const [still, held] = [rows.row(quiet, of), rows.row(speaks, of)];
  if (quiet.view === undefined || speaks.view === undefined || still === undefined || held === undefined) return NaN;
  if (!isAwakeIn(speaks.view, held, member.id)) return 0;
  return hears(harness, member, ear, quiet.view, still, speaks.view, held) ? 1 : 0;
}

/** Chance that a code is set; NaN where no monitor says how. `liveVolts`: what a module sees at a pin, V. */
export function codeChance(
  rows: RowStore,
  state: VehicleState,
  code: string,
  of: Hypothesis | undefined,
  liveVolts: (module: string, pin: string) => number,
): number {
  const monitors = monitorsOfCode(rows.harness, code);
  if (monitors.every((m) => m.silent === undefined && m.pin === undefined)) return NaN;
  const sees = monitors.some((m) => {
    if (m.silent !== undefined) return isAwakeFor(rows, state, m.module, of) && getsChance(rows, state, m.module, m.silent, of) === 0;
    if (m.pin === undefined) return false;
    const seen = liveVolts(m.module, m.pin);
    return (m.belowVolts !== undefined && seen < m.belowVolts) || (m.aboveVolts !== undefined && seen > m.aboveVolts);
  });
  return sees ? SET : SET_BY_CHANCE;
}
