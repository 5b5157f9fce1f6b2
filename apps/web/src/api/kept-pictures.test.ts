import "fake-indexeddb/auto";
import { expect } from "chai";
import { uuidV7 } from "@rheonom/core/job";
import { forgetPicture, keepPicture, readKeptPictures, type WaitingPicture } from "./kept-pictures.ts";
import { pictureChanged, pictureGone, pictureQueued, pictureReducer, type QueuedPicture } from "./picture-queue.ts";

/** Ids that sort by their number. */
const idOf = (n: string) => uuidV7(Number(n), new Uint8Array(10));
const picture = (n: string): WaitingPicture => ({
  id: idOf(n),
  said: { jobId: "j", by: "Ada", takenAt: "2026-05-20T10:00:00.000Z", at: "C4.1", when: "before", caption: "" },
  name: `${n}.jpg`,
  file: new Blob([n], { type: "image/jpeg" }),
});
const queued = (id: string): QueuedPicture => ({
  id,
  said: picture(id).said,
  name: id,
  preview: "",
  sent: 0,
  refused: undefined,
  isKept: true,
});

describe("pictures that wait on a device", () => {
  it("are there after a reload with what is said of them, in the order of taking, until the server has them", async () => {
    for (const id of ["2", "1"]) expect(await keepPicture(picture(id))).to.equal(true);
    const kept = await readKeptPictures();
    expect(kept.map((p) => [p.said.at, p.name])).to.deep.equal([
      ["C4.1", "1.jpg"],
      ["C4.1", "2.jpg"],
    ]);
    await forgetPicture(idOf("1"));
    await forgetPicture(idOf("1"));
    expect((await readKeptPictures()).map((p) => p.name)).to.deep.equal(["2.jpg"]);
    await forgetPicture(idOf("2"));
  });

  it("stand in the queue once, however often they are taken up, and change by themselves", () => {
    let queue = [pictureQueued(queued("1")), pictureQueued(queued("2")), pictureQueued(queued("1"))].reduce(pictureReducer, []);
    expect(queue.map((p) => p.id)).to.deep.equal(["1", "2"]);
    queue = pictureReducer(queue, pictureChanged({ id: "2", sent: 0.5 }));
    expect(queue.map((p) => p.sent)).to.deep.equal([0, 0.5]);
    queue = pictureReducer(queue, pictureGone("1"));
    expect(pictureReducer(queue, pictureChanged({ id: "1", sent: 1 })).map((p) => p.id)).to.deep.equal(["2"]);
  });
});
