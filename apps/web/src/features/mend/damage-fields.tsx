import type { Control } from "react-hook-form";
import { DAMAGE_KINDS, REMEDIES, type RepairPlan } from "@rheonom/core/repair";
import { Button } from "../../ui/button.tsx";
import { Columns, Faint, Row } from "../../ui/layout.tsx";
import { Select } from "../../ui/select.tsx";
import { NumberInput } from "../../job/number-input.tsx";
import type { MendForm } from "./mend-form.ts";

export interface DamageFieldsProps {
  readonly plan: RepairPlan | undefined;
  readonly form: MendForm;
  readonly control: Control<MendForm>;
  readonly set: (change: Partial<MendForm>) => void;
}

/** Kind of damage, where along the loom, what caused it and what takes the cause away; what the place is prone to is offered. */
export function DamageFields({ plan, form, control, set }: DamageFieldsProps) {
  if (plan?.thing === undefined) return null;
  const chosen = plan.likely.find((d) => d.kind === form.damage);
  const remedies = [...new Set([...(chosen?.remedies ?? []), ...REMEDIES])];
  return (
    <>
      <Row>
        <Faint>Likely here:</Faint>
        {plan.likely.map((d) => (
          <Button
            key={d.kind}
            look={form.damage === d.kind ? "solid" : "plain"}
            aria-pressed={form.damage === d.kind}
            onPress={() =>
              set({
                damage: d.kind,
                cause: form.cause === "" ? `${d.cause.charAt(0).toUpperCase()}${d.cause.slice(1)}.` : form.cause,
                remedy: d.remedies[0] ?? "",
              })
            }
          >
            {d.kind}
          </Button>
        ))}
      </Row>
      <Columns style={{ gridTemplateColumns: "repeat(auto-fit, minmax(150px, 1fr))", gap: "var(--s3)" }}>
        <Select
          label="Damage"
          value={form.damage === "" ? undefined : form.damage}
          placeholder="none seen"
          onChange={(damage) => set({ damage })}
          options={DAMAGE_KINDS.map((id) => ({ id: id as string, text: id }))}
        />
        {plan.places.length === 0 ? null : (
          <Select
            label="Section of loom"
            value={form.segment === "" ? undefined : form.segment}
            placeholder="not known"
            onChange={(segment) => set({ segment })}
            options={plan.places.map((p) => ({ id: p.segment, text: `${p.segment}: ${p.words}` }))}
          />
        )}
        {plan.thing === "wire" ? (
          <NumberInput control={control} name="fromEnd" label="From its end, m" placeholder="0.35" least={0} most={100} unit="m" />
        ) : null}
        {form.damage === "" ? null : (
          <Select
            label="Cause removed by"
            value={form.remedy === "" ? undefined : form.remedy}
            placeholder="choose"
            onChange={(remedy) => set({ remedy })}
            options={remedies.map((id) => ({ id: id as string, text: id }))}
          />
        )}
      </Columns>
    </>
  );
}
