import { LONGEST_SIDE_PX } from "@rheonom/core/job";
import { AppError } from "../errors.ts";

/** A picture as it is kept: JPEG, upright, without place, time or any other note of the camera. */
export interface PreparedPicture {
  readonly jpeg: Buffer;
  readonly thumbnail: Buffer;
  /** Of the JPEG, px. */
  readonly width: number;
  readonly height: number;
}

/** Longest side of a thumbnail, px. */
const THUMBNAIL_PX = 360;
export const thumbnailOf = (jpeg: Uint8Array): Promise<Buffer> => smaller(jpeg, THUMBNAIL_PX);

/** Pixels that a picture may unfold to; phones take some hundred million at most. */
const MOST_PIXELS = 120e6;
/** How long one picture may be worked on, s. */
const MOST_SECONDS = 20;

/** Forms that are taken, told by their first bytes and never by a name. */
const FORMS: readonly { readonly form: "jpeg" | "png" | "webp" | "heic" | "pdf" | "svg"; readonly begins: RegExp }[] = [
  { form: "jpeg", begins: /^\xff\xd8\xff/ },
  { form: "png", begins: /^\x89PNG\r\n\x1a\n/ },
  { form: "webp", begins: /^RIFF[^]{4}WEBP/ },
  { form: "heic", begins: /^[^]{4}ftyp(heic|heix|hevc|heim|heis|mif1|msf1|avif)/ },
  { form: "pdf", begins: /^[^]{0,8}%PDF/ },
  { form: "svg", begins: /^\s*<(\?xml|svg|!)/i },
];

const REFUSED = {
  heic: "It is a HEIC picture, which browsers do not show. Set the camera to its most compatible form (JPEG), or share the picture as JPEG, and take it again.",
  pdf: "It is a PDF, whatever its name says. Take a picture of the page, or save the page as JPEG or PNG.",
  svg: "It is a drawing in SVG, which can hold more than a picture. Save it as PNG.",
} as const;

/** Throws AppError picture-refused with what it is and what to do. */
export function checkForm(bytes: Uint8Array): void {
  const head = Buffer.from(bytes.buffer, bytes.byteOffset, Math.min(bytes.length, 64)).toString("latin1");
  const form = FORMS.find((f) => f.begins.test(head))?.form;
  if (form === undefined)
    throw new AppError("picture-refused", { why: "It is no picture that can be read. JPEG, PNG and WebP are taken." });
  if (form in REFUSED) throw new AppError("picture-refused", { why: REFUSED[form as keyof typeof REFUSED] });
}

/** Reads a picture and makes what is kept of it. Throws AppError picture-refused. */
export async function preparePicture(bytes: Uint8Array): Promise<PreparedPicture> {
  checkForm(bytes);
  const { default: sharp } = await import("sharp");
  sharp.cache(false);
  try {
    const { data, info } = await sharp(bytes, { limitInputPixels: MOST_PIXELS, failOn: "truncated", sequentialRead: true })
      .timeout({ seconds: MOST_SECONDS })
      .autoOrient()
      // What shows through is white, as paper is.
      .flatten({ background: "#ffffff" })
      .resize({ width: LONGEST_SIDE_PX, height: LONGEST_SIDE_PX, fit: "inside", withoutEnlargement: true })
      .toColourspace("srgb")
      .jpeg({ quality: 80, mozjpeg: false })
      .toBuffer({ resolveWithObject: true });
    return { jpeg: data, thumbnail: await thumbnailOf(data), width: info.width, height: info.height };
  } catch (error) {
    throw refusalOf(error);
  }
}

/** A picture with its longest side cut down, px. `jpeg`: one that was prepared. */
export async function smaller(jpeg: Uint8Array, longestPx: number): Promise<Buffer> {
  const { default: sharp } = await import("sharp");
  return sharp(jpeg)
    .resize({ width: longestPx, height: longestPx, fit: "inside", withoutEnlargement: true })
    .jpeg({ quality: 74 })
    .toBuffer();
}

/** Whether a picture is one as it is kept here; another shop may send anything under that name. Throws AppError picture-refused. */
export async function checkPrepared(jpeg: Uint8Array): Promise<void> {
  const { default: sharp } = await import("sharp");
  const about = await sharp(jpeg, { limitInputPixels: LONGEST_SIDE_PX ** 2 })
    .metadata()
    .catch((error: unknown) => {
      throw refusalOf(error);
    });
  if (about.format !== "jpeg" || Math.max(about.width, about.height) > LONGEST_SIDE_PX)
    throw new AppError("picture-refused", { why: `It is no JPEG of ${LONGEST_SIDE_PX} px at most.` });
  if (about.exif !== undefined || about.xmp !== undefined || about.iptc !== undefined)
    throw new AppError("picture-refused", { why: "It still holds what a camera wrote into it, such as where it was taken." });
}

function refusalOf(error: unknown): AppError {
  const why = error instanceof Error ? error.message : String(error);
  if (/pixel limit/i.test(why))
    return new AppError("picture-refused", { why: `It unfolds to more than ${MOST_PIXELS / 1e6} million pixels, which no camera takes.` });
  if (/timeout/i.test(why)) return new AppError("picture-refused", { why: `It took longer than ${MOST_SECONDS} s to read.` });
  return new AppError("picture-refused", { why: "It is damaged or cut off. Take it again, or choose another." }, [], error);
}
