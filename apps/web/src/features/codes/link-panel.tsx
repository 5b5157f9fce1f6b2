import { useState } from "react";
import { styled } from "styled-components";
import type { LinkModule } from "@rheonom/contract/link";
import { Button } from "../../ui/button.tsx";
import { Field } from "../../ui/field.tsx";
import { Faint, Panel, Row } from "../../ui/layout.tsx";
import { Notice } from "../../ui/notice.tsx";
import type { Link } from "../../job/use-link.ts";

const Asked = styled.ul`
  margin: 0;
  padding: 0;
  list-style: none;
  display: flex;
  flex-wrap: wrap;
  gap: var(--s1) var(--s3);
`;
const Bar = styled.progress`
  width: 100%;
  height: 12px;
  accent-color: var(--accent);
`;

export interface LinkPanelProps {
  readonly link: Link;
  readonly simulated: boolean;
  /** Modules of the job's circuit; empty when it has none. */
  readonly known: readonly LinkModule[];
  /** Whether the codes as they are now have been written down. */
  readonly writtenDown: boolean;
  /** The server has what was written down: it clears nothing before. */
  readonly isSent: boolean;
  readonly onScan: (modules: readonly LinkModule[]) => void;
  readonly onClear: (modules: readonly LinkModule[]) => void;
}

const DEFAULT_HOST = "127.0.0.1";
const DEFAULT_PORT = "13400";
const MOST_RANGE = 64;

/** Finds the vehicle on its diagnostic line, asks all modules, and clears what is written down. */
export function LinkPanel({ link, simulated, known, writtenDown, isSent, onScan, onClear }: LinkPanelProps) {
  const [host, setHost] = useState(DEFAULT_HOST);
  const [port, setPort] = useState(DEFAULT_PORT);
  const [range, setRange] = useState("1001-1010");
  const typed = known.length > 0 ? undefined : modulesIn(range);
  const modules = known.length > 0 ? known : (typed?.modules ?? []);
  const portNumber = Number(port);
  const goodPort = Number.isInteger(portNumber) && portNumber >= 1 && portNumber <= 65535;
  const busy = link.status === "finding" || link.status === "connecting";
  return (
    <Panel aria-label="Connection to the vehicle">
      <h2>Connection to the vehicle</h2>
      {link.status === "connected" ? (
        <>
          <Row>
            <strong>Connected to {link.vin}</strong>
            <Button look="solid" isDisabled={link.progress !== undefined || modules.length === 0} onPress={() => onScan(modules)}>
              Scan all {modules.length} modules
            </Button>
            <Button isDisabled={!writtenDown || !isSent || link.progress !== undefined} onPress={() => onClear(modules)}>
              Clear codes in all modules
            </Button>
            {!writtenDown ? (
              <Faint>Scan and save all codes before clearing.</Faint>
            ) : isSent ? null : (
              <Faint>The codes are on their way to the server.</Faint>
            )}
          </Row>
          {known.length > 0 ? null : (
            <Field
              label="Addresses of modules"
              hint="Hexadecimal, such as 1001-1010, 1021"
              value={range}
              onChange={setRange}
              error={typed?.wrong}
              mono
            />
          )}
        </>
      ) : link.status === "choosing" ? (
        <Row role="group" aria-label="Vehicles that answer">
          <span>{link.vehicles.length === 1 ? "One vehicle answers." : `${link.vehicles.length} vehicles answer. Which one is it?`}</span>
          {link.vehicles.map((v) => (
            <Button key={v.vin} look="solid" onPress={() => link.connect(v.vin)}>
              Connect to {v.vin}
            </Button>
          ))}
        </Row>
      ) : (
        <Row style={{ alignItems: "end" }}>
          {simulated ? (
            <Button look="solid" isDisabled={busy} onPress={() => link.find({ kind: "simulated" })}>
              Find the simulated vehicle
            </Button>
          ) : null}
          <Field label="Address" value={host} onChange={setHost} mono />
          <Field label="Port" value={port} onChange={setPort} mono error={goodPort ? "" : "A number from 1 to 65535."} />
          <Button
            isDisabled={busy || !goodPort || host.trim() === ""}
            onPress={() => link.find({ kind: "network", host: host.trim(), port: portNumber })}
          >
            Find vehicle
          </Button>
        </Row>
      )}
      {busy ? <p role="status">{link.status === "finding" ? "Looking …" : "Connecting …"}</p> : null}
      {link.progress === undefined ? null : (
        <>
          <Row>
            <span role="status">
              {link.progress.rows.length} of {link.progress.total} modules asked
            </span>
            <Button onPress={link.cancel}>Stop</Button>
          </Row>
          <Bar max={link.progress.total} value={link.progress.rows.length} aria-label="Modules asked" />
          <Asked>
            {link.progress.rows.map((r) => (
              <li key={r.module}>
                {r.module}: {r.answers ? `${r.codes} ${r.codes === 1 ? "code" : "codes"}` : "silent"}
              </li>
            ))}
          </Asked>
        </>
      )}
      {link.trouble === "" ? null : <Notice tone="caution">{link.trouble}</Notice>}
    </Panel>
  );
}

/** "1001-1010, 1021" as modules that are called by their addresses. */
export function modulesIn(text: string): { readonly modules: readonly LinkModule[]; readonly wrong: string } {
  const modules: LinkModule[] = [];
  for (const part of text
    .split(",")
    .map((p) => p.trim())
    .filter((p) => p !== "")) {
    const read = /^([0-9a-f]{1,4})(?:\s*-\s*([0-9a-f]{1,4}))?$/i.exec(part);
    if (read === null)
      return { modules: [], wrong: `“${part}” is not an address. Use up to four hexadecimal digits, or two with a hyphen.` };
    const from = Number.parseInt(read[1]!, 16);
    const to = Number.parseInt(read[2] ?? read[1]!, 16);
    if (to < from || modules.length + to - from >= MOST_RANGE)
      return { modules: [], wrong: `“${part}” is not a range of at most ${MOST_RANGE} addresses, the lower one first.` };
    for (let address = from; address <= to; address++)
      modules.push({ id: `X${address.toString(16).toUpperCase().padStart(4, "0")}`, address });
  }
  return { modules, wrong: modules.length === 0 ? "At least one address." : "" };
}
