import type { ScpiClient } from "./client.ts";
import { answerParts } from "./program.ts";
import { readNumber } from "./number.ts";

export type MeterFunction = "volts" | "ohms" | "amps" | "continuity";

/** The words that a meter is asked with. Meters differ; these may be set as a meter's manual has them. */
export interface MeterWords {
  /** Turns the meter to a function. */
  readonly set: Readonly<Record<MeterFunction, string>>;
  /** Asks for one reading of the function that is set. */
  readonly read: string;
}

/** The words of SCPI-1999 for direct voltage, two-wire resistance, direct current and continuity. */
export const METER_WORDS: MeterWords = {
  set: { volts: "CONF:VOLT:DC", ohms: "CONF:RES", amps: "CONF:CURR:DC", continuity: "CONF:CONT" },
  read: "READ?",
};

/** What a meter says to one question: a value in V, Ω or A. */
export type MeterSaid =
  | { readonly kind: "value"; readonly value: number }
  | { readonly kind: "over" }
  /** It says that it has none. */
  | { readonly kind: "none" }
  | { readonly kind: "odd"; readonly text: string };

/** Who an instrument says it is (IEEE 488.2, 10.14). Empty where it says nothing. */
export interface Identity {
  readonly maker: string;
  readonly model: string;
  readonly serial: string;
  readonly firmware: string;
}

/** Rejects with ScpiError. */
export async function identify(client: ScpiClient): Promise<Identity> {
  const answer = await client.ask("*IDN?");
  const [maker = "", model = "", serial = "", firmware = ""] = answer.kind === "text" ? answerParts(answer.text) : [];
  const tame = (t: string): string => t.replace(/[^\x20-\x7e]/g, "").slice(0, 60);
  return { maker: tame(maker), model: tame(model), serial: tame(serial), firmware: tame(firmware) };
}

/** The oldest entry of the error queue; undefined when there is none. Rejects with ScpiError. */
export async function oldestError(client: ScpiClient): Promise<{ readonly code: number; readonly text: string } | undefined> {
  const answer = await client.ask("SYST:ERR?");
  if (answer.kind !== "text") return undefined;
  const [code = "0", text = ""] = answerParts(answer.text);
  const number = Number(code);
  return Number.isInteger(number) && number !== 0 ? { code: number, text: text.slice(0, 120) } : undefined;
}

/** Turns the meter; gives what it objects to, empty when nothing. Rejects with ScpiError. */
export async function setFunction(client: ScpiClient, words: MeterWords, to: MeterFunction): Promise<string> {
  client.tell(words.set[to]);
  const error = await oldestError(client);
  return error === undefined ? "" : `${error.code}, ${error.text}`;
}

/** One reading. Rejects with ScpiError. */
export async function readMeter(client: ScpiClient, words: MeterWords, timeoutMs?: number): Promise<MeterSaid> {
  const answer = await client.ask(words.read, timeoutMs);
  if (answer.kind !== "text") return { kind: "odd", text: "a block of bytes" };
  const first = answerParts(answer.text)[0] ?? "";
  const number = readNumber(first);
  if (number === undefined) return { kind: "odd", text: answer.text.slice(0, 60) };
  return number.kind === "over" ? { kind: "over" } : number;
}
