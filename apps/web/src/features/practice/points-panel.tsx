import { useForm } from "react-hook-form";
import { useState } from "react";
import { styled } from "styled-components";
import type { PracticeMenu } from "@rheonom/contract/practice";
import { failureOf } from "../../api/failure.ts";
import { useKeepShopMutation, useShopQuery } from "../../api/shop-api.ts";
import { NumberInput } from "../../job/number-input.tsx";
import { typedNumber } from "../../job/typed-number.ts";
import { Button } from "../../ui/button.tsx";
import { FormStack } from "../../ui/form.tsx";
import { Faint, Panel, Row } from "../../ui/layout.tsx";
import { Notice } from "../../ui/notice.tsx";
import { toast } from "../../ui/toast.tsx";

const Fields = styled.div`
  display: grid;
  grid-template-columns: repeat(auto-fill, minmax(17rem, 1fr));
  gap: var(--s3);
`;

const Summary = styled.summary`
  cursor: pointer;
  min-height: var(--target);
  align-content: center;
  h2 {
    display: inline;
    margin-right: var(--s3);
  }
`;

type Form = Record<string, string>;
const formOf = (points: PracticeMenu["points"], of: "here" | "usual"): Form => Object.fromEntries(points.map((p) => [p.id, String(p[of])]));

/** What counts in a score here. They are taken as shares of a hundred, whatever they come to together. */
export function PointsPanel({ points }: { points: PracticeMenu["points"] }) {
  const { control, handleSubmit, reset, watch } = useForm<Form>({ defaultValues: formOf(points, "here") });
  const { data: shop } = useShopQuery(undefined);
  const [keep, { isLoading }] = useKeepShopMutation();
  const [failed, setFailed] = useState("");
  const form = watch();
  const number = (id: string): number => Math.round(typedNumber(form[id] ?? "") ?? 0);
  // What is taken off is none of what counts.
  const sum = points.reduce((s, p) => s + (p.id === "advice" ? 0 : number(p.id)), 0);
  const save = async (): Promise<void> => {
    setFailed("");
    if (shop === undefined) return setFailed("The shop’s settings are not there yet. Try again.");
    const answer = await keep({ ...shop, points: Object.fromEntries(points.map((p) => [p.id, number(p.id)])) });
    if ("error" in answer) return setFailed(failureOf(answer.error).message);
    toast("Saved. Debriefs score with them from now on; what was scored stays.");
  };
  return (
    <Panel aria-label="Points">
      <details>
        <Summary>
          <h2>Points</h2>
          <Faint>What counts in a score, and how much.</Faint>
        </Summary>
        <FormStack onSubmit={(e) => void handleSubmit(save)(e)} noValidate>
          <Fields>
            {points.map((p) => (
              <NumberInput
                key={p.id}
                control={control}
                name={p.id}
                label={p.words}
                hint={`usually ${p.usual}`}
                least={0}
                most={100}
                unit="points"
              />
            ))}
          </Fields>
          {failed === "" ? null : (
            <Notice tone="danger" role="alert" title="Not saved">
              {failed}
            </Notice>
          )}
          <Row>
            <Button type="submit" isDisabled={isLoading || sum <= 0}>
              Save points
            </Button>
            <Button onPress={() => reset(formOf(points, "usual"))}>Usual points</Button>
            <Faint>{sum <= 0 ? "Something has to count." : sum === 100 ? "100 in all." : `${sum} in all, taken as shares of 100.`}</Faint>
          </Row>
        </FormStack>
      </details>
    </Panel>
  );
}
