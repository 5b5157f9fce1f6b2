import { styled } from "styled-components";
import { cavityIn, faceOf, lookupOf, partNameIn, pinNameIn, whereaboutsOf, type Face, type Harness } from "@rheonom/core/harness";
import { drawSmallFace } from "@rheonom/drawing/face";
import { drawPlan, hasPlan, type Lit } from "@rheonom/drawing/plan";
import { Faint } from "../ui/layout.tsx";
import { SceneView } from "./scene-view.tsx";

const Strip = styled.section`
  border-top: 1px solid var(--line);
  padding: var(--s1) var(--s2);
  display: flex;
  gap: var(--s1) var(--s3);
  align-items: center;
  font-size: 0.875rem;
  /* Always as high, whatever it shows. */
  min-height: 112px;
  svg {
    max-width: 100%;
    height: auto;
  }
  figure {
    margin: 0;
    min-width: 0;
  }
`;

/** Width of the plan, px. */
const PLAN_WIDE = 168;

export interface WhereProps {
  readonly harness: Harness;
  /** A place or a link; shown before the leads. */
  readonly selected: string | undefined;
  readonly red: string | undefined;
  readonly black: string | undefined;
  /** Where hands go without a lead. */
  readonly hands: string | undefined;
}

/** Where on the vehicle it is, and which cavity of its connector: of what is selected, or of the proposed leads. */
export function Where({ harness, selected, red, black, hands }: WhereProps) {
  const named =
    selected === undefined
      ? [[red, "lead-red"] as const, [black, "lead-black"] as const, [hands, "selected"] as const]
      : [[selected, "selected"] as const];
  const lit = named.flatMap(([name, role]): Lit[] =>
    name === undefined ? [] : (whereaboutsOf(harness, name)?.spots ?? []).map((spot) => ({ spot, role })),
  );
  const seen = named.map(([name]) => (name === undefined ? undefined : faceAt(harness, name))).find((f) => f !== undefined);
  const zone = named.map(([name]) => (name === undefined ? undefined : whereaboutsOf(harness, name)?.zone)).find((z) => z !== undefined);
  const isPlanned = hasPlan(harness);
  if (!isPlanned && seen === undefined) return null;
  return (
    <Strip aria-label="Where on the vehicle">
      {isPlanned ? (
        <figure>
          <SceneView scene={drawPlan(harness, { width: PLAN_WIDE, lit })} />
        </figure>
      ) : null}
      {seen === undefined ? (
        <Faint>{zone?.text ?? "Tap a dot to put the lead there, a wire or part to see what it is."}</Faint>
      ) : (
        <figure>
          <SceneView scene={drawSmallFace(seen.face, seen.cavity)} />
          <figcaption>
            <Faint>
              <strong>
                {seen.face.connector.id} cavity {seen.cavity}
              </strong>
              , {seen.face.look} of half {seen.face.half}
            </Faint>
          </figcaption>
        </figure>
      )}
    </Strip>
  );
}

/** The face of the plug that a place or a cavity is in; undefined where it is in none. */
function faceAt(harness: Harness, name: string): { readonly face: Face; readonly cavity: string } | undefined {
  const part = lookupOf(harness).parts.get(partNameIn(name));
  const pin = pinNameIn(name);
  if (part?.kind !== "connector" || pin === "") return undefined;
  const half = pin.endsWith("b") ? "b" : "a";
  const cavity = /[ab]$/.test(pin) ? cavityIn(pin) : pin;
  return { face: faceOf(harness, part.id, half, "wire side"), cavity };
}
