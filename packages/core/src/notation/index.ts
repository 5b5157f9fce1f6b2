export type { NotationProblem } from "./problem.ts";
export type { ParseResult } from "./parse.ts";
export { MAX_NOTATION_LENGTH, parseNotation } from "./parse.ts";
export { printNotation } from "./print.ts";
export { PART_WORDS } from "./part-item.ts";
