import { z } from "zod";
import { LAMP_LOOKS } from "../../../instruments/index.ts";
import type { EvidenceKind } from "../kind.ts";
import * as amps from "./amps.ts";
import * as answers from "./answers.ts";
import * as check from "./check.ts";
import * as code from "./code.ts";
import * as continuity from "./continuity.ts";
import * as duty from "./duty.ts";
import * as fuse from "./fuse.ts";
import * as lamp from "./lamp.ts";
import * as level from "./level.ts";
import * as live from "./live.ts";
import * as look from "./look.ts";
import * as ohms from "./ohms.ts";
import * as part from "./part.ts";
import * as swap from "./swap.ts";
import * as volts from "./volts.ts";
import * as wiggle from "./wiggle.ts";

/** What one can look at, listen to or measure. Which leads, which part, which wire. */
export const observable = z.discriminatedUnion("kind", [
  volts.schema,
  level.schema,
  duty.schema,
  ohms.schema,
  amps.schema,
  lamp.schema,
  continuity.schema,
  part.schema,
  answers.schema,
  code.schema,
  live.schema,
  look.schema,
  swap.schema,
  fuse.schema,
  wiggle.schema,
  check.schema,
]);
export type Observable = z.infer<typeof observable>;

/** The only list of kinds of evidence. */
const KINDS: { readonly [K in Observable["kind"]]: EvidenceKind<Extract<Observable, { kind: K }>> } = {
  volts: volts.volts,
  level: level.level,
  duty: duty.duty,
  ohms: ohms.ohms,
  amps: amps.amps,
  lamp: lamp.lamp,
  continuity: continuity.continuity,
  part: part.part,
  answers: answers.answers,
  code: code.code,
  live: live.live,
  look: look.look,
  swap: swap.swap,
  fuse: fuse.fuse,
  wiggle: wiggle.wiggle,
  check: check.check,
};

/** The kind of a piece of evidence, for what is asked of it. */
export const kindOf = (o: Observable): EvidenceKind<Observable> => KINDS[o.kind] as EvidenceKind<Observable>;

/** Words a result may have, by what was looked at. */
export const RESULT_WORDS = {
  lamp: LAMP_LOOKS,
  continuity: continuity.WORDS,
  part: part.WORDS,
  answers: answers.WORDS,
  code: code.WORDS,
  look: look.WORDS,
  swap: swap.WORDS,
  fuse: fuse.WORDS,
  wiggle: wiggle.WORDS,
  check: check.WORDS,
} as const;
export type ResultWord = (typeof RESULT_WORDS)[keyof typeof RESULT_WORDS][number];
