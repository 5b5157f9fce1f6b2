import { useMemo, useState } from "react";
import { optionChanges, resolveVariant } from "@rheonom/core/harness";
import type { EventOf } from "@rheonom/core/job";
import { printNotation } from "@rheonom/core/notation";
import { useHarnessQuery, useVehiclesQuery } from "../api/api.ts";
import { failureOf } from "../api/failure.ts";

/** A vehicle of the shop that a job is opened for, with its options. */
export interface ChosenVehicle {
  readonly vehicles: readonly { readonly id: string; readonly text: string }[];
  /** The shop's vehicles are known; until then there is nothing to choose from. */
  readonly isListed: boolean;
  readonly id: string | undefined;
  readonly version: number;
  /** `options`: what this one has, where that is known. */
  readonly choose: (id: string | undefined, options?: readonly string[]) => void;
  /** Everything that its wiring knows as an option, and what this one has. */
  readonly all: readonly { readonly id: string; readonly text: string; readonly changes: string }[];
  readonly options: readonly string[];
  readonly toggle: (id: string, on: boolean) => void;
  /** Its wiring is asked for and not there yet. */
  readonly isComing: boolean;
  readonly failed: string | undefined;
  /** What goes into the job; undefined where no vehicle was chosen. */
  readonly wiring: EventOf<"circuit-set">["data"] | undefined;
}

const NONE: readonly string[] = [];

/** `typed`: the name that stands in a draft, which brings its vehicle back. */
export function useChosenVehicle(typed = ""): ChosenVehicle {
  const list = useVehiclesQuery(undefined);
  const vehicles = useMemo(() => (list.data?.vehicles ?? []).map((v) => ({ id: v.id as string, text: v.latest.name })), [list.data]);
  const [picked, setPicked] = useState<string | "none" | undefined>(undefined);
  const id = picked === "none" ? undefined : (picked ?? vehicles.find((v) => v.text === typed)?.id);
  const [had, setHad] = useState<Readonly<Record<string, readonly string[]>>>({});
  const version = list.data?.vehicles.find((v) => v.id === id)?.latest.version ?? 0;
  const asked = useHarnessQuery({ id: id ?? "", version }, { skip: id === undefined || version === 0 });
  const harness = asked.data?.id === id ? asked.data?.harness : undefined;
  const all = useMemo(
    () => (harness?.options ?? []).map((o) => ({ id: o.id, text: o.text, changes: optionChanges(harness!, o.id) })),
    [harness],
  );
  const options = (id === undefined ? undefined : had[id]) ?? NONE;
  const wiring = useMemo(
    () =>
      harness === undefined || id === undefined
        ? undefined
        : { notation: printNotation(resolveVariant(harness, options)), vehicle: { id, version, options: [...options] } },
    [harness, id, version, options],
  );
  const failure = list.error ?? asked.error;
  return {
    vehicles,
    isListed: list.data !== undefined,
    id,
    version,
    choose: (next, has) => {
      setPicked(next ?? "none");
      if (next !== undefined && has !== undefined) setHad((known) => ({ ...known, [next]: has }));
    },
    all,
    options,
    toggle: (option, on) =>
      id === undefined
        ? undefined
        : setHad((known) => ({ ...known, [id]: on ? [...options, option] : options.filter((x) => x !== option) })),
    isComing: id !== undefined && harness === undefined && failure === undefined,
    failed: failure === undefined ? undefined : failureOf(failure).message,
    wiring,
  };
}
