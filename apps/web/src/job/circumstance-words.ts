/** Conditions under which a complaint comes, as they are said, and which suspects each raises. */
export const CONDITIONS = [
  { what: "vibration", words: "on bumps", raises: "rubbed wires, loose joints and grounds where it shakes" },
  { what: "rain", words: "in rain, after a wash", raises: "plugs and grounds that see water" },
  { what: "heat", words: "when hot", raises: "what lies near the engine and exhaust" },
  { what: "cold", words: "when cold", raises: "joints that shrink, and the battery" },
  { what: "flexing", words: "with doors, tailgate", raises: "wires that bend" },
  { what: "standing", words: "after standing", raises: "what gathers damp" },
  { what: "steering", words: "on full lock", raises: "wires that bend or rub as the wheels turn" },
  { what: "engine rocks", words: "in gear, pulling away", raises: "straps and looms between engine and body" },
  { what: "consumers", words: "with heavy loads on", raises: "grounds, battery and cables that they share" },
] as const;

/** A condition as it is said. */
export const circumstanceText = (what: (typeof CONDITIONS)[number]["what"]): string => CONDITIONS.find((c) => c.what === what)!.words;
