import type { PathJudgement } from "@rheonom/core/diagnosis";
import { formatVolts } from "@rheonom/core/quantity";
import type { Suspicion } from "./slice-scene.ts";

/** What the readings on a path put into the drawing of its circuit. */
export interface PathMarks {
  /** By link: the drop at the first of each suspect stretch, and what each would hold if the stretch were shared out evenly. */
  readonly suspects: ReadonlyMap<string, Suspicion>;
  /** By place: what was measured there against battery negative. */
  readonly notes: ReadonlyMap<string, string>;
}

/** Marks of a path as its readings stand; none before anything was read. */
export function pathMarks(judged: PathJudgement | undefined): PathMarks {
  const { places = [], steps = [] } = judged?.staircase ?? {};
  return {
    suspects: new Map(
      (judged?.stretches ?? []).flatMap((s) =>
        s.verdict === "suspect"
          ? s.steps.map((i, n): [string, Suspicion] => [
              steps[i]!.link.id,
              { words: n === 0 ? `${formatVolts(s.dropVolts)} drop` : "", share: 1 / s.steps.length },
            ])
          : [],
      ),
    ),
    notes: new Map(
      places.flatMap((p, i): [string, string][] => {
        const volts = judged!.measuredVolts[i];
        return volts === undefined ? [] : [[p, formatVolts(volts)]];
      }),
    ),
  };
}

/** The same once all suspects are ranked: each hatched by its share, and the share said beside it. A drop stays written where it was measured, also where the ranking suspects nothing any more. */
export function rankedMarks(
  path: PathMarks["suspects"],
  ranked: readonly { readonly element: string; readonly share: number; readonly words: string }[],
): PathMarks["suspects"] {
  const dropped = new Map([...path].flatMap(([id, { words }]) => (words === "" ? [] : [[id, { words, share: undefined }] as const])));
  const suspected = ranked.map(({ element, share, words }) => {
    const drop = dropped.get(element)?.words;
    return [element, { words: drop === undefined ? words : `${words}, ${drop}`, share }] as const;
  });
  return new Map<string, Suspicion>([...dropped, ...suspected]);
}
