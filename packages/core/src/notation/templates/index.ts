export type { AnswerProblem, Answers, Field, FilledForm, Template } from "./template.ts";
export { answerProblems, fillTemplate, formOf } from "./template.ts";
export { TEMPLATES } from "./catalogue.ts";
