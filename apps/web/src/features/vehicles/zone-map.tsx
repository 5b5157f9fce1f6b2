import { styled } from "styled-components";
import type { Harness } from "@rheonom/core/harness";
import { drawPlan } from "@rheonom/drawing/plan";
import { SceneView } from "../../drawing/scene-view.tsx";
import { Button } from "../../ui/button.tsx";
import { Row } from "../../ui/layout.tsx";
import { useVehicle } from "./vehicle-context.ts";

const Frame = styled(Row)`
  align-items: center;
  svg {
    max-width: 100%;
    height: auto;
  }
`;
const MAP_WIDE = 360;

/** The vehicle from above, to pick a place from. `count`: how many of what this screen shows are in a zone; `of`: what they are called. */
export function ZoneMap({ count, of }: { count: (zone: string) => number; of: string }) {
  const { harness, query, ask } = useVehicle();
  const zones = zonesWith(harness, count);
  if (zones.length === 0) return null;
  const picked = query.get("zone") ?? undefined;
  return (
    <Frame>
      <SceneView
        scene={drawPlan(harness, {
          width: MAP_WIDE,
          lit: [],
          zones: zones.map((zone) => ({ zone, words: `${count(zone.id)} ${of}` })),
          ...(picked === undefined ? {} : { picked }),
        })}
        onPick={({ id }) => ask({ zone: id === picked ? undefined : id })}
      />
      {picked === undefined ? null : <Button onPress={() => ask({ zone: undefined })}>Whole vehicle</Button>}
    </Frame>
  );
}

/** Zones that have a place on the plan and hold something. */
const zonesWith = (harness: Harness, count: (zone: string) => number): NonNullable<Harness["zones"]> =>
  (harness.zones ?? []).filter((z) => z.plan !== undefined && count(z.id) > 0);
