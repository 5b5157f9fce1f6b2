import { parseArgs } from "node:util";
import { parseReading } from "@rheonom/core/instruments";
import { findPins, MOMENTS, type PinReading, type PinReadings } from "@rheonom/core/procedures";
import { UsageError, type Output } from "./usage.ts";

/** `rheonom find-pins PIN PIN...`: what stands behind an unknown plug. A pin is its readings with the key off, the key on and the engine turning, such as "0 4.98 4.98". */
export function findPinsCommand(args: readonly string[], out: Output): number {
  const { values, positionals } = argumentsOf(args);
  if (positionals.length < 2 || positionals.length > 5)
    throw new UsageError(
      'find-pins wants two to five pins, each as "OFF ON TURNING" in volts, such as "0 4.98 4.98"; - for what was not read.',
    );
  const readings: PinReadings = positionals.map((p, i) => pinOf(p.trim(), i));
  const answer = findPins(readings);
  if (values.json === true) {
    const likely = answer.likely.map((a) => ({ device: a.candidate.words, share: a.share, roles: a.roles }));
    out.write(`${JSON.stringify({ verdict: answer.verdict, words: answer.words, next: answer.next ?? null, likely })}\n`);
    return 0;
  }
  const lines = answer.likely.map(
    (a) =>
      `${(100 * a.share).toFixed(0).padStart(4)} %  ${a.candidate.words}: ${a.roles.map((role, i) => `pin ${i + 1} ${role}`).join(", ")}`,
  );
  out.write(`${[answer.words, ...lines].join("\n")}\n`);
  return 0;
}

function pinOf(text: string, index: number): PinReadings[number] {
  const words = text.split(/\s+/);
  if (words.length > MOMENTS.length)
    throw new UsageError(`Pin ${index + 1} "${text}": ${words.length} readings, but there are three moments: ${MOMENTS.join(", ")}.`);
  return Object.fromEntries(
    words.flatMap((word, i): [string, PinReading][] => {
      if (word === "-") return [];
      if (word.toLowerCase() === "t") return [[MOMENTS[i]!, { kind: "toggles" }]];
      const read = parseReading(word);
      if (read.kind !== "value" || read.quantity !== "volts")
        throw new UsageError(
          `Pin ${index + 1} "${text}": "${word}" is not a reading. Write volts, t where the display fluctuates, or - for what was not read.`,
        );
      return [[MOMENTS[i]!, { kind: "steady", volts: read.value }]];
    }),
  );
}

function argumentsOf(args: readonly string[]) {
  try {
    // What begins with a minus is a reading or "not read", unless it is --json.
    const words = args.map((a) => (a === "--json" ? a : ` ${a}`));
    return parseArgs({ args: words, options: { json: { type: "boolean" } }, allowPositionals: true, strict: true });
  } catch (error) {
    throw new UsageError(error instanceof Error ? error.message : String(error));
  }
}
