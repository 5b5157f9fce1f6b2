import { MEND_METHODS, METHOD_WORDS, type EventOf } from "@rheonom/core/job";
import { typedNumber } from "../../job/typed-number.ts";
import { DAMAGE_KINDS, FAULT_TYPES, JOINT_METHODS, REMEDIES, type RepairWay } from "@rheonom/core/repair";

/** A repair as its form holds it: everything is text until it is saved. */
export interface MendForm {
  readonly at: string;
  readonly found: string;
  readonly cause: string;
  readonly method: MendData["method"];
  readonly done: string;
  /** What was wrong as it was measured; "" where nobody says. */
  readonly fault: string;
  readonly ohms: string;
  readonly damage: string;
  readonly segment: string;
  readonly fromEnd: string;
  readonly remedy: string;
  readonly wayWhy: string;
  readonly joint: string;
  readonly area: string;
  readonly length: string;
  readonly groundTo: string;
  readonly override: string;
  /** Rating of the fuse that was found fitted, and of the one that was put in, A. */
  readonly fitted: string;
  readonly putIn: string;
}
export type MendData = EventOf<"mend-made">["data"];

export const EMPTY_MEND: MendForm = {
  at: "",
  found: "",
  cause: "",
  method: "contact cleaned",
  done: "",
  fault: "",
  ohms: "",
  damage: "",
  segment: "",
  fromEnd: "",
  remedy: "",
  wayWhy: "",
  joint: "",
  area: "",
  length: "",
  groundTo: "",
  override: "",
  fitted: "",
  putIn: "",
};

/** "Contact cleaned." */
export const sentence = (words: string): string => `${words.charAt(0).toUpperCase()}${words.slice(1)}.`;

/** Which steps and plan go with a method. */
export const WAY_OF: Readonly<Record<MendData["method"], RepairWay>> = {
  "contact cleaned": "contact",
  "terminal renewed": "contact",
  "connector renewed": "contact",
  "wire joined": "wire",
  "wire overlaid": "wire",
  "ground cleaned and re-fixed": "ground",
  "ground overlaid": "ground",
  "fuse renewed": "fuse",
  "part renewed": "part",
  other: "other",
};

const oneOf = <T extends string>(known: readonly T[], text: string): T | undefined => known.find((k) => k === text);
const kept = (text: string): number | undefined => {
  const value = typedNumber(text);
  return value === undefined || Number.isNaN(value) ? undefined : value;
};

/** The entry of a form. What was done is the method, as long as nobody says it in other words; what does not go with the method is left out. */
export function mendOf(form: MendForm): MendData {
  const method = oneOf(MEND_METHODS, form.method) ?? "other";
  const damage = oneOf(DAMAGE_KINDS, form.damage);
  const fault = oneOf(FAULT_TYPES, form.fault);
  const ohms = fault === "high resistance" ? kept(form.ohms) : undefined;
  const remedy = oneOf(REMEDIES, form.remedy);
  const joint = oneOf(JOINT_METHODS, form.joint);
  const [fromEndM, areaMm2, lengthM, fuseAmps] = [kept(form.fromEnd), kept(form.area), kept(form.length), kept(form.putIn)];
  return {
    at: form.at.trim(),
    found: form.found.trim(),
    cause: form.cause.trim(),
    method,
    done: form.done.trim() === "" ? sentence(METHOD_WORDS[method]) : form.done.trim(),
    ...(fault === undefined ? {} : { fault: { type: fault, ...(ohms === undefined ? {} : { ohms }) } }),
    ...(damage === undefined
      ? {}
      : {
          damage: {
            kind: damage,
            segment: form.segment,
            ...(fromEndM === undefined ? {} : { fromEndM }),
            ...(remedy === undefined ? {} : { remedy }),
          },
        }),
    ...(WAY_OF[method] !== "wire" || joint === undefined
      ? {}
      : {
          joint: {
            way: method === "wire overlaid" ? ("overlay" as const) : ("find" as const),
            why: form.wayWhy.trim(),
            method: joint,
            ...(areaMm2 === undefined ? {} : { areaMm2 }),
            ...(lengthM === undefined ? {} : { lengthM }),
          },
        }),
    ...(method === "fuse renewed" && fuseAmps !== undefined ? { fuseAmps } : {}),
    ...(method === "ground overlaid" && form.groundTo !== "" ? { groundTo: form.groundTo } : {}),
    ...(method === "part renewed" && form.override.trim() !== "" ? { override: form.override.trim() } : {}),
  };
}
