import { useState, type ReactNode } from "react";
import { useNavigate } from "react-router";
import type { Practising } from "@rheonom/contract/practice";
import { usePractiseMutation } from "../api/api.ts";
import { failureOf } from "../api/failure.ts";
import { Notice } from "../ui/notice.tsx";
import { PersonDialog } from "./person.tsx";
import { useAppSelector } from "./store.ts";

/** Makes practice jobs and opens them. */
export interface BeginPractice {
  /** Asks for a name first when nobody has given one: every entry carries one. */
  readonly begin: (ask: Omit<Practising, "by">) => void;
  readonly isBusy: boolean;
  /** Who works; "" before anybody has said. */
  readonly person: string;
  /** Belongs on the screen: the question for a name, and why the last job could not be made. */
  readonly beside: ReactNode;
}

export function useBeginPractice(): BeginPractice {
  const navigate = useNavigate();
  const person = useAppSelector((s) => s.session.person);
  const [practise, { isLoading }] = usePractiseMutation();
  const [failed, setFailed] = useState<string | undefined>(undefined);
  const [unnamed, setUnnamed] = useState<Omit<Practising, "by"> | undefined>(undefined);
  const send = async (ask: Omit<Practising, "by">, by: string): Promise<void> => {
    setFailed(undefined);
    const answer = await practise({ ...ask, by });
    if ("error" in answer) setFailed(failureOf(answer.error).message);
    else void navigate(`/jobs/${answer.data.jobId}/complaint`);
  };
  return {
    begin: (ask) => (person === "" ? setUnnamed(ask) : void send(ask, person)),
    isBusy: isLoading,
    person,
    beside: (
      <>
        {failed === undefined ? null : (
          <Notice tone="danger" role="alert">
            {failed}
          </Notice>
        )}
        <PersonDialog
          isOpen={unnamed !== undefined}
          onClose={() => setUnnamed(undefined)}
          onNamed={(name) => {
            if (unnamed !== undefined) void send(unnamed, name);
          }}
        />
      </>
    ),
  };
}
