import { CircleAlert, Check as Tick } from "lucide-react";
import type { Control } from "react-hook-form";
import { styled } from "styled-components";
import { jointWords } from "@rheonom/core/job";
import { formatAmps, formatOhms, formatVolts } from "@rheonom/core/quantity";
import { SLACK_MM, STAGGER_MM, type GroundCandidate, type PartProof, type WirePlan } from "@rheonom/core/repair";
import { Button } from "../../ui/button.tsx";
import { TextInput } from "../../ui/form.tsx";
import { Columns, Faint, Row } from "../../ui/layout.tsx";
import { Notice } from "../../ui/notice.tsx";
import { percent } from "../../ui/percent.ts";
import { Segmented } from "../../ui/segmented.tsx";
import { Table } from "../../ui/table.tsx";
import { NumberInput } from "../../job/number-input.tsx";
import type { MendForm } from "./mend-form.ts";

const Box = styled.fieldset`
  border: 1px solid var(--line);
  border-radius: var(--radius);
  padding: var(--s2) var(--s3) var(--s3);
  margin: 0;
  min-width: 0;
  display: grid;
  gap: var(--s3);
  legend {
    font-weight: 680;
    padding: 0 var(--s1);
  }
`;
const Choices = styled.ul`
  list-style: none;
  margin: 0;
  padding: 0;
  display: grid;
  gap: var(--s1);
  li {
    display: grid;
    grid-template-columns: 190px minmax(0, 1fr);
    gap: var(--s3);
    align-items: center;
  }
  @media (max-width: 600px) {
    li {
      grid-template-columns: minmax(0, 1fr);
    }
  }
`;

interface Fields {
  readonly control: Control<MendForm>;
  readonly set: (change: Partial<MendForm>) => void;
}

/** How a wire is joined: open the loom or lay a new one, which joint, and what the new piece does to the circuit. */
export function WirePlanFields({ plan, form, control, set }: Fields & { plan: WirePlan; form: MendForm }) {
  const { ways, piece } = plan;
  const isOverlay = form.method === "wire overlaid";
  const proposed = ways.proposed === "overlay";
  return (
    <Box>
      <legend>Joint plan</legend>
      <Row>
        <Segmented
          label="Loom"
          value={isOverlay ? "overlay" : "find"}
          onChange={(way) =>
            set({
              method: way === "overlay" ? "wire overlaid" : "wire joined",
              ...(way === "overlay" && form.length === "" ? { length: String(ways.overlay.lengthM) } : {}),
            })
          }
          options={[
            { id: "find", text: `open and repair, ${ways.find.minutes} min` },
            { id: "overlay", text: `new wire, ${ways.overlay.minutes} min, ${ways.overlay.lengthM} m` },
          ]}
        />
      </Row>
      <Faint>
        Proposed: {proposed ? "new wire" : "open and repair"}, because {ways.why}. It leaves{" "}
        {isOverlay ? ways.overlay.leaves : ways.find.leaves}.
      </Faint>
      {isOverlay === proposed ? null : (
        <TextInput
          control={control}
          name="wayWhy"
          label="Why the other way"
          placeholder="headlining must come out anyway"
          maxLength={300}
        />
      )}
      <Choices>
        {plan.joints.map((j) => (
          <li key={j.method}>
            <Button
              look={form.joint === j.method ? "solid" : "plain"}
              aria-pressed={form.joint === j.method}
              isDisabled={j.not.length > 0}
              onPress={() => set({ joint: j.method })}
            >
              {jointWords(j.method)}
            </Button>
            <Faint>{j.not.length > 0 ? `Not here: ${j.not.join("; ")}.` : `${j.how.join("; ")}.`}</Faint>
          </li>
        ))}
      </Choices>
      <Faint>
        Joints of wires side by side {STAGGER_MM} mm apart; {SLACK_MM} mm of slack.
      </Faint>
      <Columns style={{ gridTemplateColumns: "1fr 1fr" }}>
        <NumberInput
          control={control}
          name="area"
          label="New piece, mm²"
          placeholder={String(plan.areaMm2)}
          least={0.1}
          most={200}
          unit="mm²"
        />
        <NumberInput control={control} name="length" label="Length, m" placeholder="0.10" least={0.01} most={100} unit="m" />
      </Columns>
      <Table>
        <thead>
          <tr>
            <th scope="col">At {formatAmps(plan.amps)}</th>
            <th scope="col" className="n">
              Resistance
            </th>
            <th scope="col" className="n">
              Drop
            </th>
          </tr>
        </thead>
        <tbody>
          <tr>
            <th scope="row">as drawn</th>
            <td className="n">{formatOhms(piece.oldOhms)}</td>
            <td className="n">{formatVolts(piece.oldDropVolts)}</td>
          </tr>
          <tr>
            <th scope="row">
              {form.length === "" ? "the whole wire new" : "new piece"}, two joints{piece.awg === undefined ? "" : ` (AWG ${piece.awg})`}
            </th>
            <td className="n">{formatOhms(piece.ohms)}</td>
            <td className="n">{formatVolts(piece.dropVolts)}</td>
          </tr>
          <tr>
            <th scope="row">limit of the rule set</th>
            <td />
            <td className="n">{formatVolts(piece.limitVolts)}</td>
          </tr>
        </tbody>
      </Table>
      {piece.problems.length === 0 ? (
        <Faint>
          Carries about {formatAmps(piece.carriesAmps)}
          {plan.fuse === undefined ? "" : `; ${plan.fuse.id}, ${plan.fuse.ratingAmps} A, stands before it`}.
        </Faint>
      ) : (
        <Notice tone="caution" title="Not this piece">
          {piece.problems.join("; ")}.
        </Notice>
      )}
    </Box>
  );
}

/** Studs for a new ground run. */
export function GroundPlanFields({ grounds, form, set }: { grounds: readonly GroundCandidate[]; form: MendForm; set: Fields["set"] }) {
  if (grounds.length === 0) return null;
  return (
    <Box>
      <legend>Clean and re-fix, or a new run to a proven point</legend>
      <Table>
        <thead>
          <tr>
            <th scope="col">Stud</th>
            <th scope="col" className="n">
              Wire
            </th>
            <th scope="col" className="n">
              Drop over it
            </th>
            <th scope="col" className="n">
              There now
            </th>
            <th scope="col">Hangs there</th>
          </tr>
        </thead>
        <tbody>
          {grounds.slice(0, 4).map((g) => (
            <tr key={g.id}>
              <td>
                <Button
                  look={form.groundTo === g.id && form.method === "ground overlaid" ? "solid" : "plain"}
                  onPress={() => set({ groundTo: g.id, method: "ground overlaid" })}
                >
                  {g.id}
                </Button>{" "}
                <Faint>{g.words}</Faint>
              </td>
              <td className="n">
                {g.lengthM === undefined ? "?" : `${g.lengthM} m${g.areaMm2 === undefined ? "" : `, ${g.areaMm2} mm²`}`}
              </td>
              <td className="n">{g.wireVolts === undefined ? "?" : formatVolts(g.wireVolts)}</td>
              <td className="n">{g.nowVolts === undefined ? "?" : formatVolts(g.nowVolts)}</td>
              <td>
                {g.serves.length === 0
                  ? "nothing"
                  : g.serves.slice(0, 5).join(", ") + (g.serves.length > 5 ? ` and ${g.serves.length - 5} more` : "")}
              </td>
            </tr>
          ))}
        </tbody>
      </Table>
      <Faint>
        Wire lengths follow the plan of the vehicle and are estimates. Prove the stud under load before the wire goes there; torque as the
        manufacturer states.
      </Faint>
    </Box>
  );
}

/** The three proofs that a part needs before it is bought. */
export function PartProofFields({ proof, part, control }: { proof: PartProof; part: string; control: Control<MendForm> }) {
  return (
    <Box>
      <legend>Before {part} is replaced</legend>
      {proof.proofs.map((p) => (
        <Row key={p.what} style={{ flexWrap: "nowrap", alignItems: "start" }}>
          {p.isShown ? <Tick size={20} color="var(--ok)" aria-hidden /> : <CircleAlert size={20} color="var(--suspect)" aria-hidden />}
          <span>
            <strong>{p.what}</strong> {p.isShown ? "proven" : p.missing}
          </span>
        </Row>
      ))}
      {proof.readings.length === 0 ? null : (
        <Faint>
          Found at it:{" "}
          {proof.readings
            .slice(-4)
            .map((r) => r.words)
            .join("; ")}
          .
        </Faint>
      )}
      {proof.comesWith.length === 0 ? null : <Faint>Comes with it: {proof.comesWith.join("; ")}.</Faint>}
      {proof.isAllowed ? (
        <Faint>
          If it is not {part} ({percent(proof.wrong.chance)}): a part and {proof.wrong.minutes} min wasted
          {proof.wrong.instead === null ? "" : `; then most likely ${proof.wrong.instead}`}.
        </Faint>
      ) : (
        <>
          <Notice tone="caution" title={`Do not replace ${part} yet`}>
            {proof.others.join("; ")}
            {proof.others.length === 0 ? "" : ". "}
            Chance that it is something else: {percent(proof.wrong.chance)}
            {proof.wrong.instead === null ? "" : `, most likely ${proof.wrong.instead}`}.
          </Notice>
          <TextInput
            control={control}
            name="override"
            label="Replace without proof, because"
            hint="Signed with your name and printed in the report"
            maxLength={300}
          />
        </>
      )}
    </Box>
  );
}
