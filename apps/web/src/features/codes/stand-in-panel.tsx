import { useEffect } from "react";
import type { VehicleState } from "@rheonom/core/circuit";
import { placesOfComponent, type Harness } from "@rheonom/core/harness";
import { refusalsOf } from "@rheonom/core/instruments";
import { openTray, trayInModel, type JobView } from "@rheonom/core/job";
import type { EventBody } from "../../job/record.ts";
import { Button, Toggle } from "../../ui/button.tsx";
import { Select } from "../../ui/select.tsx";
import { Faint, Panel, Row } from "../../ui/layout.tsx";
import { Segmented } from "../../ui/segmented.tsx";
import { toast } from "../../ui/toast.tsx";
import type { Link } from "../../job/use-link.ts";

/** ms between two looks at an engine that is cranked. */
const LOOK_MS = 700;
const KEYS = [
  { id: "off", text: "off" },
  { id: "accessory", text: "acc" },
  { id: "run", text: "run" },
] as const;

export interface StandInPanelProps {
  readonly link: Link;
  readonly harness: Harness;
  readonly view: JobView;
  readonly record: (body: EventBody) => void;
}

/** The simulated vehicle worked by hand: key, starter, what is moved, what is unplugged. What is taken off goes into the tray like on a real one. */
export function StandInPanel({ link, harness, view, record }: StandInPanelProps) {
  const told = link.told;
  const { work } = link;
  const cranking = told?.state.engine === "cranking";
  // Whether it has caught is seen by looking.
  useEffect(() => {
    if (!cranking) return;
    const timer = setInterval(() => work({ do: "tell" }), LOOK_MS);
    return () => clearInterval(timer);
  }, [cranking, work]);
  if (told === undefined) return null;
  const tray = trayInModel(harness, view);
  const set = (change: Partial<VehicleState>): void => link.work({ do: "state", state: { ...told.state, ...tray, ...change } });
  const plugs = harness.components.filter((c) => c.kind === "connector" || c.kind === "fuse" || c.kind === "device");
  const off = openTray(view).filter((t) => t.kind === "unplugged" || t.kind === "pulled");
  const named = (id: string, label?: string): string => [id, label].filter(Boolean).join(" ");
  const unplug = (id: string): void => {
    const part = plugs.find((c) => c.id === id);
    const [refused] =
      part === undefined ? [] : refusalsOf(harness, told.state, { kind: "unplug", places: placesOfComponent(harness, part) });
    if (refused !== undefined) {
      toast(`${refused.reason} ${refused.instead}`);
      return;
    }
    record({ type: "temporary-made", data: { kind: part?.kind === "fuse" ? "pulled" : "unplugged", at: id, to: "", note: "" } });
    set({ opened: [...new Set([...tray.opened, id])] });
  };
  return (
    <Panel aria-label="The simulated vehicle">
      <h2>The simulated vehicle</h2>
      <Row>
        <Segmented
          label="Key"
          options={KEYS}
          value={told.state.key === "crank" ? "run" : told.state.key}
          onChange={(key) => set({ key, ...(key === "run" ? {} : { engine: "stopped" }) })}
        />
        <Button onPress={() => link.work({ do: "crank" })} isDisabled={told.state.engine === "idling"}>
          Crank
        </Button>
        <Button onPress={() => set({ engine: "stopped" })} isDisabled={told.state.engine === "stopped"}>
          Stop the engine
        </Button>
        <Button onPress={() => link.work({ do: "drive", cycles: 1 })}>Drive it once</Button>
        <Faint role="status">
          engine {told.state.engine}; answering: {told.answers.length === 0 ? "nobody" : told.answers.join(", ")}
        </Faint>
      </Row>
      <Row>
        <Select
          label="Unplug or pull"
          inline
          placeholder="plug, fuse, part …"
          value={undefined}
          options={plugs
            .filter((c) => !tray.opened.includes(c.id))
            .map((c) => ({ id: c.id, text: named(c.id, "label" in c ? c.label : undefined) }))}
          onChange={unplug}
        />
        {off.map((t) => (
          <Button
            key={t.id}
            onPress={() => {
              record({ type: "temporary-undone", data: { target: t.id } });
              set({ opened: tray.opened.filter((x) => x.toLowerCase() !== t.place.toLowerCase()) });
            }}
          >
            Put {t.place} back
          </Button>
        ))}
        <Select
          label="Move"
          inline
          placeholder="loom or plug …"
          value={undefined}
          options={[
            ...(harness.looms ?? []).map((l) => ({ id: l.id, text: named(l.id, l.text) })),
            ...harness.components
              .filter((c) => c.kind === "connector" || c.kind === "ground")
              .map((c) => ({ id: c.id, text: named(c.id, "label" in c ? c.label : undefined) })),
          ]}
          onChange={(at) => link.work({ do: "move", at })}
        />
        {told.moving === undefined ? null : (
          <Toggle isSelected onChange={() => link.work({ do: "move" })}>
            moving {told.moving}: stop
          </Toggle>
        )}
      </Row>
    </Panel>
  );
}
