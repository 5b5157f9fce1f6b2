import type { Content, TableCell } from "pdfmake/interfaces";
import type { Report } from "@rheonom/core/job";
import { marksSvg } from "@rheonom/drawing/picture-marks";
import { smaller } from "../media/prepare-picture.ts";
import { FONT, heading } from "./paper.ts";

type Picture = Report["pictures"][number];
/** The bytes of a picture for paper, JPEG; undefined where the picture is not in this shop. */
export type PrintedPictures = ReadonlyMap<string, Buffer | undefined>;

/** Longest side on paper, px: some 220 a hand's breadth. */
const PRINTED_PX = 900;
/** Printable width and height of one of two beside each other, pt. */
const WIDTH = 250;
const HEIGHT = 230;

/** Pictures, each made small enough for paper. `read` gives what is kept under a name. */
export async function picturesForPaper(
  pictures: readonly Picture[],
  read: (hash: string) => Promise<Buffer | undefined>,
): Promise<PrintedPictures> {
  const made = new Map<string, Buffer | undefined>();
  for (const { hash } of pictures) {
    if (made.has(hash)) continue;
    const kept = await read(hash);
    made.set(hash, kept === undefined ? undefined : await smaller(kept, PRINTED_PX));
  }
  return made;
}

/** Before beside after, with their marks. */
export function picturesSection({ pictures, picturesLeftOut }: Report, printed: PrintedPictures): Content[] {
  if (pictures.length === 0)
    return picturesLeftOut === 0
      ? []
      : [
          heading("Pictures"),
          { text: `${picturesLeftOut} left out of this copy, since a plate or a face may be on them.`, style: "small" },
        ];
  const [first, ...others] = rowsOf(pictures, printed);
  // No heading stands alone at the foot of a page.
  return [{ unbreakable: true, stack: [heading("Pictures"), grid([first!])] }, ...(others.length === 0 ? [] : [grid(others)])];
}

/** Two in a row; a pair is never torn apart. */
export const pictureRows = (pictures: readonly Picture[], printed: PrintedPictures, heightPt = HEIGHT): Content =>
  grid(rowsOf(pictures, printed, heightPt));

const grid = (body: TableCell[][]): Content => ({ layout: "noBorders", table: { widths: ["*", "*"], dontBreakRows: true, body } });

function rowsOf(pictures: readonly Picture[], printed: PrintedPictures, heightPt = HEIGHT): TableCell[][] {
  const rows: TableCell[][] = [];
  let open: TableCell | undefined;
  pictures.forEach((p, i) => {
    const cell = pictureCell(p, printed.get(p.hash), heightPt);
    const isPair = p.when === "before" && pictures[i + 1]?.when === "after" && pictures[i + 1]?.place === p.place;
    if (open === undefined) open = cell;
    else if (isPair) {
      rows.push([open, ""]);
      open = cell;
    } else {
      rows.push([open, cell]);
      open = undefined;
    }
  });
  if (open !== undefined) rows.push([open, ""]);
  return rows;
}

function pictureCell(p: Picture, jpeg: Buffer | undefined, heightPt: number): TableCell {
  const words = [p.when === "before" ? "Before the repair" : "After the repair", p.place].filter((w) => w !== "").join(", ");
  const shown: Content[] =
    jpeg === undefined ? [{ text: "(This picture is not in this shop.)" }] : [{ svg: pictureSvg(p, jpeg), fit: [WIDTH, heightPt] }];
  return {
    margin: [0, 0, 0, 8],
    stack: [
      ...shown,
      { text: words, bold: true },
      ...[p.caption, p.reading ?? ""].flatMap((text) => (text === "" ? [] : [{ text }])),
      { text: p.by, style: "small" },
    ],
  };
}

/** A picture and its marks as one drawing. */
function pictureSvg({ width, height, marks }: Picture, jpeg: Buffer): string {
  const uri = `data:image/jpeg;base64,${jpeg.toString("base64")}`;
  return `<svg xmlns="http://www.w3.org/2000/svg" xmlns:xlink="http://www.w3.org/1999/xlink" width="${width}" height="${height}" viewBox="0 0 ${width} ${height}"><image xlink:href="${uri}" x="0" y="0" width="${width}" height="${height}"/>${marksSvg(marks, width, height, FONT)}</svg>`;
}
