import { useEffect, useState } from "react";
import { Footprints, Plug, Unplug } from "lucide-react";
import { styled } from "styled-components";
import { USUAL } from "../../job/instrument/instrument-line.ts";
import { useInstrument } from "../../job/instrument/use-instrument.ts";
import { useMeterSettings } from "../../job/instrument/meter-settings.ts";
import type { InstrumentKind } from "../../job/instrument/port.ts";
import { openSerialPort, type SerialLike } from "../../job/instrument/serial-port.ts";
import { openServerPort } from "../../job/instrument/server-port.ts";
import { useJobContext } from "../../job/job-context.ts";
import { Button } from "../../ui/button.tsx";
import { Field } from "../../ui/field.tsx";
import { Faint, Panel, Row } from "../../ui/layout.tsx";
import { Notice } from "../../ui/notice.tsx";
import { Segmented } from "../../ui/segmented.tsx";
import { Select } from "../../ui/select.tsx";
import { MeterTest } from "./meter-test.tsx";

const Stack = styled.div`
  display: grid;
  gap: var(--s3);
`;
const WHAT = [
  { id: "meter", text: "Meter" },
  { id: "scope", text: "Scope" },
] as const;
const INPUTS = [
  { id: "1000000", text: "1 MΩ" },
  { id: "10000000", text: "10 MΩ" },
  { id: "11000000", text: "11 MΩ" },
  { id: "1000000000", text: "1 GΩ or more" },
];
const ACCURACIES = [
  { id: "0.5", text: "±0.5 % or better" },
  { id: "1", text: "±1 %" },
  { id: "2", text: "±2 %" },
  { id: "5", text: "±5 %" },
];
const SPEEDS = ["2400", "4800", "9600", "19200", "38400", "57600", "115200"].map((id) => ({ id, text: id }));

/** Where a browser has a serial line. */
const serialOf = (): { readonly requestPort: () => Promise<SerialLike> } | undefined =>
  (navigator as { readonly serial?: { readonly requestPort: () => Promise<SerialLike> } }).serial;

/** The meter and the scope of a job: how they are connected, and the meter's test. */
export function InstrumentsPanel() {
  const { job } = useJobContext();
  const [what, setWhat] = useState<InstrumentKind>("meter");
  const { line, now } = useInstrument(job.id, what);
  const [settings, change] = useMeterSettings();
  const stated = { inputOhms: Number(settings.inputOhms), accuracyPercent: Number(settings.accuracyPercent) };
  const port = Number(settings.port);
  const isGoodPort = Number.isInteger(port) && port >= 1 && port <= 65535;
  const serial = serialOf();
  const isBusy = now.status === "connecting";

  const simulated = (): void =>
    line.connect("simulated", USUAL, (tell) => Promise.resolve(openServerPort(job.id, what, { kind: "simulated" }, tell)));
  const network = (): void =>
    line.connect("network", stated, (tell) =>
      Promise.resolve(openServerPort(job.id, what, { kind: "network", host: settings.host.trim(), port }, tell)),
    );
  const bySerial = (): void => {
    if (serial === undefined) return;
    const { baudRate, pattern, ask } = settings;
    line.connect("serial", stated, async (tell) => {
      const chosen = await serial.requestPort().catch(() => {
        throw new Error("No serial line was chosen.");
      });
      return openSerialPort(chosen, { baudRate: Number(baudRate), pattern, ask }, tell);
    });
  };
  return (
    <Panel aria-label="Instruments">
      <Stack>
        <Row>
          <Segmented label="Instrument" hideLabel options={WHAT} value={what} onChange={setWhat} />
          {now.status === "connected" ? (
            <>
              <strong>{now.name}</strong>
              <Faint>{{ simulated: "simulated", network: "over the network", serial: "over a serial line" }[now.via ?? "network"]}</Faint>
              <Button onPress={() => line.close()}>
                <Unplug size={18} aria-hidden /> Disconnect
              </Button>
            </>
          ) : isBusy ? (
            <span role="status">Connecting …</span>
          ) : job.simulated ? (
            <Button look="solid" onPress={simulated}>
              <Plug size={18} aria-hidden /> Connect the simulated {what}
            </Button>
          ) : null}
        </Row>
        {now.says === "" ? null : <Notice tone="caution">The instrument says: {now.says}</Notice>}
        {now.trouble === "" ? null : (
          <Notice tone="caution" role="alert">
            {now.trouble}
          </Notice>
        )}
        {now.status !== "none" ? null : (
          <details>
            <summary>On the network, or on a serial line</summary>
            <Stack>
              <Row style={{ alignItems: "end" }}>
                <Field
                  label="Address"
                  value={settings.host}
                  onChange={(host) => change({ host })}
                  mono
                  maxLength={120}
                  placeholder="192.168.1.50"
                />
                <Field
                  label="Port"
                  value={settings.port}
                  onChange={(p) => change({ port: p })}
                  mono
                  error={isGoodPort ? "" : "A number from 1 to 65535."}
                />
                {what === "meter" ? (
                  <>
                    <Select label="Input on volts" options={INPUTS} value={settings.inputOhms} onChange={(v) => change({ inputOhms: v })} />
                    <Select
                      label="Accuracy"
                      options={ACCURACIES}
                      value={settings.accuracyPercent}
                      onChange={(v) => change({ accuracyPercent: v })}
                    />
                  </>
                ) : null}
                <Button isDisabled={settings.host.trim() === "" || !isGoodPort} onPress={network}>
                  Connect over the network
                </Button>
              </Row>
              {what !== "meter" ? null : serial === undefined ? (
                <Faint>This browser has no serial lines. Over the network it works with any browser.</Faint>
              ) : (
                <Row style={{ alignItems: "end" }}>
                  <Select label="Speed, baud" options={SPEEDS} value={settings.baudRate} onChange={(v) => change({ baudRate: v })} />
                  <Field
                    label="Pattern of its lines"
                    hint="Empty: it is asked in SCPI. {value}, {unit}, {any}."
                    value={settings.pattern}
                    onChange={(v) => change({ pattern: v })}
                    mono
                    maxLength={80}
                    placeholder="{value} {unit}"
                  />
                  <Field label="Sent to ask it" value={settings.ask} onChange={(v) => change({ ask: v })} mono maxLength={40} />
                  <Button onPress={bySerial}>Connect over a serial line</Button>
                </Row>
              )}
            </Stack>
          </details>
        )}
        {what === "meter" && now.status === "connected" ? <MeterTest line={line} now={now} /> : null}
        {what === "meter" ? <FootSwitch foot={settings.foot} onFoot={(foot) => change({ foot })} /> : null}
      </Stack>
    </Panel>
  );
}

/** Keys with a meaning of their own, which no foot switch may take. */
const TAKEN = ["Tab", "Escape", "Shift", "Control", "Alt", "Meta"];

/** Learns the key that a foot switch types. */
function FootSwitch({ foot, onFoot }: { foot: string; onFoot: (key: string) => void }) {
  const [isLearning, setLearning] = useState(false);
  useEffect(() => {
    if (!isLearning) return;
    const onKey = (event: KeyboardEvent): void => {
      if (TAKEN.includes(event.key)) return setLearning(false);
      event.preventDefault();
      event.stopPropagation();
      onFoot(event.key);
      setLearning(false);
    };
    window.addEventListener("keydown", onKey, true);
    return () => window.removeEventListener("keydown", onKey, true);
  }, [isLearning, onFoot]);
  return (
    <Row>
      <Button onPress={() => setLearning(!isLearning)}>
        <Footprints size={18} aria-hidden />{" "}
        {isLearning ? "Press the foot switch now" : foot === "" ? "Foot switch" : "Another foot switch"}
      </Button>
      {foot === "" ? (
        <Faint>Any key that a foot switch types records the meter’s reading on Trace.</Faint>
      ) : (
        <>
          <Faint>
            <kbd>{foot === " " ? "space" : foot}</kbd> records the meter’s reading on Trace.
          </Faint>
          <Button look="quiet" onPress={() => onFoot("")}>
            None
          </Button>
        </>
      )}
    </Row>
  );
}
