/** A trouble code taken apart, by ISO 15031-6 (SAE J2012): one letter, four digits, and by ISO 14229 a failure type byte. */
export interface Code {
  /** "P0301", "U0100". */
  readonly id: string;
  /** Two hexadecimal digits; undefined where the tool gave none. */
  readonly failureType: string | undefined;
  readonly system: "power train" | "chassis" | "body" | "network";
  /** Whose meaning it has: the standard's, or the vehicle maker's own. */
  readonly meaning: "standard" | "maker";
  /** What it is about, in our words; undefined where only the maker knows. */
  readonly area: string | undefined;
}

export type CodeRead =
  | { readonly kind: "code"; readonly code: Code }
  /** `at`: index of the character that is wrong, or the length where one is missing. */
  | { readonly kind: "bad"; readonly at: number; readonly found: string; readonly expected: string };

const SYSTEMS = { P: "power train", C: "chassis", B: "body", U: "network" } as const;

/** Third character of the standard's power train codes. */
const POWER_TRAIN: Readonly<Record<string, string>> = {
  "0": "air, fuel and exhaust after-treatment",
  "1": "air and fuel metering",
  "2": "air and fuel metering, injectors",
  "3": "ignition and misfire",
  "4": "emission controls besides the engine",
  "5": "speed, idle, and auxiliary inputs",
  "6": "module and its outputs",
  "7": "transmission",
  "8": "transmission",
  "9": "transmission",
  A: "hybrid drive",
  B: "hybrid drive",
  C: "hybrid drive",
};
/** Third character of the standard's network codes. */
const NETWORK: Readonly<Record<string, string>> = {
  "0": "the bus itself",
  "1": "lost word of a module",
  "2": "lost word of a module",
  "3": "software that does not go together",
  "4": "data of another module that cannot be right",
  "5": "data of another module that cannot be right",
};

const EXPECTED = [
  "P, C, B or U",
  "a digit from 0 to 3",
  "a digit from 0 to 9 or a letter from A to F",
  "a digit from 0 to 9 or a letter from A to F",
  "a digit from 0 to 9 or a letter from A to F",
] as const;
const ALLOWED = [/[PCBU]/, /[0-3]/, /[0-9A-F]/, /[0-9A-F]/, /[0-9A-F]/] as const;

/** Reads "P0301" or "U0100-87"; case and spaces around do not matter. The first character that is wrong is named. */
export function readCode(typed: string): CodeRead {
  const lead = typed.length - typed.trimStart().length;
  const text = typed.trim().toUpperCase();
  for (let i = 0; i < 5; i++) {
    const c = text[i];
    if (c === undefined || !ALLOWED[i]!.test(c)) return { kind: "bad", at: lead + i, found: c ?? "", expected: EXPECTED[i]! };
  }
  const id = text.slice(0, 5);
  const rest = text.slice(5);
  if (rest === "") return { kind: "code", code: codeOf(id, undefined) };
  if (!/^[-: ]/.test(rest))
    return { kind: "bad", at: lead + 5, found: rest[0]!, expected: "the end, or a hyphen and a failure type such as -87" };
  for (let i = 1; i < 3; i++)
    if (!/[0-9A-F]/.test(rest[i] ?? ""))
      return { kind: "bad", at: lead + 5 + i, found: rest[i] ?? "", expected: "two digits of a failure type, such as 87" };
  if (rest.length > 3) return { kind: "bad", at: lead + 8, found: rest[3]!, expected: "nothing more behind the failure type" };
  return { kind: "code", code: codeOf(id, rest.slice(1, 3)) };
}

function codeOf(id: string, failureType: string | undefined): Code {
  const letter = id[0] as keyof typeof SYSTEMS;
  const [second, third] = [id[1]!, id[2]!];
  // P2 and the upper part of P3 belong to the standard as well; the lower part of P3 and all 1 and 2 of the others to the maker.
  const standard =
    second === "0" || (letter === "P" && (second === "2" || (second === "3" && third >= "4"))) || (letter !== "P" && second === "3");
  const areas = letter === "P" ? POWER_TRAIN : letter === "U" ? NETWORK : {};
  return { id, failureType, system: SYSTEMS[letter], meaning: standard ? "standard" : "maker", area: standard ? areas[third] : undefined };
}

/** The number that goes over the wire: two bits of letter, fourteen of digits. */
export function codeToNumber(id: string): number {
  return ("PCBU".indexOf(id[0]!) << 14) | Number.parseInt(id.slice(1), 16);
}

/** From 16 bits, the other way about. Throws RangeError outside of them. */
export function codeFromNumber(value: number): string {
  if (!Number.isInteger(value) || value < 0 || value > 0xffff) throw new RangeError(`no trouble code has the number ${value}`);
  return `${"PCBU"[value >> 14]!}${(value & 0x3fff).toString(16).toUpperCase().padStart(4, "0")}`;
}
