import type { Content } from "pdfmake/interfaces";
import { type Face, groundMap, type Harness } from "@rheonom/core/harness";
import type { VehicleState } from "@rheonom/core/circuit";
import { predictAll } from "@rheonom/core/instruments";
import { drawFace, faceTitle, worstBeside } from "@rheonom/drawing/face";
import { sceneToSvg } from "@rheonom/drawing/svg";
import { FONT, printPaper, table } from "./paper.ts";

/** Names of more loads than a cell holds are counted. */
const NAMED = 14;

/** The ground map on paper: where each ground is, what unbolts it, what it serves. */
export async function printGrounds(harness: Harness, now: Date): Promise<Buffer> {
  const rows = groundMap(harness).map((g) => [
    `${g.id} ${g.words}`,
    [`on the ${g.on}`, g.place, g.strap ? "strap to the battery" : ""].filter(Boolean).join("; "),
    [g.minutes === undefined ? "" : `${g.minutes} min`, g.tool ?? "", g.exposure.join(", ")].filter(Boolean).join("; "),
    g.serves
      .slice(0, NAMED)
      .map((s) => `${s.id} ${s.words}`)
      .join(", ") + (g.serves.length > NAMED ? ` and ${g.serves.length - NAMED} more` : ""),
    "",
  ]);
  const content: Content[] = [
    { text: `Grounds: ${harness.name}`, style: "title" },
    { text: "Measure each from battery negative, under load. The last column is for what you read.", style: "small" },
    table(["Ground", "Where", "Access", "Serves", "Read"], [110, 150, 110, "*", 60], rows),
  ];
  return printPaper({ title: `Grounds: ${harness.name}`, foot: harness.name, madeAt: now.toISOString(), content }, true);
}

/** Many switches are counted, not named. */
const stateWords = (state: VehicleState): string =>
  `key ${state.key}, engine ${state.engine}, ${state.on.length === 0 ? "nothing switched on" : `${state.on.length} ${state.on.length === 1 ? "switch" : "switches"} on`}`;

/** A connector's face on paper, with a table of its cavities. */
export async function printFace(harness: Harness, face: Face, state: VehicleState, now: Date): Promise<Buffer> {
  const found = predictAll(harness, state, []);
  const volts = "volts" in found ? found.volts : new Map();
  const scene = drawFace(face, { volts, selected: undefined });
  const cavities = face.rows.flat().filter((c) => c.wires.length > 0);
  const rows = [...cavities]
    .sort((p, q) => Number(p.number) - Number(q.number))
    .map((c) => {
      const read = volts.get(c.place);
      const worst = worstBeside(face, c, volts);
      return [
        c.number,
        c.wires.map((w) => `${w.id} ${w.colour ?? ""} ${w.areaMm2} mm²`).join(", "),
        read === undefined ? "–" : `${read.toFixed(2)} V`,
        worst === undefined ? "" : `cavity ${worst.number}, ${worst.apartVolts.toFixed(1)} V apart`,
        "",
      ];
    });
  const { connector } = face;
  const content: Content[] = [
    { text: `${connector.id} ${connector.label ?? ""}`, style: "title" },
    { text: `${harness.name}. Seen from the ${face.look} of half ${face.half}; the other side is the mirror image.`, style: "small" },
    { svg: sceneToSvg(scene, FONT), width: Math.min(740, scene.width * 0.8), margin: [0, 8, 0, 0] },
    { text: `What each should read with ${stateWords(state)}`, style: "h2" },
    table(["Cavity", "Wire", "Should read", "Highest-risk neighbour", "Read"], [50, "*", 80, 150, 90], rows),
  ];
  return printPaper({ title: faceTitle(face), foot: harness.name, madeAt: now.toISOString(), content }, true);
}
