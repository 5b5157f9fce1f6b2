import type { KeptPicture } from "@rheonom/contract/shop";

export type PictureSent =
  | { readonly kind: "taken"; readonly picture: KeptPicture }
  | { readonly kind: "refused"; readonly message: string }
  /** Nobody answers, or it cannot be stored now. */
  | { readonly kind: "later" };

const LONGEST_MS = 120_000;

/** Sends a picture and tells how much of it has gone. A request of its own kind, since only this one tells of its progress. */
export async function sendPicture(file: Blob, progress: (share: number) => void): Promise<PictureSent> {
  const [{ keptPicture, PICTURE_TYPES }, { problem }] = await Promise.all([
    import("@rheonom/contract/shop"),
    import("@rheonom/contract/problem"),
  ]);
  return new Promise((done) => {
    const request = new XMLHttpRequest();
    request.open("POST", "/api/pictures");
    request.timeout = LONGEST_MS;
    request.responseType = "json";
    // What it is the server tells from its bytes.
    request.setRequestHeader("content-type", PICTURE_TYPES.find((t) => t === file.type) ?? PICTURE_TYPES[0]);
    request.upload.onprogress = (e) => progress(e.lengthComputable ? e.loaded / e.total : 0);
    request.onerror = request.ontimeout = request.onabort = () => done({ kind: "later" });
    request.onload = () => {
      const taken = keptPicture.safeParse(request.response);
      if (request.status === 201 && taken.success) return done({ kind: "taken", picture: taken.data });
      const told = problem.safeParse(request.response);
      const isFinal = request.status >= 400 && request.status < 500 && told.success;
      done(isFinal ? { kind: "refused", message: told.data.message } : { kind: "later" });
    };
    request.send(file);
  });
}
