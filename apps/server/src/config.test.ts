import { expect } from "chai";
import { ConfigError, OPEN_WORDS, readConfig } from "./config.ts";

describe("settings", () => {
  it("are read from the environment, loopback by default, and named when wrong", () => {
    const plain = readConfig({}, "/top");
    expect(plain).to.include({ port: 4180, host: "127.0.0.1", openToNetwork: false });
    expect(plain.store).to.include({ dataFolder: "/top/.data", startFresh: false, look: false });
    expect(readConfig({ PORT: "80", HOST: "::1", RHEONOM_DATA: "/x" }, "/top")).to.include({ port: 80, host: "::1" });
    expect(() => readConfig({ PORT: "eighty" }, "/top")).to.throw(ConfigError, "PORT");
  });
  it("refuse a host beyond this machine unless it is said what that means", () => {
    for (const HOST of ["0.0.0.0", "::", "192.168.1.20", "workshop.local"])
      expect(() => readConfig({ HOST }, "/top"), HOST).to.throw(ConfigError, OPEN_WORDS);
    expect(() => readConfig({ HOST: "0.0.0.0", RHEONOM_ACCESS: "yes" }, "/top")).to.throw(ConfigError, "RHEONOM_ACCESS");
    expect(readConfig({ HOST: "0.0.0.0", RHEONOM_ACCESS: OPEN_WORDS }, "/top")).to.include({ host: "0.0.0.0", openToNetwork: true });
    for (const HOST of ["localhost", "127.0.0.1", "127.8.0.1", "::1"])
      expect(readConfig({ HOST }, "/top").openToNetwork, HOST).to.equal(false);
  });
});
