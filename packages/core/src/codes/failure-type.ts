/** Groups of failure types by their first digit, and the types themselves, by ISO 15031-6 annex on failure type bytes, in our words. */
const GROUPS: Readonly<Record<string, string>> = {
  "0": "no more is said",
  "1": "electrical",
  "2": "signal",
  "3": "pulses",
  "4": "inside the module",
  "5": "programming",
  "6": "by computation",
  "7": "mechanical",
  "8": "message on a bus",
  "9": "part",
};

const TYPES: Readonly<Record<string, string>> = {
  "11": "circuit grounded",
  "12": "circuit touches a feed",
  "13": "circuit open",
  "14": "circuit grounded or open",
  "15": "circuit touches a feed or is open",
  "16": "voltage too low",
  "17": "voltage too high",
  "18": "current too low",
  "19": "current too high",
  "1A": "resistance too low",
  "1B": "resistance too high",
  "1C": "voltage out of range",
  "1D": "current out of range",
  "1E": "resistance out of range",
  "1F": "comes and goes",
  "21": "signal too small",
  "22": "signal too large",
  "23": "signal stays low",
  "24": "signal stays high",
  "26": "signal changes too slowly",
  "27": "signal changes too fast",
  "28": "offset of the signal out of range",
  "29": "signal cannot be right",
  "2A": "signal does not move",
  "2F": "signal jumps",
  "31": "no signal",
  "32": "low for too short",
  "33": "low for too long",
  "34": "high for too short",
  "35": "high for too long",
  "36": "frequency too low",
  "37": "frequency too high",
  "38": "frequency wrong",
  "39": "too few pulses",
  "3A": "too many pulses",
  "41": "check sum wrong",
  "42": "memory failed",
  "44": "data memory failed",
  "45": "program memory failed",
  "46": "calibration memory failed",
  "47": "watchdog",
  "49": "electronics failed",
  "4B": "too hot inside",
  "51": "not programmed",
  "54": "not calibrated",
  "55": "not configured",
  "61": "calculation failed",
  "62": "two signals disagree",
  "64": "not plausible",
  "71": "actuator stuck",
  "72": "stuck open",
  "73": "stuck closed",
  "77": "does not reach the position asked for",
  "78": "out of alignment",
  "7A": "leaks",
  "81": "invalid data received",
  "82": "messages out of count",
  "83": "message fails its check",
  "86": "signal marked as invalid",
  "87": "message missing",
  "88": "bus off",
  "92": "works wrongly",
  "93": "does not work",
  "94": "works unasked",
  "96": "failed inside",
  "97": "blocked",
  "98": "too hot",
};

/** What a failure type means, in our words; only its group where the type is not known here. `type`: two hexadecimal digits. */
export function failureWords(type: string): string {
  const known = TYPES[type.toUpperCase()];
  if (known !== undefined) return known;
  const group = GROUPS[type[0]!.toUpperCase()];
  return group === undefined ? "of the maker’s own" : `${group}, of a kind not known here`;
}

/** What kind of electrical fault a type points to, for holding it against the circuit. */
export function electricalKind(type: string | undefined): "open" | "grounded" | "fed" | "range" | undefined {
  switch (type?.toUpperCase()) {
    case "13":
    case "1B":
    case "18":
      return "open";
    case "11":
    case "1A":
    case "16":
    case "23":
      return "grounded";
    case "12":
    case "17":
    case "24":
      return "fed";
    case "14":
    case "15":
    case "1C":
      return "range";
    default:
      return undefined;
  }
}
