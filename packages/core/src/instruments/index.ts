export type { Leads, Reading } from "./leads.ts";
export { leads as leadsSchema } from "./leads.ts";
export type { Prediction } from "./predict.ts";
export { predictAll, predictReading, voltsBySeries } from "./predict.ts";
export type { TypedReading } from "./parse-reading.ts";
export { parseReading } from "./parse-reading.ts";
export { displayText } from "./display.ts";
