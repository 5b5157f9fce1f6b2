/** Negative response codes of ISO 14229-1, annex A, that this product sends or explains. */
export const REFUSALS = {
  general: 0x10,
  serviceNotSupported: 0x11,
  subFunctionNotSupported: 0x12,
  wrongLength: 0x13,
  tooLong: 0x14,
  busy: 0x21,
  conditionsNotCorrect: 0x22,
  sequence: 0x24,
  noAnswerFromSubnet: 0x25,
  outOfRange: 0x31,
  securityDenied: 0x33,
  pending: 0x78,
  subFunctionNotInSession: 0x7e,
  serviceNotInSession: 0x7f,
} as const;

const WORDS: Readonly<Record<number, string>> = {
  [REFUSALS.general]: "refused without a reason",
  [REFUSALS.serviceNotSupported]: "this module does not know the service",
  [REFUSALS.subFunctionNotSupported]: "this module does not know this part of the service",
  [REFUSALS.wrongLength]: "the request has the wrong length or form",
  [REFUSALS.tooLong]: "the answer would be too long",
  [REFUSALS.busy]: "the module is busy; ask again",
  [REFUSALS.conditionsNotCorrect]: "the conditions are not right for it, such as an engine that runs",
  [REFUSALS.sequence]: "something has to be asked before it",
  [REFUSALS.noAnswerFromSubnet]: "a module behind this one does not answer it",
  [REFUSALS.outOfRange]: "the module has nothing under this number",
  [REFUSALS.securityDenied]: "the module is locked for it",
  [REFUSALS.pending]: "received; the answer takes longer",
  [REFUSALS.subFunctionNotInSession]: "not in this diagnostic session",
  [REFUSALS.serviceNotInSession]: "not in this diagnostic session",
};
/** A negative response code of ISO 14229-1 in words; a number for those that the standard leaves open. */
export const refusalWords = (code: number): string =>
  WORDS[code] ?? `refused with code 0x${code.toString(16).toUpperCase().padStart(2, "0")}`;

/** Refusals that a module keeps to itself when everybody was asked at once. */
export const QUIET_WHEN_FUNCTIONAL: readonly number[] = [
  REFUSALS.serviceNotSupported,
  REFUSALS.subFunctionNotSupported,
  REFUSALS.outOfRange,
  REFUSALS.subFunctionNotInSession,
  REFUSALS.serviceNotInSession,
];
