import { Router } from "express";
import { z } from "zod";
import type { Begun } from "@rheonom/contract/light";
import type { ShopSettings } from "@rheonom/contract/shop";
import { practising, type PracticeClass, type PracticeMenu, type PracticeVehicle } from "@rheonom/contract/practice";
import { REST_STATE } from "@rheonom/core/circuit";
import { foldJob } from "@rheonom/core/job";
import { writeCsv } from "@rheonom/core/notation";
import { ADVICE_COSTS, FAMILIES, MOST_SEED, SCORED, SCORED_IDS, shuffled, weightsFrom } from "@rheonom/core/practice";
import type { JobLog } from "@rheonom/contract/api";
import { beginningOf } from "../demo/again.ts";
import { learningOf, nextFor } from "../demo/learning.ts";
import { anySeed, nameInTitle, readBench, readReady, type PracticeAsk, type PracticeJob, type PracticeOn } from "../demo/practice.ts";
import { AppError } from "../errors.ts";
import type { Heavy } from "../heavy/pool.ts";
import type { Store } from "../store/store.ts";
import { readBody, readQuery } from "./validate.ts";

type Wanted = ReturnType<typeof practising.parse>;

/** Whose learning is asked for. */
const learner = z.object({ by: z.string().trim().min(1).max(80) });
const drilled = z.object({ seed: z.coerce.number().int().min(0).max(MOST_SEED) });

/** Where nobody says how hard. */
const USUAL_DIFFICULTY = 0.4;
const HARDER_BY = 0.2;

/** Faults to practise on: what there is, jobs that are made, who is at what, and what came of it. What is wrong is in no answer. */
export function practiceRoutes(store: Store, heavy: Heavy, root: string, now: () => Date): Router {
  const router = Router();
  const bench = readBench(root);
  const ready = readReady(root);

  const benchVehicle = (id: string, options?: readonly string[]): PracticeOn => {
    const found = bench.find((v) => v.id === id);
    if (found === undefined) throw new AppError("vehicle-not-found", { id });
    return { from: "bench", id, name: found.name, wiring: { notation: found.notation }, options };
  };
  /** The latest wiring of a vehicle. */
  const vehicleOf = async ({ from, id }: PracticeVehicle, options?: readonly string[]): Promise<PracticeOn> => {
    if (from === "bench") return benchVehicle(id, options);
    const { version, name } = (await store.vehicleVersions(id)).versions[0]!;
    return { from, id, name, pin: version, wiring: { json: await store.readHarness(id, version) }, options };
  };
  const anyRig = (): PracticeOn =>
    benchVehicle(
      shuffled(
        bench.filter((v) => v.id.startsWith("rig-")),
        Math.random,
      )[0]!.id,
    );
  const benchWithout = (id: string | undefined): readonly PracticeOn[] =>
    shuffled(
      bench.filter((v) => v.id !== id),
      Math.random,
    ).map((v) => benchVehicle(v.id));

  /** A job that is closed, with what is hidden behind it. Rejects with AppError practice-open. */
  const closedJob = async (id: string) => {
    const { log, truth, world } = await store.readJobWithTruth(id);
    const { events } = JSON.parse(new TextDecoder().decode(log)) as JobLog;
    const view = foldJob(events);
    if (view?.closed === undefined) throw new AppError("practice-open");
    return { events, view, truth, world };
  };

  /** Vehicles to try in their order, and what to look for on them. */
  const plannedFor = async (body: Wanted): Promise<{ readonly on: readonly PracticeOn[]; readonly ask: Partial<PracticeAsk> }> => {
    const { family, difficulty, seed, faults, misdrawn } = body;
    if (body.ready !== undefined) {
      const chosen = ready.find((r) => r.id === body.ready);
      if (chosen === undefined) throw new AppError("practice-unknown", { id: body.ready });
      return { on: [benchVehicle(chosen.vehicle, chosen.options)], ask: chosen };
    }
    if (body.like !== undefined) {
      const { how, job } = body.like;
      const { view, world } = await closedJob(job);
      if (world === undefined || view.circuit === undefined) throw new AppError("no-stand-in");
      const { notation, vehicle } = view.circuit;
      // Its own circuit as it stands in its log, whatever has become of the vehicle since.
      const own: PracticeOn = {
        from: world.from,
        id: world.vehicle,
        name: nameInTitle(view.complaint.vehicle),
        wiring: { notation },
        options: vehicle?.options,
        pin: vehicle?.version,
      };
      return {
        on: how === "elsewhere" ? benchWithout(world.vehicle) : [own],
        ask: {
          family: world.family,
          difficulty: how === "harder" ? Math.min(1, world.difficulty + HARDER_BY) : world.difficulty,
          misdrawn: world.misdrawn !== undefined,
        },
      };
    }
    const ask: Partial<PracticeAsk> = body.next
      ? nextFor(await store.practiceResultsOf(body.by), now())
      : { family, faults, misdrawn, ...(difficulty === undefined ? {} : { difficulty }), ...(seed === undefined ? {} : { seed }) };
    if (body.vehicle !== undefined) return { on: [await vehicleOf(body.vehicle, faults?.options)], ask };
    return { on: body.next ? benchWithout(undefined) : [anyRig()], ask };
  };

  const make = async (body: Wanted): Promise<Pick<PracticeJob, "events" | "hidden">> => {
    const { by, advice, clock, without } = body;
    if (body.again !== undefined) {
      const { events, truth, world } = await closedJob(body.again.job);
      if (truth === undefined || world === undefined) throw new AppError("no-stand-in");
      return { events: beginningOf(events, body.again.before, by, now()), hidden: { truth, world: { ...world, again: true } } };
    }
    if (body.ofJob !== undefined) {
      const { view } = await closedJob(body.ofJob);
      const mend = view.mends.findLast((m) => m.struck === undefined);
      if (view.circuit === undefined || mend === undefined)
        throw new AppError("practice-nothing", { vehicle: "this job’s circuit", family: "its repair" });
      const state = view.seen.find((s) => s.struck === undefined && s.data.wrong)?.data.state ?? REST_STATE;
      return heavy.run("practiceOfRepair", view.circuit.notation, mend.data.at, state, { by, advice, clock, without }, now().toISOString());
    }
    const { on, ask } = await plannedFor(body);
    return firstThat(on, (vehicle) =>
      heavy.run(
        "practice",
        vehicle,
        {
          family: ask.family,
          faults: ask.faults,
          misdrawn: ask.misdrawn,
          difficulty: ask.difficulty ?? USUAL_DIFFICULTY,
          seed: ask.seed ?? anySeed(Math.random),
        },
        { by, advice, clock, without },
        now().toISOString(),
      ),
    );
  };

  router.get("/practice", async (_request, response) => {
    // What ships with the app stands in a demo shop as well; there it is the same.
    const shop = (await store.listVehicles()).filter((v) => !bench.some((b) => b.id === v.id));
    response.json({
      vehicles: [
        ...bench.map(({ id, name }) => ({ from: "bench" as const, id, name })),
        ...shop.map((v) => ({ from: "shop" as const, id: v.id, name: v.latest.name })),
      ],
      families: [...FAMILIES],
      points: pointsHere((await store.readShop()).points),
      // Of which kind it is, and what it could be made anew from, is for nobody who practises.
      ready: ready.map(({ seed: _, family: __, ...r }) => ({ ...r, name: benchVehicle(r.vehicle).name })),
    } satisfies PracticeMenu);
  });
  router.post("/practice", async (request, response) => {
    const { events, hidden } = await make(readBody(practising, request));
    const [first, ...rest] = events;
    await store.openJob(first!, hidden);
    if (rest.length > 0) await store.appendEvents(first!.jobId, rest);
    response.status(201).json({ jobId: first!.jobId } satisfies Begun);
  });
  router.get("/practice/learning", async (request, response) => {
    const { by } = readQuery(learner, request);
    response.json(learningOf(await store.practiceResultsOf(by), now()));
  });
  router.get("/practice/drill", async (request, response) => {
    // On rigs and the small truck: a minute is not enough to see the others.
    const small = bench.filter((v) => v.id.startsWith("rig-") || v.id === "gritter");
    response.json(await heavy.run("drill", small, readQuery(drilled, request).seed));
  });
  router.get("/practice/class", async (_request, response) => {
    response.json({ open: await store.openPractice(), results: await store.practiceResultsOfAll() } satisfies PracticeClass);
  });
  router.get("/practice/results.csv", async (_request, response) => {
    const rows = (await store.practiceResultsOfAll()).map((r) => [
      r.at,
      r.by,
      r.vehicle,
      r.family,
      r.difficulty,
      r.isFound ? "found" : "not found",
      r.score,
      r.tests,
      Number(r.minutes.toFixed(1)),
      r.planTests,
      r.planMinutes === undefined ? undefined : Number(r.planMinutes.toFixed(1)),
    ]);
    response
      .type("text/csv")
      .attachment("practice-results.csv")
      .send(writeCsv([RESULT_COLUMNS, ...rows]));
  });
  return router;
}

const pointsHere = (set: ShopSettings["points"]): PracticeMenu["points"] => {
  const here = weightsFrom(set);
  return [
    ...SCORED_IDS.map((id) => ({ id, words: SCORED[id].words, usual: SCORED[id].most, here: here[id] })),
    { id: "advice", words: "Off for each request for advice or hint, five times at most", usual: ADVICE_COSTS, here: here.advice },
  ];
};

const RESULT_COLUMNS = [
  "closed",
  "by",
  "vehicle",
  "family",
  "difficulty",
  "result",
  "score of 100",
  "tests",
  "minutes of tests",
  "tests by the first proposals",
  "minutes by the first proposals",
];

/** Of the first vehicle on which what is asked for can be noticed. Rejects with what the last one said. */
async function firstThat<T>(vehicles: readonly PracticeOn[], begin: (on: PracticeOn) => Promise<T>): Promise<T> {
  let refused: unknown = new AppError("practice-nothing", { vehicle: "any other vehicle", family: "this family" });
  for (const on of vehicles) {
    try {
      return await begin(on);
    } catch (error) {
      if (!(error instanceof AppError) || error.code !== "practice-nothing") throw error;
      refused = error;
    }
  }
  throw refused;
}
