import { useMemo } from "react";
import { Link } from "react-router";
import type { CaseAnswer } from "@rheonom/core/diagnosis";
import { describeLink, linksOf, lookupOf, partNameIn, type Harness } from "@rheonom/core/harness";
import { formatVolts } from "@rheonom/core/quantity";
import { faultTypeOf } from "@rheonom/core/repair";
import { useJobContext } from "../../job/job-context.ts";
import { Button } from "../../ui/button.tsx";
import { Faint, Row } from "../../ui/layout.tsx";
import { Notice } from "../../ui/notice.tsx";
import { useQuery } from "../../worker/use-query.ts";
import { sentence, type MendData, type MendForm } from "./mend-form.ts";

/** What the readings condemn, for filling the form with one press. */
export function useSuspects(): readonly { readonly at: string; readonly words: string; readonly found: string }[] {
  const { job, harness } = useJobContext();
  const { view } = job;
  const shown = useQuery("record", harness, { view, now: view.lastAt }).value;
  return useMemo(() => {
    if (harness === undefined || shown === undefined) return [];
    const links = new Map(linksOf(harness).map((l) => [l.id, l]));
    const latest = shown.traces.filter((t) => t.when === (view.mends.length > 0 ? "after" : "before"));
    return latest.flatMap((t) =>
      t.judged.stretches
        .filter((s) => s.verdict === "suspect")
        .flatMap((s) =>
          s.steps.map((i) => {
            const { link } = t.judged.staircase.steps[i]!;
            const drop = `${formatVolts(s.dropVolts)} drop between ${s.fromPlace} and ${s.toPlace}, expected ${formatVolts(s.soundDropVolts)}`;
            return { at: link.id, words: describeLink(harness, links.get(link.id) ?? link), found: drop };
          }),
        ),
    );
  }, [harness, shown, view.mends.length]);
}

/** What mends what, as it is chosen first. */
const METHOD: Readonly<Partial<Record<string, MendData["method"]>>> = {
  wire: "wire joined",
  ground: "ground cleaned and re-fixed",
  fuse: "fuse renewed",
  connector: "contact cleaned",
};

export interface Found {
  readonly at: string;
  readonly how: string;
  readonly found: string;
  readonly method: MendData["method"];
  /** Its type, and the ohms of a resistance, as the form holds them. */
  readonly type: Pick<MendForm, "fault" | "ohms">;
}

/** What is enough to act on, with what mends it; undefined while nothing is. */
export function findingIn(harness: Harness | undefined, answer: CaseAnswer | undefined): Found | undefined {
  const enough = answer?.enoughToAct;
  if (harness === undefined || enough === undefined || !enough.yes || enough.element === null) return undefined;
  const { parts, wires } = lookupOf(harness);
  const kind = wires.has(enough.element) ? "wire" : parts.get(partNameIn(enough.element))?.kind;
  const isPart = enough.act === "renew" && kind !== "fuse";
  const first = answer!.suspects.find((s) => s.element === enough.element);
  return {
    at: enough.element,
    how: enough.how ?? "",
    found: sentence([first?.words, first?.severity].filter(Boolean).join(", ")),
    method: isPart ? "part renewed" : (METHOD[kind ?? ""] ?? "other"),
    type: { fault: (first && faultTypeOf(first.effect, kind === "fuse")) ?? "", ohms: ohmsTyped(first?.seriesOhms) },
  };
}

const ohmsTyped = (ohms: number | null | undefined): string =>
  ohms === null || ohms === undefined ? "" : String(Number(ohms.toPrecision(2)));

export type Taken = Pick<MendForm, "at" | "found"> & Partial<MendForm>;
/** What is enough to act on, and what the readings point at: one tap takes it. */
export function Findings({
  finding,
  suspects,
  onTake,
}: {
  finding: Found | undefined;
  suspects: ReturnType<typeof useSuspects>;
  onTake: (found: Taken) => void;
}) {
  const { job } = useJobContext();
  const others = suspects.filter((s) => s.at !== finding?.at);
  return (
    <>
      {finding === undefined ? null : (
        <Row>
          <Faint>Enough to act on:</Faint>
          <Button look="solid" onPress={() => onTake({ at: finding.at, method: finding.method, found: finding.found, ...finding.type })}>
            {finding.at}
          </Button>
          <Faint>{finding.how}</Faint>
        </Row>
      )}
      {finding !== undefined && others.length === 0 ? null : others.length > 0 ? (
        <Row>
          <Faint>The readings point at:</Faint>
          {others.map((s) => (
            <Button key={s.at} onPress={() => onTake({ at: s.at, found: `${s.found}. ` })}>
              {s.at}
            </Button>
          ))}
        </Row>
      ) : (
        <Notice tone="info">
          No reading points to a fault yet. <Link to={`/jobs/${job.id}/trace`}>Trace</Link> first, or write down what you found by eye.
        </Notice>
      )}
    </>
  );
}
