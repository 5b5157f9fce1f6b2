import type { Harness } from "../../harness/index.ts";
import { ratedWork, workShown, type observe } from "../../instruments/index.ts";

type Seen = ReturnType<typeof observe>;

/** Below this a part counts as doing nothing in the sound vehicle, in the unit of its work. */
const LEAST_WORK = 0.02;

/** What a part does beside what it does when all is sound, from two full observations: a share, whether it goes on and off without end, and whether it should do nothing. */
export function observedWork(
  harness: Harness,
  seen: Seen,
  sound: Seen,
  part: string,
): { readonly share: number; readonly oscillating: boolean; readonly isUnasked: boolean } {
  const sightsIn = (list: Seen): Extract<Seen, readonly unknown[]> => (Array.isArray(list) ? list.filter((x) => x.component === part) : []);
  const work = (list: Seen): number =>
    workShown(
      sightsIn(list).flatMap(({ sight }) =>
        sight.kind === "chatters" ? [] : [sight.kind === "lamp" ? { kind: "brightness" as const, share: sight.share } : sight],
      ),
    );
  const [now, then] = [work(seen), work(sound)];
  const share = now / (then > LEAST_WORK ? then : ratedWork(harness, part));
  return {
    share: Number.isNaN(share) ? 0 : share,
    oscillating: sightsIn(seen).some((x) => x.sight.kind === "chatters"),
    isUnasked: then <= LEAST_WORK,
  };
}
