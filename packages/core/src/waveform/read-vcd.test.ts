import { expect } from "chai";
import { isVcd, readVcd } from "./read-vcd.ts";

const HEAD = `$date today $end
$version by hand $end
$timescale 1 us $end
$scope module top $end
$var wire 1 ! RX $end
$var wire 1 " TX $end
$var wire 8 # byte [7:0] $end
$upscope $end
$enddefinitions $end
`;
const read = (text: string) => {
  const made = readVcd(text);
  if (made.kind === "bad") throw new Error(made.why);
  return made;
};

describe("a value change dump", () => {
  it("is told by its beginning", () => {
    expect(isVcd(HEAD)).to.equal(true);
    expect(isVcd("time,CH1\n0,1")).to.equal(false);
  });
  it("gives its signals on an even clock, eight samples to the nearest change", () => {
    const { trace, leftOut } = read(`${HEAD}#0\n$dumpvars\n1!\n0"\nb00000000 #\n$end\n#100\n0!\n#180\n1!\n1"\n#400\n`);
    expect(leftOut).to.equal(1);
    expect(trace.channels.map((c) => c.name)).to.deep.equal(["RX", "TX"]);
    // 80 µs are the nearest: a sample each 10 µs.
    expect(trace.rateHz).to.be.closeTo(1e5, 1e-6);
    expect(trace.count).to.equal(41);
    expect([...trace.channels[0]!.samples].map(String).join("")).to.equal("1".repeat(10) + "0".repeat(8) + "1".repeat(23));
    expect([...trace.channels[1]!.samples].map(String).join("")).to.equal("0".repeat(18) + "1".repeat(23));
  });
  it("has gaps where nobody knows the level, and begins when its clock begins", () => {
    const { trace } = read(`${HEAD}#1000\nx!\n0"\n#1100\n1!\n#1200\nz!\n#1300\n`);
    expect(trace.startS).to.be.closeTo(1e-3, 1e-12);
    const rx = [...trace.channels[0]!.samples];
    expect(Number.isNaN(rx[0]!)).to.equal(true);
    expect(rx.filter((v) => v === 1).length).to.equal(8);
    expect(Number.isNaN(rx.at(-1)!)).to.equal(true);
  });
  it("does not grow without measure", () => {
    const { trace } = read(`${HEAD}#0\n1!\n0"\n#1\n0!\n#2\n1!\n#1000000000\n`);
    expect(trace.count * 2).to.be.at.most(12e6);
  });
  it("that is none is told why", () => {
    const why = (text: string): string => {
      const made = readVcd(text);
      return made.kind === "bad" ? made.why : "read";
    };
    expect(why("$date x $end")).to.equal("it says no time scale");
    expect(why("$timescale 1 ns $end $var wire 1 ! A $end")).to.equal("its definitions do not end");
    expect(why("$timescale 1 ns $end $enddefinitions $end #0 #5")).to.equal("it has no signal of one bit");
    expect(why(`${HEAD}#5\n1!\n#3\n0!`)).to.equal("the time goes backwards at #3");
    expect(why(`${HEAD}#five\n1!`)).to.equal("“#five” is no time");
    expect(why(`${HEAD}1!`)).to.equal("it has no changes over time");
  });
});
