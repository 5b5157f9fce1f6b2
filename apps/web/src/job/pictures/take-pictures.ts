import { MOST_PICTURE_BYTES } from "@rheonom/contract/shop";
import { forgetPicture, keepPicture, readKeptPictures, type PictureSaid, type WaitingPicture } from "../../api/kept-pictures.ts";
import { pictureChanged, pictureGone, pictureQueued } from "../../api/picture-queue.ts";
import { sendPicture } from "../../api/send-picture.ts";
import { newId, record } from "../record.ts";
import { store } from "../store.ts";

const RETRY_MS = 3000;
/** Longest side of the small one that is shown meanwhile, px. */
const PREVIEW_PX = 360;

/** The files themselves, of pictures on their way. */
const files = new Map<string, WaitingPicture>();
let sending = false;
let timer: ReturnType<typeof setTimeout> | undefined;

/** Takes in what a camera or a choice of files gave: shown at once, kept on this device, and sent one after the other as soon as the server answers. */
export function takePictures(list: readonly File[], said: Omit<PictureSaid, "takenAt">): void {
  for (const file of list) {
    const id = newId();
    const picture: WaitingPicture = { id, said: { ...said, takenAt: new Date().toISOString() }, name: file.name, file };
    const tooLarge = file.size > MOST_PICTURE_BYTES;
    const megabytes = Math.round(file.size / 1e6);
    queue(
      picture,
      tooLarge
        ? `It has ${megabytes} MB; ${MOST_PICTURE_BYTES / 1e6} MB are taken at most. Set the camera to a smaller size. Nothing was stored.`
        : undefined,
    );
    if (tooLarge) continue;
    void keepPicture(picture).then((isKept) => {
      if (!isKept) store.dispatch(pictureChanged({ id, isKept }));
    });
  }
  void sendPictures();
}

/** Takes up what an earlier page has kept. */
export async function takeUpPictures(): Promise<void> {
  for (const picture of await readKeptPictures()) if (!files.has(picture.id)) queue(picture, undefined);
  await sendPictures();
}

/** Gives up a picture that was refused or is on its way. */
export function giveUpPicture(id: string): void {
  end(id);
  void forgetPicture(id);
}

function queue(picture: WaitingPicture, refused: string | undefined): void {
  const { id, said, name, file } = picture;
  files.set(id, picture);
  store.dispatch(pictureQueued({ id, said, name, preview: "", sent: 0, refused, isKept: true }));
  if (refused === undefined)
    void previewOf(file).then((preview) => {
      if (files.has(id)) store.dispatch(pictureChanged({ id, preview }));
      else URL.revokeObjectURL(preview);
    });
}

/** A small one of a picture, so that twenty of twelve million pixels each do not stand in memory. "" where the browser cannot read it. */
async function previewOf(file: Blob): Promise<string> {
  try {
    const small = await createImageBitmap(file, { resizeWidth: PREVIEW_PX, resizeQuality: "low" });
    const canvas = new OffscreenCanvas(small.width, small.height);
    canvas.getContext("2d")!.drawImage(small, 0, 0);
    small.close();
    return URL.createObjectURL(await canvas.convertToBlob({ type: "image/jpeg", quality: 0.75 }));
  } catch {
    return "";
  }
}

async function sendPictures(): Promise<void> {
  if (sending) return;
  sending = true;
  clearTimeout(timer);
  try {
    for (;;) {
      const next = store.getState().pictures.find((p) => p.refused === undefined && files.has(p.id));
      if (next === undefined) return;
      if ((await send(files.get(next.id)!)) === "later") {
        timer = setTimeout(() => void sendPictures(), RETRY_MS);
        return;
      }
    }
  } finally {
    sending = false;
  }
}

async function send({ id, file, said }: WaitingPicture): Promise<"done" | "later"> {
  const change = (c: { sent?: number; refused?: string }): void => void store.dispatch(pictureChanged({ id, ...c }));
  const result = await sendPicture(file, (sent) => change({ sent }));
  // Somebody gave it up meanwhile.
  if (!files.has(id)) return "done";
  switch (result.kind) {
    case "later":
      change({ sent: 0 });
      return "later";
    case "refused":
      change({ refused: result.message });
      void forgetPicture(id);
      return "done";
    case "taken": {
      const { at, when, caption, reading, jobId, by, takenAt } = said;
      const data = { ...result.picture, at, when, caption, ...(reading === undefined ? {} : { reading }) };
      // Two pages that send the same picture make the same entry, which is stored once.
      store.dispatch(record(jobId, { type: "picture-kept", data }, { id, by, at: takenAt }));
      end(id);
      void forgetPicture(id);
      return "done";
    }
  }
}

function end(id: string): void {
  files.delete(id);
  const known = store.getState().pictures.find((p) => p.id === id);
  if (known !== undefined && known.preview !== "") URL.revokeObjectURL(known.preview);
  store.dispatch(pictureGone(id));
}
