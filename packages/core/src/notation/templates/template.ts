/** One question of a form. Values are kept as typed. */
export interface Field {
  readonly id: string;
  readonly label: string;
  readonly kind: "text" | "number" | "choice" | "list";
  /** Of numbers, such as "A" or "m". */
  readonly unit?: string;
  readonly choices?: readonly { readonly id: string; readonly text: string }[];
  readonly default: string;
  readonly help?: string;
}

/** Answers by field; a field that is missing has its default. */
export type Answers = Readonly<Record<string, string>>;

/** A circuit of every day as a short form. */
export interface Template {
  readonly id: string;
  readonly name: string;
  readonly about: string;
  readonly fields: readonly Field[];
  /** The circuit as notation, without its heading. */
  readonly lines: (a: Reader) => readonly string[];
}

/** Answers in the shape that lines need. */
export interface Reader {
  readonly text: (id: string) => string;
  readonly number: (id: string) => number;
  readonly list: (id: string) => readonly string[];
  /** "CABLE 1.2": colour, area and length as a wire of the notation. */
  readonly wire: (colour: string, areaMm2: number, lengthM: number) => string;
}

export interface AnswerProblem {
  readonly field: string;
  readonly message: string;
}

/** Areas of ISO 6722 cables, mm², with a usual continuous load in a loom, A. */
const CABLES: readonly (readonly [number, number])[] = [
  [0.5, 5],
  [0.75, 8],
  [1, 11],
  [1.5, 15],
  [2.5, 21],
  [4, 28],
  [6, 37],
  [10, 50],
  [16, 70],
  [25, 95],
  [35, 120],
  [50, 160],
];

/** The smallest usual cable for a current, mm². A proposal for a form; the diagram decides. */
export const cableFor = (amps: number): number => (CABLES.find(([, most]) => most >= amps) ?? CABLES.at(-1)!)[0];

/** The next usual fuse above a current with a quarter in reserve, A. */
export const fuseFor = (amps: number): number =>
  [3, 5, 7.5, 10, 15, 20, 25, 30, 40, 60, 80, 100, 150, 200].find((f) => f >= amps * 1.25) ?? 250;

/** The longest wire that the notation takes, m. */
const MOST_METRES = 200;

/** What is wrong with the answers, by field; empty when a circuit can be made. */
export function answerProblems(template: Template, answers: Answers): AnswerProblem[] {
  return template.fields.flatMap((f): AnswerProblem[] => {
    const said = (answers[f.id] ?? f.default).trim();
    const fault = (message: string): AnswerProblem[] => [{ field: f.id, message }];
    if (said === "" && f.kind !== "list") return fault(`${f.label} is empty. Usual: ${f.default}`);
    if (f.kind === "number") {
      const value = Number(said.replace(",", "."));
      if (!Number.isFinite(value)) return fault(`"${said.slice(0, 20)}" is not a number. Write it like ${f.default}.`);
      if (value <= 0 || value > 10_000) return fault(`${said} cannot be. Write a number above 0.`);
      if (f.unit === "m" && value > MOST_METRES) return fault(`${said} m is too long for a wire. Write up to ${MOST_METRES} m.`);
    }
    if (f.kind === "choice" && !f.choices!.some((c) => c.id === said))
      return fault(`Choose one of ${f.choices!.map((c) => c.text).join(", ")}.`);
    if (f.kind === "text" && /["\n\r]/.test(said)) return fault("Leave quotes out.");
    if (f.kind === "list") {
      const items = listOf(said);
      if (items.length > 12) return fault(`${items.length} are many; up to 12 are taken.`);
      if (items.some((i) => /["\n\r]/.test(i))) return fault("Leave quotes out.");
    }
    return [];
  });
}

const listOf = (text: string): string[] =>
  text
    .split(/[,;]/)
    .map((t) => t.trim())
    .filter(Boolean);

function readerOf(template: Template, answers: Answers): Reader {
  const said = (id: string): string => {
    const field = template.fields.find((f) => f.id === id);
    if (field === undefined) throw new RangeError(`no field ${id}`);
    return (answers[id] ?? field.default).trim();
  };
  return {
    text: said,
    number: (id) => Number(said(id).replace(",", ".")),
    list: (id) => listOf(said(id)),
    wire: (colour, area, length) => `${colour} ${area}mm2 ${length}m`,
  };
}

const MARK = "# form ";

/**
 * The circuit text of a filled-in form. Its first line keeps the answers, so that the form can be opened again. Throws RangeError when the
 * answers have problems.
 */
export function fillTemplate(template: Template, answers: Answers): string {
  const problems = answerProblems(template, answers);
  if (problems.length > 0) throw new RangeError(problems.map((p) => p.message).join(" "));
  const kept = Object.fromEntries(template.fields.map((f) => [f.id, (answers[f.id] ?? f.default).trim()]));
  return [`${MARK}${template.id} ${JSON.stringify(kept)}`, ...template.lines(readerOf(template, answers))].join("\n") + "\n";
}

export interface FilledForm {
  readonly template: Template;
  readonly answers: Answers;
  /** The text was changed by hand since: filling in the form again would lose that. */
  readonly edited: boolean;
}

/** The form that a circuit text came from; undefined when it came from none. */
export function formOf(templates: readonly Template[], text: string): FilledForm | undefined {
  const first = /^# form ([a-z-]+) (\{.*\})$/m.exec(text);
  const template = templates.find((t) => t.id === first?.[1]);
  if (first === null || template === undefined) return undefined;
  try {
    const answers = JSON.parse(first[2]!) as Answers;
    if (Object.values(answers).some((v) => typeof v !== "string") || answerProblems(template, answers).length > 0) return undefined;
    return { template, answers, edited: fillTemplate(template, answers).trim() !== text.trim() };
  } catch {
    return undefined;
  }
}
