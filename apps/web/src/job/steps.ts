/** The job's way, in the order people work. */
export const STEPS = [
  { path: "complaint", name: "Complaint" },
  { path: "codes", name: "Codes" },
  { path: "circuit", name: "Circuit" },
  { path: "trace", name: "Trace" },
  { path: "mend", name: "Repair" },
  { path: "prove", name: "Verify" },
  { path: "record", name: "Report" },
] as const;
