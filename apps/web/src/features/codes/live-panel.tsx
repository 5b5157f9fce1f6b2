import { useState } from "react";
import { useForm } from "react-hook-form";
import { actuatorsOf, addressedModules, type LiveValue } from "@rheonom/core/codes";
import type { VehicleState } from "@rheonom/core/circuit";
import { batteryNegative, pinPlace, type Harness } from "@rheonom/core/harness";
import type { EventBody } from "../../job/record.ts";
import { readGauge, readTyped } from "../../job/reading.ts";
import { Button, Toggle } from "../../ui/button.tsx";
import { TextInput } from "../../ui/form.tsx";
import { Select } from "../../ui/select.tsx";
import { Faint, Hidden, Panel, Row } from "../../ui/layout.tsx";
import { Table } from "../../ui/table.tsx";
import { toast } from "../../ui/toast.tsx";
import { liveOf } from "../../job/live-of.ts";
import type { Link } from "../../job/use-link.ts";

/** Readings a second. */
const HERTZ = 10;
export interface LivePanelProps {
  readonly link: Link;
  readonly harness: Harness;
  /** How the vehicle stands, for what is kept as evidence. */
  readonly state: VehicleState;
  readonly load: string;
  readonly record: (body: EventBody) => void;
}

/** What a module sees, beside what is really there: a thermometer, the meter at the pin, a gauge. The difference goes to the evidence. */
export function LivePanel({ link, harness, state, load, record }: LivePanelProps) {
  const modules = addressedModules(harness);
  const [chosen, setChosen] = useState<string>(modules[0]?.id ?? "");
  const [compared, setCompared] = useState<string | undefined>(undefined);
  const module = modules.find((m) => m.id === chosen);
  const shown = module === undefined ? [] : liveOf(harness, module);
  const running = link.live !== undefined;
  const actuators = module === undefined ? [] : actuatorsOf(harness, module.id);
  return (
    <Panel aria-label="Live values">
      <h2>Live data against measurement</h2>
      <Row>
        <Select
          label="Module"
          inline
          value={chosen}
          options={modules.map((m) => ({ id: m.id, text: m.id }))}
          onChange={(id) => {
            setChosen(id);
            link.stopLive();
          }}
        />
        <Button
          look={running ? "plain" : "solid"}
          isDisabled={module === undefined}
          onPress={() =>
            running
              ? link.stopLive()
              : link.readLive(
                  shown.map((s) => s.wish),
                  HERTZ,
                )
          }
        >
          {running ? "Stop reading" : `Read ${shown.length} ${shown.length === 1 ? "value" : "values"}`}
        </Button>
        {link.live === undefined || link.live.rounds < 2 ? null : (
          <Faint>{((1000 * (link.live.rounds - 1)) / Math.max(1, link.live.at)).toFixed(1)} readings a second</Faint>
        )}
      </Row>
      {link.live === undefined ? (
        <Faint>Put a thermometer on the casting, or the meter at the pin, and type what it says beside what the module sees.</Faint>
      ) : (
        <Table>
          <caption>
            <Hidden>Live values</Hidden>
          </caption>
          <thead>
            <tr>
              <th scope="col">Value</th>
              <th scope="col">{chosen} sees</th>
              <th scope="col">Lowest to highest</th>
              <th scope="col">Measured</th>
            </tr>
          </thead>
          <tbody>
            {shown.map((s, i) => (
              <tr key={s.name}>
                <td>{s.name}</td>
                <td style={{ whiteSpace: "nowrap" }}>
                  {s.value?.wants === undefined ? inUnit(link.live?.now[i] ?? null, s.unit) : onOff(link.live?.now[i] ?? null)}
                </td>
                <td style={{ whiteSpace: "nowrap" }}>{spanOf(link.live?.low[i], link.live?.high[i], s.unit)}</td>
                <td>
                  {s.value === undefined || s.value.pin.startsWith("~") ? null : compared !== s.name ? (
                    <Button look="quiet" onPress={() => setCompared(s.name)} aria-label={`Compare ${s.name}`}>
                      Compare
                    </Button>
                  ) : s.value.works !== undefined ? (
                    <Does
                      works={s.value.works}
                      wanted={link.live?.now[i] ?? null}
                      state={state}
                      onKeep={(body) => {
                        record(body);
                        setCompared(undefined);
                        toast("Kept. Suspects updated.");
                      }}
                    />
                  ) : (
                    <Beside
                      value={s.value}
                      seen={link.live?.now[i] ?? null}
                      pinVolts={link.live?.now[shown.findIndex((x) => x.value?.pin === s.value?.pin && x.value?.unit === "V")] ?? null}
                      onKeep={(bodies) => {
                        for (const b of bodies) record(b);
                        setCompared(undefined);
                        toast("Kept. Suspects updated.");
                      }}
                      state={state}
                      load={load}
                      black={batteryNegative(harness)}
                    />
                  )}
                </td>
              </tr>
            ))}
          </tbody>
        </Table>
      )}
      {actuators.length === 0 || module === undefined ? null : (
        <Row role="group" aria-label="Outputs that may be worked">
          <span>Actuator test, engine off:</span>
          {actuators.map((a) => (
            <Toggle
              key={a.did}
              isSelected={link.worked.get(a.did) === true}
              onChange={(on) => link.actuate(module, a.did, on ? true : null)}
            >
              {a.pin} {a.name}
            </Toggle>
          ))}
        </Row>
      )}
    </Panel>
  );
}

const DOES = [
  { id: "full", text: "works" },
  { id: "weak", text: "weak" },
  { id: "none", text: "does nothing" },
] as const;

interface DoesProps {
  readonly works: readonly string[];
  readonly wanted: number | null;
  readonly state: VehicleState;
  readonly onKeep: (body: EventBody) => void;
}

/** What the module wants, beside what the part does. */
function Does({ works, wanted, state, onKeep }: DoesProps) {
  return (
    <>
      {works.map((part) => (
        <Row key={part} role="group" aria-label={`What ${part} does`}>
          <span>{part}</span>
          {DOES.map((d) => (
            <Button
              key={d.id}
              onPress={() =>
                onKeep({
                  type: "seen",
                  data: {
                    state,
                    observe: { kind: "part", part },
                    word: d.id,
                    wrong: (wanted ?? 0) > 50 ? d.id !== "full" : d.id !== "none",
                  },
                })
              }
            >
              {d.text}
            </Button>
          ))}
        </Row>
      ))}
    </>
  );
}

interface BesideProps {
  readonly value: LiveValue;
  readonly seen: number | null;
  /** Volts that the module sees at the pin. */
  readonly pinVolts: number | null;
  readonly state: VehicleState;
  readonly load: string;
  readonly black: string;
  readonly onKeep: (bodies: readonly EventBody[]) => void;
}

/** What is measured beside a live value. Volts are the meter's at the same pin; a temperature or a position is what acts on the sensor. */
function Beside({ value, seen, pinVolts, state, load, black, onKeep }: BesideProps) {
  const { control, handleSubmit, reset, watch } = useForm({ defaultValues: { text: "" } });
  const text = watch("text");
  const number = readGauge(text, value.unit);
  const keep = ({ text: typed }: { readonly text: string }): void => {
    if (seen === null || pinVolts === null) return;
    const bodies = besideBodies(value, typed, { seen, pinVolts, state, load, black });
    if (bodies === undefined) return;
    onKeep(bodies);
    reset();
  };
  const apart = number !== undefined && seen !== null ? seen - number : undefined;
  return (
    <form onSubmit={(e) => void handleSubmit(keep)(e)} noValidate>
      <Row style={{ alignItems: "end" }}>
        <TextInput
          control={control}
          name="text"
          autoFocus
          label={
            value.unit === "V"
              ? `Meter at ${value.pin}`
              : value.unit === "°C"
                ? `Thermometer at ${value.sensor}`
                : `Gauge at ${value.sensor}`
          }
          placeholder={value.unit}
          error={text.trim() !== "" && number === undefined ? `A number of ${value.unit}, please.` : undefined}
          mono
        />
        {apart === undefined ? null : (
          <Faint>
            module sees {inUnit(Math.abs(apart), value.unit)} {apart < 0 ? "less" : "more"}
          </Faint>
        )}
        <Button type="submit" isDisabled={number === undefined || seen === null || pinVolts === null}>
          Keep
        </Button>
      </Row>
    </form>
  );
}

interface Seen {
  readonly seen: number;
  readonly pinVolts: number;
  readonly state: VehicleState;
  readonly load: string;
  readonly black: string;
}

/** What is kept of a value typed beside a live one: volts as a reading of their own, anything else as what acts on the sensor. Undefined for what cannot be read. */
function besideBodies(value: LiveValue, text: string, { seen, pinVolts, state, load, black }: Seen): readonly EventBody[] | undefined {
  const observe = { kind: "live" as const, module: value.module, pin: value.pin };
  if (value.unit === "V") {
    const typed = readTyped(text, "volts");
    if (typed.kind !== "ok") return undefined;
    const leads = { quantity: "volts" as const, red: pinPlace(value.module, value.pin), black };
    return [
      { type: "seen", data: { state, observe, value: seen, wrong: false } },
      { type: "reading-taken", data: { leads, state, load, text: typed.text, shown: typed.shown, instrument: "typed" } },
    ];
  }
  const number = readGauge(text, value.unit);
  if (number === undefined || value.sensor === undefined) return undefined;
  const inputs = { ...state.inputs, [value.sensor]: value.unit === "%" ? number / 100 : number };
  return [{ type: "seen", data: { state: { ...state, inputs }, observe, value: pinVolts, wrong: false } }];
}

const onOff = (v: number | null): string => (v === null ? "no answer" : v > 50 ? "on" : "off");
const DIGITS: Readonly<Record<string, number>> = { V: 2, "°C": 1, "%": 1, rpm: 0 };
const inUnit = (v: number | null, unit: string): string => (v === null ? "no answer" : `${v.toFixed(DIGITS[unit] ?? 1)} ${unit}`);
function spanOf(low: number | undefined, high: number | undefined, unit: string): string {
  if (low === undefined || high === undefined || !Number.isFinite(low) || !Number.isFinite(high)) return "";
  const digits = DIGITS[unit] ?? 1;
  return low.toFixed(digits) === high.toFixed(digits) ? "steady" : `${low.toFixed(digits)} to ${high.toFixed(digits)}`;
}
