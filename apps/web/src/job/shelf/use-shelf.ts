import { useMemo } from "react";
import type { VehicleState } from "@rheonom/core/circuit";
import type { Leads } from "@rheonom/core/instruments";
import { familyOf, onShelf, type JobView, type KnownGood, type Shelf } from "@rheonom/core/job";
import { usePutKnownGoodMutation, useKnownGoodsQuery } from "../../api/shelf-api.ts";
import { failureOf } from "../../api/failure.ts";
import { toast } from "../../ui/toast.tsx";
import { newId } from "../record.ts";
import { useAppSelector } from "../store.ts";

type Family = Pick<JobView, "circuit" | "complaint">;

/** Everything of a family; nothing while nobody has said what vehicle it is. */
export function useShelfOf(view: Family): readonly KnownGood[] {
  const vehicle = familyOf(view)?.vehicle;
  const { data } = useKnownGoodsQuery(vehicle ?? "", { skip: vehicle === undefined });
  return data?.items ?? NONE;
}
const NONE: readonly KnownGood[] = [];

/** What is on the shelf for leads in a state; undefined where they are nowhere, or the shelf has nothing of that place. */
export function useShelf(view: Family, leads: Leads | undefined, state: VehicleState): Shelf | undefined {
  const items = useShelfOf(view);
  const options = familyOf(view)?.options;
  return useMemo(() => {
    if (leads === undefined || options === undefined || items.length === 0) return undefined;
    const shelf = onShelf(items, { options, leads, state });
    return shelf.like.length + shelf.traces.length + shelf.other.length === 0 ? undefined : shelf;
  }, [items, options, leads, state]);
}

/** What of a known-good is not the same for all that a job puts there. */
export type Found = Pick<KnownGood, "leads" | "state" | "instrument" | "note"> & Partial<Pick<KnownGood, "value" | "trace">>;

/** Puts what a job showed on the shelf; undefined while nobody has said what vehicle it is. Tells how it went. */
export function usePutOnShelf(view: Family & Pick<JobView, "id">): ((found: readonly Found[]) => Promise<boolean>) | undefined {
  const [put] = usePutKnownGoodMutation();
  const by = useAppSelector((s) => s.session.person);
  const family = familyOf(view);
  if (family === undefined || by === "") return undefined;
  return async (found) => {
    for (const one of found) {
      const answer = await put({
        ...one,
        id: newId(),
        at: new Date().toISOString(),
        by,
        vehicle: family.vehicle,
        options: [...family.options],
        from: "",
        jobId: view.id,
        withdrawn: null,
      });
      if ("error" in answer) {
        toast(failureOf(answer.error).message);
        return false;
      }
    }
    toast(found.length === 1 ? "Put on the shelf of known-goods." : `${found.length} put on the shelf of known-goods.`);
    return true;
  };
}
