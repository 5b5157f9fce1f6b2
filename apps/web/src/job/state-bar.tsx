import type { VehicleState } from "@rheonom/core/circuit";
import { KEY_POSITIONS } from "@rheonom/core/devices";
import type { Harness } from "@rheonom/core/harness";
import { styled } from "styled-components";
import type { ReactNode } from "react";
import { Toggle } from "../ui/button.tsx";
import { ChoiceChip } from "../ui/chip.tsx";
import { Select } from "../ui/select.tsx";

const Bar = styled.section`
  display: flex;
  flex-wrap: wrap;
  align-items: center;
  gap: var(--s1) var(--s2);
  font-size: 0.9375rem;
`;
/** Long names of switches are cut off, so that the state stands in one line. */
const Name = styled.span`
  max-width: 190px;
  overflow: hidden;
  text-overflow: ellipsis;
`;
const KEY_WORDS = { off: "off", accessory: "accessory", run: "run", crank: "crank" } as const;
const ENGINES = [
  { id: "stopped", text: "stopped" },
  { id: "cranking", text: "cranking" },
  { id: "idling", text: "idling" },
  { id: "at speed", text: "at speed" },
] as const;
type Engine = VehicleState["engine"];
type Key = VehicleState["key"];

/** What usually goes with a key position; the technician may set it otherwise (a starter that does not turn). */
function engineFor(key: Key, engine: Engine): Engine {
  if (key === "crank") return "cranking";
  if (key === "run") return engine === "cranking" ? "stopped" : engine;
  return "stopped";
}
function keyFor(engine: Engine, key: Key): Key {
  if (engine === "cranking") return "crank";
  if (engine === "idling" || engine === "at speed") return "run";
  return key === "crank" ? "run" : key;
}

/** Up to so many switches all stand in sight. */
const FEW_SWITCHES = 3;

export interface StateBarProps {
  readonly harness: Harness;
  readonly state: VehicleState;
  /** Switches that have to do with the question; of the others only those that are on stand in sight. */
  readonly near: ReadonlySet<string>;
  readonly onChange: (change: Partial<VehicleState>) => void;
  /** Stands at the end of the line. */
  readonly children?: ReactNode;
}

/** The state that every reading carries: key, engine, consumers. */
export function StateBar({ harness, state, near, onChange, children }: StateBarProps) {
  const switches = harness.components.filter((c) => c.kind === "switch" && c.closedBy === "hand");
  const shown = switches.length <= FEW_SWITCHES ? switches : switches.filter((s) => near.has(s.id) || state.on.includes(s.id));
  const others = switches.filter((s) => !shown.includes(s));
  const flip = (id: string, on: boolean): void => onChange({ on: on ? [...state.on, id].sort() : state.on.filter((s) => s !== id) });
  return (
    <Bar aria-label="State of the vehicle">
      <ChoiceChip
        label="Key"
        options={KEY_POSITIONS.map((k) => ({ id: k, text: KEY_WORDS[k] }))}
        value={state.key}
        onChange={(key) => onChange({ key, engine: engineFor(key, state.engine) })}
      />
      <ChoiceChip
        label="Engine"
        options={ENGINES}
        value={state.engine}
        onChange={(engine) => onChange({ engine, key: keyFor(engine, state.key) })}
      />
      {shown.map((s) => (
        <Toggle key={s.id} isSelected={state.on.includes(s.id)} onChange={(on) => flip(s.id, on)}>
          <Name title={s.label}>{[s.id, s.label].filter(Boolean).join(" ")}</Name> {state.on.includes(s.id) ? "on" : "off"}
        </Toggle>
      ))}
      {others.length === 0 ? null : (
        <Select
          label="Other switches"
          hideLabel
          inline
          placeholder="other switch …"
          value={undefined}
          options={others.map((s) => ({ id: s.id, text: [s.id, s.label].filter(Boolean).join(" ") }))}
          onChange={(id) => flip(id, true)}
        />
      )}
      {children}
    </Bar>
  );
}
