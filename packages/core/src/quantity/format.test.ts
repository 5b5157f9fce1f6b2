import { expect } from "chai";
import { formatAmps, formatOhms, formatVolts } from "./format.ts";
import { volts } from "./units.ts";

const plain = (text: string): string => text.replaceAll("\u2009", " ");

describe("format", () => {
  const VOLTS: readonly (readonly [number, string])[] = [
    [12.3, "12.30 V"],
    [0.44, "0.440 V"],
    [0.0447, "45 mV"],
    [0.00447, "4.5 mV"],
    [-0.0211, "−21 mV"],
    [-1e-9, "0.0 mV"],
    [0.9999, "1.00 V"],
  ];
  for (const [value, text] of VOLTS) it(`${value} V reads ${text}`, () => expect(plain(formatVolts(value))).to.equal(text));

  const AMPS: readonly (readonly [number, string])[] = [
    [190.4, "190 A"],
    [18.04, "18.0 A"],
    [1.749, "1.75 A"],
    [0.42, "420 mA"],
    [0.0421, "42.1 mA"],
    [0.00005, "50.0 µA"],
  ];
  for (const [value, text] of AMPS) it(`${value} A reads ${text}`, () => expect(plain(formatAmps(value))).to.equal(text));

  const OHMS: readonly (readonly [number, string])[] = [
    [0.00069, "0.69 mΩ"],
    [0.0041, "4.1 mΩ"],
    [0.34, "340 mΩ"],
    [2.44, "2.4 Ω"],
    [68, "68 Ω"],
    [4700, "4.70 kΩ"],
    [1.2e6, "1.20 MΩ"],
  ];
  for (const [value, text] of OHMS) it(`${value} Ω reads ${text}`, () => expect(plain(formatOhms(value))).to.equal(text));

  it("no quantity is NaN or infinite", () => {
    expect(() => volts(Number.POSITIVE_INFINITY)).to.throw(RangeError, "V");
  });
});
