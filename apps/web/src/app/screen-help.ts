import type { ShortcutScreen } from "../job/shortcuts.ts";

/** What a screen is for, in three lines, and whose keys it has. */
export interface ScreenHelp {
  readonly name: string;
  readonly lines: readonly [string, string, string];
  readonly keys: readonly ShortcutScreen[];
}

/** By the end of the address, the first that fits. */
const SCREENS: readonly (readonly [address: RegExp, help: ScreenHelp])[] = [
  [
    /\/bench$/,
    {
      name: "Bench",
      lines: [
        "Connect a meter or a scope and test the meter’s leads; on Trace, Enter, a foot switch or a steady reading then records what it shows.",
        "Bring in what a scope or logger has recorded. Between cursors A and B everything is measured: + − zoom, 0 shows all, arrow keys move the cursor.",
        "Kept with the job a trace goes along in its bundle and can be opened again by anybody.",
      ],
      keys: ["job"],
    },
  ],
  [
    /\/debrief$/,
    {
      name: "Debrief",
      lines: [
        "What was wrong on the simulated vehicle, told once the job is closed, and whether the evidence had shown it when it was repaired.",
        "Each test beside what it could tell, what it told, and what would have told more in a minute.",
        "Three sentences of what to practise, from what was done in this job.",
      ],
      keys: ["job"],
    },
  ],
  [
    /^\/practice$/,
    {
      name: "Practice",
      lines: [
        "Choose a vehicle, a kind of fault and how hard; or start one of the ready scenarios by what its customer says.",
        "The vehicle is simulated: Simulate answers every reading, every look and every scan. Advice can be off, on request or on.",
        "Close the job, repaired and verified or given up: then the debrief tells what was wrong and scores the work.",
      ],
      keys: [],
    },
  ],
  [
    /^\/planner$/,
    {
      name: "Planner",
      lines: [
        "Whose jobs are to be worked on now, in the order they are promised, and how many hours that is; below them what waits.",
        "Drag a job to somebody else. By keyboard: Enter on its grip, Tab to the other lane, Enter to drop.",
        "Plan says who, what it waits for until when, when it is promised and how many hours it needs.",
      ],
      keys: [],
    },
  ],
  [
    /^\/shop$/,
    {
      name: "Shop",
      lines: [
        "Currency, tax and the price of an hour: new estimates begin with them.",
        "Hours that one person works a day: the planner measures each lane by them.",
        "How long closed jobs keep whose vehicle it was, and taking that out of older ones.",
      ],
      keys: [],
    },
  ],
  [
    /^\/jobs\/new$/,
    {
      name: "New job",
      lines: [
        "Type a vehicle of the shop, or a plate or VIN that was here before: wiring and options come along.",
        "Write what the customer said, in their words. Nothing else is needed to begin.",
        "What is typed stays on this device until the job is open.",
      ],
      keys: [],
    },
  ],
  [
    /\/complaint$/,
    {
      name: "Complaint",
      lines: [
        "Symptoms are lines: which part, what it does, when. Those that the words may mean are offered; a tap takes one.",
        "As soon as one stands, the first suspects and the first test stand beside it.",
        "Start tracing goes on with load, state and question set.",
      ],
      keys: ["job"],
    },
  ],
  [
    /\/codes$/,
    {
      name: "Codes",
      lines: [
        "Scan the vehicle, read a file in, or type codes. What caused them is told from what only follows.",
        "A module that is asleep with the key as it was is not a finding.",
        "Write codes down before they are cleared; Trace goes on with them as the question.",
      ],
      keys: ["job"],
    },
  ],
  [
    /^\/jobs\/[^/]+\/circuit$/,
    {
      name: "Circuit",
      lines: [
        "The slice of what is complained of, and what shares its nodes. Tap anything: what it is, where, what it should read.",
        "Text, form and version of the wiring stand behind their own tab.",
        "What was found different on the vehicle is marked, and can go into the wiring.",
      ],
      keys: ["drawing", "job"],
    },
  ],
  [
    /\/trace$/,
    {
      name: "Trace",
      lines: [
        "One next test: bring the state about, put the leads there, type the reading. Why this test shows what each outcome would leave.",
        "A reading lands on the staircase; the step that is too tall is the fault.",
        "When enough is known it says what to repair, and what supports it.",
      ],
      keys: ["trace", "job"],
    },
  ],
  [
    /\/mend$/,
    {
      name: "Repair",
      lines: [
        "What was found, what caused it, and what was done about it.",
        "Look at what runs beside it: the same cause reaches neighbours.",
        "Nothing is replaced before it is proven; what is missing for that is told.",
      ],
      keys: ["job"],
    },
  ],
  [
    /\/prove$/,
    {
      name: "Verify",
      lines: [
        "The test that failed is done again in the same state: before and after stand side by side.",
        "Codes are read again, and the vehicle is driven under the complaint’s conditions.",
        "Everything unplugged, jumpered or fitted is put back first.",
      ],
      keys: ["job"],
    },
  ],
  [
    /\/record$/,
    {
      name: "Report",
      lines: [
        "What the customer and the next technician read: complaint, tests, cause, repair, proof.",
        "On paper, as PDF, and as open data.",
        "Closing the job makes it final; it can be re-opened with a reason.",
      ],
      keys: ["job"],
    },
  ],
  [
    /^\/vehicles\/[^/]+\/circuit$/,
    {
      name: "Circuit of a vehicle",
      lines: [
        "Find a part, wire, code or symptom: only its own path and what shares it is drawn.",
        "Tap anything: what it is, where, how to reach it, what it should read in this state.",
        "Key, engine and options above say for which vehicle and state that holds.",
      ],
      keys: ["drawing"],
    },
  ],
  [
    /^\/vehicles\/./,
    {
      name: "Vehicle",
      lines: [
        "Grounds, fuses, buses, looms and connectors of one vehicle; pick a place on the plan to narrow a list.",
        "Common points tells what several failing parts share.",
        "Every save is a new version; jobs stay with theirs.",
      ],
      keys: [],
    },
  ],
  [
    /^\/vehicles$/,
    {
      name: "Vehicles",
      lines: [
        "The shop’s vehicles with their wiring.",
        "A new one begins from text, a form, tables or a file.",
        "A job takes a vehicle’s wiring along in the version of that day.",
      ],
      keys: [],
    },
  ],
  [
    /^\/known-goods$/,
    {
      name: "Known-goods",
      lines: [
        "What good vehicles showed, put here from a verified repair or the Bench: it stands beside every reading of the same place and state.",
        "One that was wrong is withdrawn; the jobs that were held against it are named.",
        "The shelf goes to another shop as one file, and comes in as one.",
      ],
      keys: [],
    },
  ],
  [
    /^\/plug$/,
    {
      name: "Unknown connector",
      lines: [
        "Type what each pin reads with the key off and on: supply, ground, reference, signal and bus are told apart.",
        "What the readings exclude is dropped.",
        "It works without any diagram.",
      ],
      keys: [],
    },
  ],
];

const BOARD: ScreenHelp = {
  name: "Board",
  lines: [
    "The shop’s jobs: what is next in each, what it waits for, and whose it is.",
    "Tap a name to hand a job over or to say what it waits for.",
    "Closed jobs stand apart; the search finds them by vehicle, plate and words.",
  ],
  keys: ["board"],
};

/** What the screen at an address is for. */
export const helpFor = (pathname: string): ScreenHelp => SCREENS.find(([address]) => address.test(pathname))?.[1] ?? BOARD;
