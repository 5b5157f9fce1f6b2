import type { ResultWord } from "../../diagnosis/index.ts";

/** What customers say, as data. `{it}` stands for what they call the part; `{is}`, `{does}`: is or are, does or do. */

/** Who brings a vehicle in the made-up islands. */
export const SPEAKERS = [
  "the fish courier",
  "the cinema projectionist",
  "the gritter’s driver",
  "the hill rescue’s duty driver",
  "the school cook",
  "the ferry’s second mate",
  "the lighthouse electrician",
  "the peat cutter",
  "the district nurse",
  "the organist of the chapel",
  "the net mender",
  "the crab fisher’s daughter",
] as const;

/** By the word that a part's doing has in the model. */
export const SAYINGS: Partial<Record<ResultWord, readonly string[]>> = {
  none: ["{it} {does} not work any more.", "{it} {is} dead.", "Nothing from {it}.", "{it} {does} nothing at all.", "{it} stopped working."],
  weak: ["{it} {is} weak.", "{it} {does} hardly anything.", "{it} {is} feeble, not like before.", "Too little comes from {it}."],
  flickers: ["{it} flicker{s}.", "{it} cut{s} out again and again."],
  full: ["{it} stay{s} on by itself.", "{it} {does} not go off.", "{it} {is} on all the time, nobody asked for it."],
  "too much": ["{it} {does} too much, far more than before."],
};

/** What people say instead where it is a trade's own complaint. By the device or sort of the part that is complained of. */
export const OF_KIND: Readonly<Record<string, Partial<Record<ResultWord, readonly string[]>>>> = {
  starter: {
    none: [
      "It will not crank: I turn the key and nothing happens.",
      "Nothing from the starter when I turn the key.",
      "The starter is dead, not a sound.",
    ],
    weak: ["The starter turns slowly, it hardly gets over.", "It cranks slowly, as if the battery were tired."],
    flickers: ["The starter comes and goes: it clicks and clicks."],
    full: ["The starter does not go off, it turns by itself."],
  },
  alternator: {
    none: ["The charge lamp is on, and after a day the battery is flat.", "It does not charge any more."],
    weak: ["It charges too little, the battery goes flat within days."],
    "too much": ["It charges too much, lamps are too bright.", "The lamps are too bright and it smells of battery acid."],
  },
  lamp: { "too much": ["{it} {is} too bright.", "{it} {is} too bright, and the bulbs do not last."] },
  injector: {
    none: [
      "It runs rough and shakes, one cylinder is missing: {it}, I was told.",
      "It shakes and has no power. {it} is dead, my neighbour says.",
    ],
    weak: ["It runs rough; {it} is weak, if you ask me."],
  },
  glowplug: {
    none: [
      "It starts badly in the morning: {it} {is} dead, somebody measured.",
      "It smokes and shakes after a cold start. {it} {does} nothing, I was told.",
    ],
    weak: ["It starts badly in the morning, {it} {is} weak."],
  },
  ignition: {
    none: [
      "It misfires and shakes, {it} {is} dead by the look of the plugs.",
      "It does not run on all cylinders; what is missing belongs to {it}.",
    ],
    weak: ["It misfires under load: {it} {is} weak, I should say."],
  },
};

/** In cranking, where what should run does not. */
export const NO_START = [
  "It cranks well and does not start.",
  "The engine turns over and never catches.",
  "It cranks and cranks, no start.",
] as const;
/** How it is brought with a part that somebody has listened at. */
export const HEARD = ["We listened: {it} {does} not work then.", "At the roadside nobody could hear {it}: nothing from {it}."] as const;

/** Nobody in the vehicle sees more than a lamp. */
export const ONLY_A_LAMP = [
  "The engine warning lamp is on, and that is all I can tell you.",
  "A warning lamp came on yesterday. It drives, mostly.",
  "There is a lamp on, and now and then it does not pull as it should.",
] as const;
export const DRAINED = [
  "After two days on the quay the battery is flat. Jumped, it runs as ever.",
  "Every few mornings it is flat. The battery is not old.",
  "It stands over the weekend, and on Monday nothing moves.",
] as const;
export const NOW_AND_THEN = [
  "Not always. Maybe one time in {n}.",
  "It comes and goes; when I show it to somebody it behaves.",
  "Some days not once, then {n} times in a morning.",
] as const;

export const AFTER_A_WHILE = [
  "At first nothing is wrong; it takes a while.",
  "When I set off it is fine, and after a quarter of an hour there it is.",
  "Cold it works. Leave it be for a bit and look again.",
] as const;

/** True and of no use. */
export const BESIDE = [
  "The radio plays as it always did.",
  "I had new tyres put on at the end of summer.",
  "We came over with the early ferry, rough sea.",
  "The dog does not like the noise either.",
  "It has been washed last week.",
  "Otherwise I am content with it.",
  "My brother-in-law has one of the same and no trouble with it.",
  "I need it back before the fish market.",
] as const;
/** What laymen take for the cause; it need not be. */
export const GUESSES = [
  "It will be a fuse, I suppose.",
  "I think it is the battery, they always are.",
  "Somebody said it must be the computer.",
  "It began with the cold, so it has to do with the cold.",
  "The alternator, surely. It is always the alternator.",
] as const;
/** With `{it}` as the part that was replaced in vain. */
export const TRIED = [
  "{it}: replaced by a neighbour. No better.",
  "Last week another shop replaced {it}; it stayed the same.",
  "I have replaced {it} myself. That was not it.",
] as const;
