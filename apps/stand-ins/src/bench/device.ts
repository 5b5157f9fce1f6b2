import { fromLatin1 } from "@rheonom/protocol/bytes";
import { isHeader, parseProgram, writeNumber, type ScpiCommand, type ScpiNumber } from "@rheonom/protocol/scpi";

/** What is wrong with a command, by the numbers of SCPI-1999, volume 2, 21.8. */
export const FAULTS = {
  syntax: [-102, "Syntax error"],
  noParameter: [-109, "Missing parameter"],
  tooMany: [-108, "Parameter not allowed"],
  unknown: [-113, "Undefined header"],
  outOfRange: [-222, "Data out of range"],
  notAllowed: [-224, "Illegal parameter value"],
  conflict: [-221, "Settings conflict"],
  noData: [-230, "Data corrupt or stale"],
  system: [-310, "System error"],
  selfTest: [-330, "Self-test failed"],
  overflow: [-350, "Queue overflow"],
  overrun: [-363, "Input buffer overrun"],
  unterminated: [-420, "Query UNTERMINATED"],
} as const satisfies Record<string, readonly [number, string]>;
export type FaultName = keyof typeof FAULTS;

export class DeviceFault extends Error {
  readonly fault: FaultName;
  constructor(fault: FaultName) {
    super(fault);
    this.fault = fault;
  }
}

/** One command of an instrument. Throws DeviceFault for what it does not take. */
export interface Branch {
  readonly header: string;
  readonly set?: (parameters: readonly string[]) => void;
  /** Text, or bytes that are sent as they are. */
  readonly query?: (parameters: readonly string[]) => string | Uint8Array;
}

export interface DeviceParts {
  /** Maker, model, serial number, firmware: for *IDN?. */
  readonly identity: readonly [string, string, string, string];
  readonly branches: readonly Branch[];
  readonly reset: () => void;
  /** What does not hold at its own test; empty when it is sound. */
  readonly selfTest: () => string;
  /** The questionable status as it is now, bits of SCPI-1999, volume 1, 9.4. */
  readonly questionable: () => number;
}

export interface Device {
  /** Takes one message without its newline, and gives what is answered; empty for nothing. */
  readonly handle: (message: string) => Uint8Array;
  /** Puts something into the error queue that came from no message. */
  readonly raise: (fault: FaultName, more?: string) => void;
}

const MOST_ERRORS = 20;
/** Bits of the event status register (IEEE 488.2, 11.5.1). */
const ESR = { complete: 1, query: 4, device: 8, execution: 16, command: 32, powerOn: 128 } as const;
/** Bits of the status byte (11.2). */
const STB = { errors: 4, questionable: 8, events: 32, service: 64 } as const;

/** The end of an instrument that understands messages: common commands, status, errors, and branches of its own. */
export function createDevice({ identity, branches, reset, selfTest, questionable }: DeviceParts): Device {
  const errors: string[] = [];
  let events: number = ESR.powerOn;
  let enabled = { events: 0, service: 0, questionable: 0 };
  let latched = 0;
  const fail = (name: FaultName, more = ""): void => {
    const [code, text] = FAULTS[name];
    const group = -Math.ceil(code / 100);
    events |= group === 1 ? ESR.command : group === 2 ? ESR.execution : group === 3 ? ESR.device : ESR.query;
    if (errors.length < MOST_ERRORS) errors.push(`${code},"${text}${more === "" ? "" : `;${more.replaceAll('"', "'").slice(0, 60)}`}"`);
    else errors[MOST_ERRORS - 1] = `${FAULTS.overflow[0]},"${FAULTS.overflow[1]}"`;
  };
  const status = (): number => {
    latched |= questionable();
    const byte =
      (errors.length > 0 ? STB.errors : 0) |
      ((latched & enabled.questionable) !== 0 ? STB.questionable : 0) |
      ((events & enabled.events) !== 0 ? STB.events : 0);
    return byte | ((byte & enabled.service) !== 0 ? STB.service : 0);
  };
  const once = (read: () => number, after: () => void): string => {
    const value = read();
    after();
    return String(value);
  };
  const register = (name: keyof typeof enabled, most: number): Pick<Branch, "set" | "query"> => ({
    set: ([p]) => void (enabled = { ...enabled, [name]: whole(p, 0, most) }),
    query: () => String(enabled[name]),
  });
  const common: readonly Branch[] = [
    { header: "*IDN", query: () => identity.map((p) => p.replaceAll(",", " ")).join(",") },
    {
      header: "*CLS",
      set: () => {
        errors.length = 0;
        events = latched = 0;
      },
    },
    { header: "*RST", set: reset },
    { header: "*OPC", set: () => void (events |= ESR.complete), query: () => "1" },
    { header: "*WAI", set: () => undefined },
    {
      header: "*TST",
      query: () => {
        const wrong = selfTest();
        if (wrong !== "") fail("selfTest", wrong);
        return wrong === "" ? "0" : "1";
      },
    },
    { header: "*ESE", ...register("events", 255) },
    { header: "*SRE", ...register("service", 255) },
    {
      header: "*ESR",
      query: () =>
        once(
          () => events,
          () => void (events = 0),
        ),
    },
    { header: "*STB", query: () => String(status()) },
    { header: "SYSTem:ERRor[:NEXT]", query: () => errors.shift() ?? '0,"No error"' },
    { header: "SYSTem:ERRor:COUNt", query: () => String(errors.length) },
    { header: "SYSTem:VERSion", query: () => "1999.0" },
    { header: "STATus:PRESet", set: () => void (enabled = { ...enabled, questionable: 0 }) },
    { header: "STATus:QUEStionable:CONDition", query: () => String(questionable()) },
    {
      header: "STATus:QUEStionable[:EVENt]",
      query: () => {
        latched |= questionable();
        return once(
          () => latched,
          () => void (latched = 0),
        );
      },
    },
    { header: "STATus:QUEStionable:ENABle", ...register("questionable", 32767) },
    { header: "STATus:OPERation:CONDition", query: () => "0" },
    { header: "STATus:OPERation[:EVENt]", query: () => "0" },
  ];
  const all = [...common, ...branches];

  function answer({ header, isQuery, parameters }: ScpiCommand): string | Uint8Array | undefined {
    const branch = all.find((b) => isHeader(b.header, header));
    const act = isQuery ? branch?.query : branch?.set;
    if (act === undefined) throw new DeviceFault("unknown");
    return act(parameters) ?? undefined;
  }

  return {
    raise: fail,
    handle: (message) => {
      const answers: (string | Uint8Array)[] = [];
      for (const parsed of parseProgram(message)) {
        if (parsed.kind === "bad") {
          fail("syntax", parsed.text);
          continue;
        }
        try {
          const said = answer(parsed.command);
          if (said !== undefined) answers.push(said);
        } catch (error) {
          if (!(error instanceof DeviceFault)) throw error;
          fail(error.fault, parsed.command.header.join(":"));
        }
      }
      return answers.length === 0 ? new Uint8Array(0) : joined(answers);
    },
  };
}

/** Answers of one message are one line, semicolons between them. */
function joined(answers: readonly (string | Uint8Array)[]): Uint8Array {
  const parts = answers.flatMap((a, i) => [...(i === 0 ? [] : [fromLatin1(";")]), typeof a === "string" ? fromLatin1(a) : a]);
  parts.push(fromLatin1("\n"));
  const all = new Uint8Array(parts.reduce((sum, p) => sum + p.length, 0));
  let at = 0;
  for (const p of parts) {
    all.set(p, at);
    at += p.length;
  }
  return all;
}

/** A number out of a parameter. Throws DeviceFault. */
export function number(text: string | undefined, least: number, most: number): number {
  if (text === undefined || text === "") throw new DeviceFault("noParameter");
  if (/^MIN/i.test(text)) return least;
  if (/^MAX/i.test(text)) return most;
  const value = Number(text.replace(/\s*[A-Za-z]+$/, (unit) => (/^\s*E/i.test(unit) ? unit : "")));
  if (!Number.isFinite(value)) throw new DeviceFault("notAllowed");
  if (value < least || value > most) throw new DeviceFault("outOfRange");
  return value;
}
export const whole = (text: string | undefined, least: number, most: number): number => Math.round(number(text, least, most));
/** ON, OFF, 1 or 0. Throws DeviceFault. */
export function flag(text: string | undefined): boolean {
  if (text === undefined) throw new DeviceFault("noParameter");
  if (!/^(ON|OFF|1|0)$/i.test(text)) throw new DeviceFault("notAllowed");
  return /^(ON|1)$/i.test(text);
}
/** A number as it is told. */
export const told = (n: ScpiNumber | number): string => writeNumber(typeof n === "number" ? { kind: "value", value: n } : n);
