import { expect } from "chai";
import { AppError } from "../errors.ts";
import { createTargets } from "./targets.ts";

const RANGES = ["127.0.0.0/8", "10.0.0.0/8", "192.168.0.0/16", "::1/128", "fe80::/10"];
const targets = createTargets(RANGES, () => new Set([4180]));
const admitted = (host: string, port = 13400): Promise<string> =>
  targets.admit(host, port).catch((error: unknown) => (error instanceof AppError ? error.code : Promise.reject(error)));

describe("where vehicles may be looked for", () => {
  it("is the workshop's network and this machine", async () => {
    for (const host of ["127.0.0.1", "10.1.2.3", "192.168.4.255", "::1", "fe80::7"]) expect(await admitted(host)).to.equal(host);
    expect(await admitted("localhost")).to.match(/^(127\.|::1)/);
    for (const host of ["8.8.8.8", "203.0.113.4", "255.255.255.255", "2001:db8::1", "::ffff:8.8.8.8", "172.15.0.1"])
      expect(await admitted(host), host).to.equal("link-outside");
    expect(await admitted("::ffff:10.0.0.1"), "an address in other clothes").to.equal("::ffff:10.0.0.1");
    expect(await admitted("nowhere.invalid")).to.equal("link-host-unknown");
  });
  it("is never this server itself", async () => {
    for (const host of ["127.0.0.1", "127.9.9.9", "::1"]) expect(await admitted(host, 4180), host).to.equal("link-own-server");
    expect(targets.isAllowed("127.0.0.1", 4180)).to.equal(false);
    expect(targets.isAllowed("10.0.0.9", 4180), "the same number on another machine").to.equal(true);
    expect(targets.isAllowed("8.8.8.8", 13400)).to.equal(false);
  });
  it("names a range that is none", () => {
    for (const range of ["10.0.0.0", "10.0.0.0/33", "workshop/8", "::1/129", "10.0.0.0/x"])
      expect(() => createTargets([range], () => new Set()), range).to.throw(RangeError, range);
  });
});
