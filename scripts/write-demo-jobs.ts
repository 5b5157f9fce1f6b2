/**
 * Writes demo/jobs from the demo circuits: every reading in them is what the model says the faulty circuit shows.
 * Run: node --import ./scripts/ts-hook.mjs scripts/write-demo-jobs.ts
 */
import { readFileSync, writeFileSync } from "node:fs";
import { REST_STATE, type Fault, type VehicleState } from "@rheonom/core/circuit";
import type { ResultWord } from "@rheonom/core/diagnosis";
import { displayText, predictReading, type Leads } from "@rheonom/core/instruments";
import { EMPTY_COMPLAINT, jobEvent, symptomState, uuidV7, type JobEvent } from "@rheonom/core/job";
import { parseNotation } from "@rheonom/core/notation";

const NOW = Date.parse("2026-05-20T15:00:00.000Z");
const MINUTE = 60_000;

type Body = JobEvent extends infer E ? (E extends JobEvent ? { type: E["type"]; data: E["data"] } : never) : never;

/** Writes one job: events a few minutes apart, ending `endedMinutesAgo` before now. */
class DemoJob {
  readonly #events: { body: Body; by: string; minutes: number }[] = [];
  readonly notation: string;
  readonly #truth: Fault[];
  #mended = false;
  readonly #number: number;

  /** `folder`: circuits drawn for one job, or whole vehicles. */
  constructor(number: number, circuit: string, truth: Fault[], folder: "circuits" | "vehicles" = "circuits") {
    this.#number = number;
    this.notation = readFileSync(`demo/${folder}/${circuit}.circuit`, "utf8");
    this.#truth = truth;
  }

  add(by: string, body: Body, minutes = 4): this {
    if (body.type === "mend-made") this.#mended = true;
    this.#events.push({ body, by, minutes });
    return this;
  }

  /** A reading of the simulated meter on the circuit with its fault, or without it after the mend. */
  read(by: string, load: string, state: VehicleState, red: string, black = "BAT.-"): this {
    const { harness } = parseNotation(this.notation);
    if (harness === undefined) throw new Error("the demo circuit has errors");
    const leads: Leads = { quantity: "volts", red, black };
    const reading = predictReading(harness, state, this.#mended ? [] : this.#truth, leads);
    if (reading.kind !== "value") throw new Error(`no value at ${red}`);
    const text = displayText("volts", reading.value);
    const [digits, unit] = text.split(" ");
    const value = Number(digits) * (unit === "mV" ? 1e-3 : 1);
    const data = {
      leads,
      state,
      load,
      text,
      shown: { kind: "value" as const, quantity: "volts" as const, value },
      instrument: "typed" as const,
    };
    return this.add(by, { type: "reading-taken", data }, 2);
  }

  /** A symptom line as the customer has it, in a state in which a good part works. */
  says(by: string, part: string, word: ResultWord, engine?: VehicleState["engine"]): this {
    const { harness } = parseNotation(this.notation);
    if (harness === undefined) throw new Error("the demo circuit has errors");
    const state = symptomState(harness, { part, word, wrong: true, ...(engine === undefined ? {} : { engine }) });
    return this.add(by, { type: "seen", data: { state, observe: { kind: "part", part }, word, wrong: true, source: "customer" } }, 1);
  }

  /** Undoes the temporary change added last. */
  undo(by: string): this {
    const index = this.#events.map((e) => e.body.type).lastIndexOf("temporary-made");
    return this.add(by, { type: "temporary-undone", data: { target: `#${index}` } }, 2);
  }

  write(file: string, endedMinutesAgo: number): void {
    const total = this.#events.reduce((sum, e) => sum + e.minutes, 0);
    let at = NOW - (endedMinutesAgo + total) * MINUTE;
    const idOf = (n: number, time: number): string =>
      uuidV7(
        time,
        Uint8Array.from({ length: 10 }, (_, i) => (this.#number * 53 + n * 29 + i * 17) % 256),
      );
    const jobId = idOf(0, at);
    const ids: string[] = [];
    const events = this.#events.map((e, i) => {
      at += e.minutes * MINUTE;
      const id = idOf(i + 1, at);
      ids.push(id);
      const body = e.body.type === "temporary-undone" ? { ...e.body, data: { target: ids[Number(e.body.data.target.slice(1))] } } : e.body;
      return jobEvent.parse({ id, jobId, at: new Date(at).toISOString(), by: e.by, ...body });
    });
    const job = { format: "rheonom-demo-job", version: 1, now: new Date(NOW).toISOString(), truth: this.#truth, events };
    writeFileSync(`demo/jobs/${file}.json`, JSON.stringify(job, null, 1) + "\n");
  }
}

const complaint = (
  vehicle: string,
  registration: string,
  mileage: string,
  words: string,
  conditions: string,
  triedBefore: string,
  highVoltage = false,
): Body => ({
  type: "job-opened",
  data: { ...EMPTY_COMPLAINT, vehicle, registration, mileage, words, conditions, triedBefore, highVoltage },
});
const circuit = (job: DemoJob): Body => ({ type: "circuit-set", data: { notation: job.notation } });

const INGA = "Inga Torsvik";
const PELL = "Pell Anderby";
const MORAG = "Morag Quill";

const blower = new DemoJob(1, "plover-hold-blower", [{ kind: "series", link: "C21.4", ohms: 0.11 }]);
blower
  .add(
    PELL,
    complaint(
      "Selwick Plover 2.0 D fridge van",
      "SKV 114",
      "148,200 km",
      "The blower in the hold has got weak. It blows, but the fish gets warm on the long crossing.",
      "All the time; a little better first thing in the morning. Worse since the wet ferry week.",
      "Blower renewed last month at the harbour, no change.",
    ),
  )
  .add(PELL, circuit(blower))
  .says(PELL, "HB1", "weak");
blower.write("plover-hold-blower", 40);

const lamps = new DemoJob(2, "brigg-work-lamps", [{ kind: "series", link: "G12", ohms: 0.34 }]);
const lampsOn: VehicleState = { ...REST_STATE, key: "off", on: ["SW9"] };
lamps
  .add(
    MORAG,
    complaint(
      "Tavrin Brigg 3.0 V6",
      "HR 7",
      "61,400 km",
      "Both work lamps at the back are yellow and dim. The left one flickered before.",
      "Every time, worse on the track to the mast.",
      "Bulbs of both renewed.",
    ),
  )
  .add(MORAG, circuit(lamps))
  .says(MORAG, "LA1", "weak")
  .says(MORAG, "LA2", "weak")
  .read(MORAG, "LA1", lampsOn, "BAT.+")
  .read(MORAG, "LA1", lampsOn, "LA1.1");
lamps.write("brigg-work-lamps", 95);

const valve = new DemoJob(3, "gritter-spinner-valve", [{ kind: "open", link: "W5" }]);
valve
  .add(
    INGA,
    complaint(
      "Morven Gritter, 24 V",
      "G 2",
      "9,850 h",
      "The spinner does not turn any more. The hydraulics work otherwise.",
      "Since the sweep of last week; nothing to do with the weather.",
      "Fuse looked at, good.",
    ),
  )
  .add(INGA, circuit(valve))
  .add(INGA, {
    type: "temporary-made",
    data: { kind: "cover off", at: "valve block cover", to: "", note: "four bolts in the door pocket" },
  });
valve.write("gritter-spinner-valve", 18 * 60);

const screen = new DemoJob(4, "ouse-rear-screen", [{ kind: "series", link: "C34.1", ohms: 0.16 }]);
const screenOn: VehicleState = { ...REST_STATE, key: "run", on: ["SW6"] };
screen
  .add(
    PELL,
    complaint(
      "Tavrin Ouse hybrid estate",
      "SKV 33",
      "37,900 km",
      "The rear screen takes for ever to clear.",
      "Cold mornings; the switch lamp comes on as it should.",
      "",
      true,
    ),
  )
  .add(PELL, circuit(screen))
  .read(PELL, "RS1", screenOn, "BAT.+")
  .read(PELL, "RS1", screenOn, "RS1.1")
  .read(PELL, "RS1", screenOn, "RS1.2")
  .read(PELL, "RS1", screenOn, "C34.1b")
  .read(PELL, "RS1", screenOn, "C34.1a", "C34.1b")
  .add(PELL, { type: "temporary-made", data: { kind: "cover off", at: "tailgate trim, left", to: "", note: "" } }, 2)
  .add(
    PELL,
    {
      type: "mend-made",
      data: {
        at: "C34.1",
        found: "Socket of cavity 1 brown and slack, plastic softened.",
        cause: "Salt water from the hinge boot, which had slipped off.",
        method: "terminal renewed",
        done: "New terminal crimped and sealed, boot back on its lip.",
      },
    },
    25,
  );
screen.write("ouse-rear-screen", 12);

const starter = new DemoJob(5, "brigg-starter-feed", [{ kind: "series", link: "B1.1", ohms: 0.0082 }]);
const cranking: VehicleState = { ...REST_STATE, key: "crank", engine: "cranking" };
starter
  .add(
    INGA,
    complaint(
      "Tavrin Brigg 3.0 V6",
      "HR 4",
      "112,700 km",
      "It turns over so slowly that it hardly starts, and only when warm is it better.",
      "Cold, after a night outside. Headlamps bright all the time.",
      "Battery renewed in spring.",
    ),
  )
  .add(INGA, circuit(starter))
  .read(INGA, "STM", cranking, "BAT.+")
  .read(INGA, "STM", cranking, "STM.1")
  .read(INGA, "STM", cranking, "STM.2")
  .read(INGA, "STM", cranking, "B1.1a")
  .read(INGA, "STM", cranking, "B1.1a", "B1.1b")
  .add(
    INGA,
    {
      type: "estimate-made",
      data: {
        currency: "EUR",
        taxPercent: 20,
        lines: [
          { kind: "labour", text: "Trace the slow cranking", quantity: 0.5, unitPrice: 6800 },
          { kind: "labour", text: "Junction stud cleaned and tightened", quantity: 0.6, unitPrice: 6800 },
          { kind: "material", text: "Spring washer, contact grease", quantity: 1, unitPrice: 420 },
        ],
      },
    },
    4,
  )
  .add(INGA, { type: "estimate-answered", data: { answer: "accepted", who: "the driver", how: "at the counter", note: "" } }, 6)
  .add(INGA, { type: "temporary-made", data: { kind: "unplugged", at: "BAT", to: "", note: "negative off to work on the stud" } }, 3)
  .add(
    INGA,
    {
      type: "mend-made",
      data: {
        at: "B1.1",
        found: "Nut of the junction stud loose by a turn, ring terminals blue and pitted.",
        cause: "Stud was undone for the winch cable and not torqued.",
        method: "contact cleaned",
        done: "Faces cleaned to bright metal, new spring washer, torqued as the manufacturer states, greased.",
        damage: { kind: "loose", segment: "", remedy: "tightened" },
      },
    },
    35,
  );
starter
  .undo(INGA)
  .add(INGA, { type: "note-added", data: { text: "Winch cable shares the stud; its ring was cleaned too." } })
  .read(INGA, "STM", cranking, "BAT.+")
  .read(INGA, "STM", cranking, "STM.1")
  .read(INGA, "STM", cranking, "STM.2")
  .read(INGA, "STM", cranking, "B1.1a")
  .read(INGA, "STM", cranking, "B1.1a", "B1.1b")
  .add(INGA, { type: "seen", data: { state: cranking, observe: { kind: "part", part: "STM" }, word: "full", wrong: false } }, 1)
  .add(
    INGA,
    {
      type: "driven",
      data: {
        met: ["cold, after a night outside"],
        unmet: [],
        outcome: "fault did not appear",
        seen: "Starts at the first turn of the key.",
        minutes: 15,
        from: 112_704,
        to: 112_712,
      },
    },
    900,
  )
  .add(INGA, { type: "return-watched", data: { until: "", distance: "1,000 km", what: "does it still turn over quickly when cold" } }, 1)
  .add(INGA, {
    type: "finding-kept",
    data: {
      at: "winch cable",
      found: "Cable shares the stud and has no fuse of its own.",
      outcome: "advised",
      risk: "A short of the winch burns its cable.",
      why: "The owner asks whoever fitted the winch.",
    },
  });
starter.add(
  INGA,
  { type: "job-closed", data: { safeToDrive: "yes", advice: "Torque of the stud to be checked at the next service.", withoutProof: "" } },
  6,
);
starter.write("brigg-starter-feed", 3 * 24 * 60);

const range = new DemoJob(6, "brigg", [{ kind: "open", link: "C1.8" }], "vehicles");
range
  .add(
    MORAG,
    complaint(
      "Tavrin Brigg 3.0 V6",
      "HR 2",
      "88,050 km",
      "It will not go into low range any more, and the dash says something about the transfer box.",
      "Since the ford at the sound was deep. Always now.",
      "",
    ),
  )
  .add(MORAG, circuit(range));
range.write("brigg-low-range", 25);

const thirsty = new DemoJob(7, "brigg", [{ kind: "open", link: "C4.2" }], "vehicles");
thirsty
  .add(
    INGA,
    complaint(
      "Tavrin Brigg 3.0 V6",
      "HR 9",
      "140,600 km",
      "The engine lamp is on. It is lazy and thirsty until it has run for a long time.",
      "Since the winter lay-up in the open shed. Always.",
      "Coolant temperature sensor renewed, no change.",
    ),
  )
  .add(INGA, circuit(thirsty));
thirsty.write("brigg-engine-lamp", 15);

const pump = new DemoJob(8, "plover", [{ kind: "open", link: "C20.2" }], "vehicles");
pump
  .add(
    PELL,
    complaint(
      "Selwick Plover 2.0 D",
      "SKV 207",
      "96,300 km",
      "It turns over well and does not start. The fuel pump is not to be heard.",
      "Since it came off the early ferry. Always now.",
      "Fuel filter renewed by the owner, no change.",
    ),
  )
  .add(PELL, circuit(pump))
  .says(PELL, "FPU", "none");
pump.write("plover-no-start", 55);

const charge = new DemoJob(9, "gritter", [{ kind: "open", link: "C2.1" }], "vehicles");
charge
  .add(
    INGA,
    complaint(
      "Morven Gritter, 24 V",
      "G 1",
      "11,200 h",
      "The battery was flat after the second night out, and the charge lamp does not come on with the key any more.",
      "Since the salt was washed off. Always.",
      "Batteries charged, good for a day.",
    ),
  )
  .add(INGA, circuit(charge))
  .says(INGA, "L1", "none");
charge.write("gritter-charge-lamp", 70);

const horn = new DemoJob(10, "gritter", [{ kind: "short to ground", place: "HRN.1", ohms: 0.05 }], "vehicles");
horn
  .add(
    MORAG,
    complaint(
      "Morven Gritter, 24 V",
      "G 3",
      "7,400 h",
      "The horn is dead. The owner fitted a new fuse, and it blew when the horn was pressed.",
      "Since the mirror arm was straightened. Always.",
      "One new fuse.",
    ),
  )
  .add(MORAG, circuit(horn))
  .says(MORAG, "HRN", "none");
horn.write("gritter-horn-fuse", 110);

const misfire = new DemoJob(11, "brigg", [{ kind: "open", link: "C5.3" }], "vehicles");
misfire
  .add(
    MORAG,
    complaint(
      "Tavrin Brigg 3.0 V6",
      "HR 5",
      "74,900 km",
      "It shakes at idle and has no pull. There is no spark at coil 3.",
      "Since the intake was off for the injectors. Always.",
      "Plugs renewed, coil 3 changed over with coil 5: the misfire stayed on cylinder 3.",
    ),
  )
  .add(MORAG, circuit(misfire))
  .says(MORAG, "IC3", "none", "idling");
misfire.write("brigg-misfire", 130);

const crank = new DemoJob(12, "plover", [{ kind: "open", link: "C10.3" }], "vehicles");
crank
  .add(
    PELL,
    complaint(
      "Selwick Plover 2.0 D",
      "SKV 212",
      "203,800 km",
      "It does not crank, not even a click. The lights stay bright.",
      "First now and then, since Sunday always.",
      "Starter and start relay renewed by another shop, no change.",
    ),
  )
  .add(PELL, circuit(crank))
  .says(PELL, "STA", "none", "cranking");
crank.write("plover-no-crank", 160);

const painted = new DemoJob(13, "plover", [{ kind: "series", link: "G4", ohms: 2.1 }], "vehicles");
painted
  .add(
    INGA,
    complaint(
      "Selwick Plover 2.0 D",
      "SKV 198",
      "121,400 km",
      "The low beam on the left is dim.",
      "Since the left wing was painted at the mainland body shop.",
      "Bulb renewed there, no change.",
    ),
  )
  .add(INGA, circuit(painted))
  .says(INGA, "L3", "weak");
painted.write("plover-painted-wing", 190);

const rubbed = new DemoJob(14, "plover", [{ kind: "across", from: "L10.1", to: "L13.1", ohms: 0.05 }], "vehicles");
const lightsOn: VehicleState = { ...REST_STATE, on: ["SW10"] };
const burnsByItself = (part: string): Body => ({
  type: "seen",
  data: { state: lightsOn, observe: { kind: "part", part }, word: "full", wrong: true, source: "customer" },
});
rubbed
  .add(
    PELL,
    complaint(
      "Selwick Plover 2.0 D",
      "SKV 201",
      "87,300 km",
      "With the lights on both stop lights burn, though nobody brakes.",
      "Since the rear doors were slammed in the gale. With the lights off all is well.",
      "",
    ),
  )
  .add(PELL, circuit(rubbed))
  .add(PELL, burnsByItself("L13"), 1)
  .add(PELL, burnsByItself("L14"), 1);
rubbed.write("plover-stop-lights", 220);

const bus = new DemoJob(15, "plover", [{ kind: "open", link: "C10.11" }], "vehicles");
bus
  .add(
    MORAG,
    complaint(
      "Selwick Plover 2.0 D",
      "SKV 219",
      "54,200 km",
      "Half the dash is lit up, and the ferry people’s tester gets no answer from the engine or the brakes.",
      "Since the bulkhead was washed out with the hose. Always.",
      "Battery charged.",
    ),
  )
  .add(MORAG, circuit(bus));
bus.write("plover-dead-bus", 250);

const gauge = new DemoJob(16, "brigg", [{ kind: "open", link: "C4.4" }], "vehicles");
gauge
  .add(
    MORAG,
    complaint(
      "Tavrin Brigg 3.0 V6",
      "HR 12",
      "99,100 km",
      "The oil pressure gauge lies at nothing with the engine running. The oil is up, and the engine is quiet.",
      "Since the winch was fitted. Always.",
      "Oil changed.",
    ),
  )
  .add(MORAG, circuit(gauge));
gauge.write("brigg-oil-gauge", 280);

const lock = new DemoJob(17, "plover", [{ kind: "series", link: "C16.2", ohms: 1.1 }], "vehicles");
lock
  .add(
    INGA,
    complaint(
      "Selwick Plover 2.0 D",
      "SKV 220",
      "176,000 km",
      "On full left lock, turning on the ferry ramp, the low beam on the left goes dim.",
      "Only on full left lock, hot or cold. Straight ahead it is bright again.",
      "Bulb changed over from the right.",
    ),
  )
  .add(INGA, circuit(lock))
  .says(INGA, "L3", "weak")
  .add(INGA, { type: "presence-told", data: { share: 0.3 } }, 1);
lock.write("plover-left-lock", 310);

const idling: VehicleState = { ...REST_STATE, key: "run", engine: "idling" };
const command = new DemoJob(18, "brigg", [{ kind: "series", link: "C3.1", ohms: 30_000 }], "vehicles");
command
  .add(
    MORAG,
    complaint(
      "Tavrin Brigg 3.0 V6",
      "HR 9",
      "84,600 km",
      "It charges, but never gets over 13.4 V. The winch battery is flat again after every call.",
      "Since the ford at the quarry road was deep. Always.",
      "Alternator replaced at the harbour, no change. Both batteries tested good.",
    ),
  )
  .add(MORAG, circuit(command))
  .says(MORAG, "ALT", "weak", "idling")
  .read(MORAG, "ALT.output", idling, "ALT.B+");
command.write("brigg-charge-command", 340);
