import { expect } from "chai";
import { freshStorage } from "../test/browser-storage.ts";
import { keepItem, readLike } from "./kept.ts";

const storage = freshStorage();

describe("what is kept on the device", () => {
  beforeEach(() => storage.clear());
  const EMPTY = { at: "", done: "", sealed: false };

  it("comes back field by field, as far as it fits", () => {
    expect(readLike("k", EMPTY)).to.deep.equal(EMPTY);
    keepItem("k", JSON.stringify({ at: "C5", done: 7, sealed: true, other: "x" }));
    expect(readLike("k", EMPTY)).to.deep.equal({ at: "C5", done: "", sealed: true });
    for (const broken of ["{", "[]", "null", "7"]) {
      keepItem("k", broken);
      expect(readLike("k", EMPTY)).to.deep.equal(EMPTY);
    }
  });

  it("is given up without a failure when the storage is full", () => {
    storage.limit = 10;
    expect(keepItem("key", "a long value that does not fit")).to.equal(false);
    storage.limit = Number.POSITIVE_INFINITY;
  });
});
