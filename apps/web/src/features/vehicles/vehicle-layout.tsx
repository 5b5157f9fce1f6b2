import { useMemo, useState } from "react";
import { NavLink, Outlet, useLocation, useParams, useSearchParams } from "react-router";
import { styled } from "styled-components";
import { REST_STATE, type VehicleState } from "@rheonom/core/circuit";
import { resolveVariant, type Harness } from "@rheonom/core/harness";
import { useHarnessQuery, useVehicleQuery } from "../../api/api.ts";
import { failureOf } from "../../api/failure.ts";
import { Button, Toggle } from "../../ui/button.tsx";
import { Dialog } from "../../ui/dialog.tsx";
import { Select } from "../../ui/select.tsx";
import { Faint, Page, Row, ScreenOnly } from "../../ui/layout.tsx";
import { Notice } from "../../ui/notice.tsx";
import { Segmented } from "../../ui/segmented.tsx";
import { useQuery } from "../../worker/use-query.ts";
import type { VehicleContext } from "./vehicle-context.ts";

const Wide = styled(Page)`
  max-width: none;
  padding: var(--s2) var(--s4) var(--s4);
  gap: var(--s2);
`;
const Tabs = styled.nav`
  display: flex;
  overflow-x: auto;
  border-bottom: 1px solid var(--line);
  a {
    flex: none;
    display: inline-flex;
    align-items: center;
    min-height: var(--target);
    padding: 0 var(--s3);
    color: var(--ink);
    text-decoration: none;
    border-bottom: 4px solid transparent;
  }
  a.active {
    border-bottom-color: var(--accent);
    font-weight: 680;
  }
  @media print {
    display: none;
  }
`;

const TABS = [
  ["circuit", "Circuit"],
  ["shared", "Common points"],
  ["grounds", "Grounds"],
  ["fuses", "Fuses and relays"],
  ["buses", "Buses"],
  ["what-if", "What if"],
  ["looms", "Looms"],
  ["faces", "Connectors"],
  ["text", "Wiring text"],
  ["transfer", "Import and export"],
  ["known-goods", "Known-goods"],
  ["versions", "Versions"],
] as const;

const KEYS = [
  { id: "off", text: "off" },
  { id: "accessory", text: "acc" },
  { id: "run", text: "run" },
  { id: "crank", text: "crank" },
] as const;
const ENGINES = [
  { id: "stopped", text: "stopped" },
  { id: "cranking", text: "cranking" },
  { id: "idling", text: "idling" },
  { id: "at speed", text: "at speed" },
] as const;

const NOTHING: ReadonlyMap<string, number | undefined> = new Map();

/** Loads the wiring of the address: vehicle, version, options, state. */
export function VehicleLayout() {
  const { vehicleId = "" } = useParams();
  const [query] = useSearchParams();
  const heads = useVehicleQuery(vehicleId);
  const latest = heads.data?.versions[0]?.version;
  const version = Number(query.get("v") ?? latest);
  const wiring = useHarnessQuery({ id: vehicleId, version }, { skip: latest === undefined || !Number.isInteger(version) });
  const error = heads.error ?? wiring.error;
  if (error !== undefined) {
    return (
      <Page>
        <h1>This vehicle cannot be shown</h1>
        <Notice tone="danger" role="alert">
          {failureOf(error).message}
        </Notice>
        <p>
          <Button onPress={() => void (heads.error === undefined ? wiring.refetch() : heads.refetch())}>Try again</Button>
        </p>
      </Page>
    );
  }
  if (heads.data === undefined || wiring.data === undefined) {
    return (
      <Page>
        <p role="status">Fetching the wiring …</p>
      </Page>
    );
  }
  return <Shown id={vehicleId} version={version} versions={heads.data.versions} whole={wiring.data.harness} />;
}

function Shown({ id, version, versions, whole }: Pick<VehicleContext, "id" | "version" | "versions" | "whole">) {
  const [query, setQuery] = useSearchParams();
  const [choosing, setChoosing] = useState(false);
  const hasOwnState = useLocation().pathname.endsWith("/what-if");
  const named = query.get("o");
  const options = useMemo(() => (named ?? "").split(",").filter(Boolean), [named]);
  const harness = useMemo(() => resolveVariant(whole, options), [whole, options]);
  const [key, engine, allOn] = [query.get("key") ?? "run", query.get("engine") ?? "stopped", query.get("on") !== "none"];
  const state = useMemo(() => stateOf(harness, key, engine, allOn), [harness, key, engine, allOn]);
  const sound = useQuery("sound", harness, { state });
  const ask = (change: Readonly<Record<string, string | undefined>>): void =>
    setQuery(
      (before) => {
        for (const [name, value] of Object.entries(change)) {
          if (value === undefined) before.delete(name);
          else before.set(name, value);
        }
        return before;
      },
      { replace: true },
    );
  const context: VehicleContext = {
    id,
    version,
    versions,
    whole,
    harness,
    options,
    state,
    volts: sound.value?.volts ?? NOTHING,
    ask,
    query,
  };
  const kept = new URLSearchParams([...query].filter(([name]) => ["v", "o", "key", "engine", "on"].includes(name))).toString();
  const latest = versions[0]!.version;
  return (
    <Wide>
      <Row style={{ justifyContent: "space-between" }}>
        <Row>
          <h1 style={{ fontSize: "1.25rem" }}>{whole.name}</h1>
          <Faint>
            version {version}
            {version === latest ? "" : ` of ${latest}`} · {harness.wires.length} wires
          </Faint>
          {(whole.options ?? []).length === 0 ? null : (
            <ScreenOnly>
              <Button onPress={() => setChoosing(true)}>{options.length === 0 ? "no options" : options.join(", ")}</Button>
            </ScreenOnly>
          )}
        </Row>
        <ScreenOnly as={Row}>
          {sound.busy ? <Faint role="status">computing …</Faint> : null}
          {!sound.busy && sound.value === undefined ? <Faint role="status">no steady state: something chatters</Faint> : null}
          {hasOwnState ? null : (
            <>
              <Segmented label="Key" options={KEYS} value={key as "run"} onChange={(k) => ask({ key: k })} />
              <Select label="Engine" inline options={ENGINES} value={engine as "idling"} onChange={(e) => ask({ engine: e })} />
              <Toggle isSelected={allOn} onChange={(on) => ask({ on: on ? undefined : "none" })}>
                switches on
              </Toggle>
            </>
          )}
        </ScreenOnly>
      </Row>
      <Dialog title="What this vehicle has" isOpen={choosing} onClose={() => setChoosing(false)}>
        <Row>
          {(whole.options ?? []).map((o) => (
            <Toggle
              key={o.id}
              isSelected={options.includes(o.id)}
              onChange={(on) => ask({ o: (on ? [...options, o.id] : options.filter((x) => x !== o.id)).join(",") || undefined })}
            >
              {o.text}
            </Toggle>
          ))}
        </Row>
        <Row style={{ justifyContent: "flex-end" }}>
          <Button look="solid" onPress={() => setChoosing(false)}>
            Done
          </Button>
        </Row>
      </Dialog>
      {version === latest ? null : (
        <Notice tone="info" title="An older version">
          Jobs may be pinned to it. <Button onPress={() => ask({ v: undefined })}>Show version {latest}</Button>
        </Notice>
      )}
      <Tabs aria-label="Views of this vehicle">
        {TABS.map(([path, text]) => (
          <NavLink key={path} to={{ pathname: path, search: kept }}>
            {text}
          </NavLink>
        ))}
      </Tabs>
      <Outlet context={context} />
    </Wide>
  );
}

function stateOf(harness: Harness, key: string, engine: string, allOn: boolean): VehicleState {
  const on = allOn ? harness.components.flatMap((c) => (c.kind === "switch" && c.closedBy === "hand" ? [c.id] : [])) : [];
  return {
    ...REST_STATE,
    key: KEYS.find((k) => k.id === key)?.id ?? "run",
    engine: ENGINES.find((e) => e.id === engine)?.id ?? "stopped",
    on,
  };
}
