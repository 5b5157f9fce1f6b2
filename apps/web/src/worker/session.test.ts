import { expect } from "chai";
import { REST_STATE } from "@rheonom/core/circuit";
import { parseNotation } from "@rheonom/core/notation";
import { createHost, type SessionHost } from "./host.ts";
import { createSession, type Lane, type LaneName, type RemoteHost } from "./session.ts";

const textOf = (load: string): string =>
  `BAT.+ -- RD 4mm2 1m -- F1(30A) -- RD 4mm2 1m -- ${load}(motor 8A) -- BK 4mm2 1m -- G1\nBAT.- -- BK 16mm2 1m -- G1`;
const harnessOf = (load: string) => parseNotation(textOf(load)).harness!;

interface Sent {
  readonly lane: LaneName;
  readonly what: keyof SessionHost;
  readonly id: number | undefined;
}

/** A session over hosts in this thread, with a list of what was sent; `turns`: how often a host lets others speak before it begins. */
function sessionOf(turns = 1): { readonly session: ReturnType<typeof createSession>; readonly sent: Sent[] } {
  const sent: Sent[] = [];
  const begin = (lane: LaneName): Lane => {
    const host = createHost(async () => {
      for (let i = 0; i < turns; i++) await Promise.resolve();
    });
    const remote: RemoteHost = {
      // What is handed over is another object on the other side, as between a page and a worker.
      open: async (id, harness) => {
        sent.push({ lane, what: "open", id });
        host.open(id, structuredClone(harness));
      },
      close: async (id) => {
        sent.push({ lane, what: "close", id });
        host.close(id);
      },
      ask: (ticket, name, id, input, report) => {
        sent.push({ lane, what: "ask", id });
        return host.ask(ticket, name, id, input, report);
      },
      cancel: async (ticket) => host.cancel(ticket),
    };
    return { host: remote, end: () => undefined };
  };
  return { session: createSession(begin), sent };
}

const REST = { key: "run", engine: "stopped", on: [], opened: [], bridged: [], temperatureC: 20 } as const;
const state = { ...REST, on: [], opened: [], bridged: [] };

describe("the computing session", () => {
  it("hands a harness over once and asks by its number from then on", async () => {
    const { session, sent } = sessionOf();
    const harness = harnessOf("FAN");
    const leads = { quantity: "volts", red: "FAN.1", black: "BAT.-" } as const;
    const first = await session.ask("read", harness, { state, leads }).answer;
    const again = await session.ask("read", harness, { state, leads }).answer;
    expect(first).to.deep.equal(again);
    expect(first?.kind === "value" && first.value).to.be.within(12, 12.6);
    expect(sent.map((s) => s.what)).to.deep.equal(["open", "ask", "ask"]);
    expect(new Set(sent.map((s) => s.id)).size).to.equal(1);
  });

  it("closes the one that was not used for longest, and opens it again when it is asked for", async () => {
    const { session, sent } = sessionOf();
    const all = ["A1", "A2", "A3", "A4", "A5"].map(harnessOf);
    for (const harness of all) await session.ask("sound", harness, { state }).answer;
    const back = await session.ask("sound", all[0]!, { state }).answer;
    expect(back?.volts.get("A1.1")).to.be.within(12, 12.6);
    const opened = sent.filter((s) => s.what === "open").map((s) => s.id);
    expect(opened).to.have.length(6);
    expect(opened[5]).to.equal(opened[0]);
    expect(sent.filter((s) => s.what === "close").map((s) => s.id)).to.deep.equal(opened.slice(0, 2));
  });

  it("does not begin what was given up while it waited, and answers the others", async () => {
    const { session } = sessionOf(5);
    const harness = harnessOf("FAN");
    const asked = ["FAN.1", "FAN.2", "F1.1"].map((red) =>
      session.ask("read", harness, { state, leads: { quantity: "volts", red, black: "BAT.-" } }),
    );
    asked[1]!.giveUp();
    const [first, given, third] = await Promise.all(asked.map((a) => a.answer));
    expect(given).to.equal(undefined);
    expect([first?.kind, third?.kind]).to.deep.equal(["value", "value"]);
  });

  it("reports progress and stages, and stops a lane at once without the other one noticing", async () => {
    const { session, sent } = sessionOf();
    const rows = ["id,kind,rating", ...Array.from({ length: 1200 }, (_, i) => `F${i},fuse,10A`)].join("\n");
    const shares: number[] = [];
    await session.askAlone("tables", { files: [{ name: "components.csv", text: rows }] }, (share) => shares.push(share)).answer;
    expect(shares.at(-1)).to.equal(1);
    expect(shares.length).to.be.above(1);

    const harness = harnessOf("FAN");
    const extents: string[] = [];
    const question = {
      focus: ["FAN"],
      state,
      presence: 1,
      evidence: [
        {
          id: "e1",
          state,
          observe: { kind: "volts", red: "FAN.1", black: "BAT.-" },
          result: { kind: "value", value: 2 },
          source: "technician",
        } as const,
      ],
      circumstances: [],
      instruments: ["meter"] as const,
    };
    const whole = await session.ask("diagnosis", harness, question, ({ extent }) => extents.push(extent)).answer;
    expect(extents).to.deep.equal(["none", "at hand"]);
    expect(whole!.suspects.length).to.be.above(0);

    const running = session.ask("diagnosis", harness, question);
    session.stop("thinking");
    expect(await running.answer).to.equal(undefined);
    expect((await session.ask("sound", harness, { state }).answer)?.volts.get("FAN.1")).to.be.within(12, 12.6);
    // A new worker of that lane is given the harness anew.
    await session.ask("diagnosis", harness, question).answer;
    expect(sent.filter((s) => s.what === "open").map((s) => s.lane)).to.deep.equal(["thinking", "quick", "thinking"]);
  });

  it("lets no progress through that the answer has overtaken", async () => {
    const late: ((progress: unknown) => void)[] = [];
    const begin = (): Lane => ({
      host: {
        open: async () => undefined,
        close: async () => undefined,
        cancel: async () => undefined,
        ask: async (_ticket, _name, _id, _input, report) => {
          late.push(report);
          return { kind: "answer", value: "done" };
        },
      },
      end: () => undefined,
    });
    const shares: number[] = [];
    await createSession(begin).askAlone("tables", { files: [] }, (share) => shares.push(share)).answer;
    late[0]!(0.5);
    expect(shares).to.deep.equal([]);
  });

  it("passes on what a question throws", async () => {
    const { session } = sessionOf();
    const asked = session.ask("read", harnessOf("FAN"), { state, leads: { quantity: "volts", red: "NOWHERE", black: "BAT.-" } });
    const message = await asked.answer.then(
      () => "",
      (error: unknown) => String(error),
    );
    expect(message).to.include("NOWHERE");
  });

  it("lists beforehand what can go wrong, and leaves it to whoever asks to hear what is wrong with a vehicle", async () => {
    const host = createHost(() => Promise.resolve());
    const sound = harnessOf("M1");
    const broken = {
      ...sound,
      components: [...sound.components, { kind: "device" as const, id: "X1", device: "no such device", settings: {} }],
    };
    host.open(1, broken);
    host.open(2, sound);
    // A rejection that nobody takes would end the worker.
    const lost: unknown[] = [];
    const note = (why: unknown): void => void lost.push(why);
    process.on("unhandledRejection", note);
    await new Promise((done) => setTimeout(done, 50));
    process.off("unhandledRejection", note);
    expect(lost).to.deep.equal([]);
    const asked = host.ask(1, "sound", 1, { state: REST_STATE }, () => undefined);
    expect(await asked.then(String, (e: unknown) => (e as Error).message)).to.contain("no such device");
  });
});
