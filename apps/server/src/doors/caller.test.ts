import { expect } from "chai";
import { turnAway, type Door } from "./caller.ts";

const closed: Door = { openToNetwork: false, names: [] };
const open: Door = { openToNetwork: true, names: ["netloft.lan"] };
const at = (host: string | undefined, more: Record<string, string> = {}, door = closed, isPage = false): string | undefined =>
  turnAway({ ...(host === undefined ? {} : { host }), ...more }, isPage, door);

describe("who may ask", () => {
  it("knows itself by loopback names only", () => {
    for (const host of ["localhost", "localhost:4180", "127.0.0.1:4180", "127.3.2.1:80", "[::1]:4180", "LOCALHOST:1"])
      expect(at(host), host).to.equal(undefined);
    for (const host of [
      "evil.example",
      "evil.example:4180",
      "127.0.0.1.evil.example",
      "192.168.1.4:4180",
      "localhost.evil.example",
      "",
      undefined,
      "a b",
      "[::1",
      "[::ffff:8.8.8.8]",
      "0.0.0.0:4180",
    ])
      expect(at(host), String(host)).to.equal("host");
  });
  it("takes addresses and its names when it is open to a network, and no other name", () => {
    expect(at("192.168.1.4:4180", {}, open)).to.equal(undefined);
    expect(at("[fe80::1]:4180", {}, open)).to.equal(undefined);
    expect(at("netloft.lan:4180", {}, open)).to.equal(undefined);
    expect(at("evil.example", {}, open)).to.equal("host");
    expect(at("netloft.lan:4180")).to.equal("host");
  });
  it("turns pages of other sites away, also those that read only", () => {
    const host = "127.0.0.1:4180";
    expect(at(host, { origin: "http://127.0.0.1:4180" })).to.equal(undefined);
    for (const origin of ["http://evil.example", "http://127.0.0.1:9999", "null", "file://", "http://localhost:4180"])
      expect(at(host, { origin }), origin).to.equal("origin");
    expect(at(host, { "sec-fetch-site": "same-origin" })).to.equal(undefined);
    expect(at(host, { "sec-fetch-site": "none" })).to.equal(undefined);
    for (const site of ["cross-site", "same-site"]) expect(at(host, { "sec-fetch-site": site }), site).to.equal("origin");
    expect(at(host, { "sec-fetch-site": "cross-site" }, closed, true), "a link to a page").to.equal(undefined);
  });
});
