import { useEffect, useEffectEvent, useState } from "react";
import { codeName, type CodeEntry, type Scan } from "@rheonom/core/codes";
import type { VehicleState } from "@rheonom/core/circuit";
import { batteryNegative, deviceOf, type Harness } from "@rheonom/core/harness";
import { refusalsOf } from "@rheonom/core/instruments";
import { openTray, type JobView } from "@rheonom/core/job";
import type { LinkModule } from "@rheonom/contract/link";
import type { EventBody } from "../../job/record.ts";
import { Button } from "../../ui/button.tsx";
import { Select } from "../../ui/select.tsx";
import { Faint, Panel, Row } from "../../ui/layout.tsx";
import { toast } from "../../ui/toast.tsx";
import type { Link } from "../../job/use-link.ts";

const EVERY_MS = 1500;

export interface WatchPanelProps {
  readonly link: Link;
  readonly harness: Harness;
  readonly view: JobView;
  readonly scan: Scan;
  readonly modules: readonly LinkModule[];
  readonly state: VehicleState;
  readonly record: (body: EventBody) => void;
}

/** A ground is given to a suspect return while the codes' status is watched: what turns from active to stored was short of that ground. */
export function WatchPanel({ link, harness, view, scan, modules, state, record }: WatchPanelProps) {
  const [now, setNow] = useState<readonly CodeEntry[] | undefined>(undefined);
  const [watching, setWatching] = useState(false);
  const [place, setPlace] = useState<string | undefined>(undefined);
  const codes = scan.codes.filter((c) => modules.some((m) => m.id === c.module));
  const asked = modules.filter((m) => codes.some((c) => c.module === m.id));
  const free = link.progress === undefined;
  const nextRound = useEffectEvent(() => link.scan(asked, (m) => setNow(m.scan.codes)));
  useEffect(() => {
    if (!watching || !free) return;
    // The next round begins when the one before has ended.
    const timer = setTimeout(nextRound, now === undefined ? 0 : EVERY_MS);
    return () => clearTimeout(timer);
  }, [watching, free, now]);
  if (codes.length === 0) return null;
  const minus = batteryNegative(harness);
  const given = openTray(view).filter((t) => t.kind === "jumpered" && t.to === minus);
  // On a real vehicle hands fit the lead; only the simulated one has to be told.
  const onSimulated = (bridged: VehicleState["bridged"]): void => {
    if (link.told !== undefined) link.work({ do: "state", state: { ...state, bridged } });
  };
  const give = (): void => {
    if (place === undefined) return;
    const [refused] = refusalsOf(harness, state, { kind: "jumper", places: [place, minus], fused: true });
    if (refused !== undefined) {
      toast(`${refused.reason} ${refused.instead}`);
      return;
    }
    record({ type: "temporary-made", data: { kind: "jumpered", at: place, to: minus, note: "ground given, fused lead" } });
    onSimulated([...state.bridged, [place, minus]]);
  };
  const takeOff = (id: string, at: string): void => {
    record({ type: "temporary-undone", data: { target: id } });
    onSimulated(state.bridged.filter(([p]) => p !== at));
  };
  return (
    <Panel aria-label="Temporary ground test">
      <h2>Temporary ground test</h2>
      <Row>
        <Select
          label="Ground to"
          inline
          placeholder="return or ground pin …"
          value={place}
          options={groundPins(harness).map((p) => ({ id: p, text: p }))}
          onChange={setPlace}
        />
        <Button isDisabled={place === undefined} onPress={give}>
          Fit a fused lead to battery negative
        </Button>
        {given.map((t) => (
          <Button key={t.id} onPress={() => takeOff(t.id, t.place)}>
            Take the lead off {t.place}
          </Button>
        ))}
        <Button look={watching ? "plain" : "solid"} onPress={() => setWatching(!watching)}>
          {watching ? "Stop watching" : "Watch the codes’ status"}
        </Button>
      </Row>
      {now === undefined ? (
        <Faint>A code that turns from active to stored when the ground is given tells where the ground was missing.</Faint>
      ) : (
        <ul aria-label="Status now" style={{ margin: 0, paddingLeft: "var(--s4)" }}>
          {codes.map((c) => {
            const is = now.find((x) => x.module === c.module && codeName(x) === codeName(c))?.status ?? "gone";
            return (
              <li key={`${c.module} ${codeName(c)}`}>
                {c.module} {codeName(c)}: was {c.status}, is <strong>{is}</strong>
              </li>
            );
          })}
        </ul>
      )}
    </Panel>
  );
}

/** Ground pins of sensors and modules: where a missing ground makes itself felt. */
const groundPins = (harness: Harness): readonly string[] =>
  harness.components.flatMap((c) => {
    if (c.kind !== "device") return [];
    const { device, settings } = deviceOf(c);
    return device.terminals(settings).flatMap((t) => (t.role === "ground" ? [`${c.id}.${t.name}`] : []));
  });
