import { connect } from "node:net";
import { join, resolve } from "node:path";
import { PassThrough } from "node:stream";
import { expect } from "chai";
import { standInCommand } from "./stand-in.ts";

const root = resolve(import.meta.dirname, "../../..");

/** One question to an instrument on a port of this machine. */
const ask = (port: number, question: string): Promise<string> =>
  new Promise((done, failed) => {
    const socket = connect({ host: "127.0.0.1", port });
    socket.on("error", failed);
    socket.on("data", (chunk) => {
      socket.destroy();
      done(chunk.toString());
    });
    socket.write(`${question}\n`);
  });

describe("rheonom stand-in", () => {
  it("brings up a meter on a vehicle with a fault, whose leads are put by lines on the input", async () => {
    const [input, out, err] = [new PassThrough(), new PassThrough(), { text: "" }];
    let said = "";
    out.on("data", (chunk: Buffer) => (said += chunk.toString()));
    const args = ["meter", "--harness", join(root, "demo/vehicles/rig-horn.circuit"), "--port", "0", "--json"];
    const ended = standInCommand(args, out, { write: (t) => (err.text += t) }, input);
    const heard = async (pattern: RegExp): Promise<RegExpExecArray> => {
      for (let i = 0; i < 2400; i++) {
        const found = pattern.exec(said);
        if (found !== null) return found;
        await new Promise((later) => setTimeout(later, 25));
      }
      throw new Error(`${said}${err.text}`);
    };
    const port = Number((await heard(/"port":(\d+)/))[1]);
    input.write("leads BAT.+\n");
    await heard(/"told"/);
    expect(Number(await ask(port, "MEAS:VOLT:DC?"))).to.be.within(11, 14);
    input.write("leads X9.9\nquit\n");
    expect(await ended).to.equal(0);
    expect(said).to.contain("There is no place X9.9");
  });
  it("says which stand-ins there are", async () => {
    const nowhere = { write: () => undefined };
    const refused = await standInCommand(["toaster"], nowhere, nowhere, new PassThrough()).catch((e: unknown) => String(e));
    expect(refused).to.contain("vehicle, meter, scope");
  });
});
