import { createRequire } from "node:module";
import { dirname, join } from "node:path";
import type * as pdfmake from "pdfmake";
import type { Content, TableCell, TDocumentDefinitions } from "pdfmake/interfaces";

type Pdfmake = typeof pdfmake;

const require = createRequire(import.meta.url);
export const FONT = "DejaVu Sans";

let printer: Pdfmake | undefined;

/** Loads the printer once, with fonts that hold Ω, µ and −, and with no way to the network or to other files. */
function loadPrinter(): Pdfmake {
  if (printer !== undefined) return printer;
  const folder = join(dirname(require.resolve("dejavu-fonts-ttf/package.json")), "ttf");
  const made = require("pdfmake") as Pdfmake;
  const face = (name: string): string => join(folder, `${name}.ttf`);
  made.setFonts({
    [FONT]: {
      normal: face("DejaVuSans"),
      bold: face("DejaVuSans-Bold"),
      italics: face("DejaVuSans-Oblique"),
      bolditalics: face("DejaVuSans-BoldOblique"),
    },
  });
  made.setUrlAccessPolicy(() => false);
  made.setLocalAccessPolicy((path) => path.startsWith(folder));
  return (printer = made);
}

/** What stands on paper, whichever form it is given: A4, or a page for a browser. */
export interface Paper {
  readonly title: string;
  /** Left end of the footer. */
  readonly foot: string;
  /** ISO 8601. */
  readonly madeAt: string;
  readonly content: Content[];
}

/** Prints on A4: margins, type and a footer are the same for everything on paper. */
export function printPaper({ title, foot, madeAt, content }: Paper, landscape = false): Promise<Buffer> {
  const document: TDocumentDefinitions = {
    info: { title, creator: "Rheonom" },
    pageSize: "A4",
    pageOrientation: landscape ? "landscape" : "portrait",
    pageMargins: [40, 44, 40, 48],
    defaultStyle: { font: FONT, fontSize: 9, lineHeight: 1.25 },
    styles: {
      title: { fontSize: 17, bold: true, margin: [0, 0, 0, 2] },
      h2: { fontSize: 12, bold: true, margin: [0, 14, 0, 4] },
      small: { fontSize: 7.5, color: "#4c565e" },
      head: { bold: true, fontSize: 8, color: "#333b41" },
    },
    footer: (page, pages) => ({
      margin: [40, 12, 40, 0],
      style: "small",
      columns: [{ text: foot }, { text: `made ${timeWords(madeAt)} · page ${page} of ${pages}`, alignment: "right" }],
    }),
    content,
    // No heading stands alone at the foot of a page.
    pageBreakBefore: (node, nodes) => node.style === "h2" && nodes.getFollowingNodesOnPage().length === 0,
  };
  return loadPrinter().createPdf(document).getBuffer();
}

/** Local time of the shop, whose server this is. */
export const timeWords = (iso: string): string => SHOP_TIME.format(new Date(iso));
// Making one takes longer than using it a hundred times.
const SHOP_TIME = new Intl.DateTimeFormat("en-GB", { dateStyle: "medium", timeStyle: "short", timeZoneName: undefined });

/** Begins a part, which the bookmarks name. */
export const heading = (text: string): Content => ({ text, style: "h2", outline: true });

/** Rows of name and value; empty values are left out. */
export function facts(rows: readonly (readonly [string, string])[]): Content {
  const body: TableCell[][] = rows
    .filter(([, value]) => value !== "")
    .map(([name, value]) => [{ text: name, style: "head" }, { text: value }]);
  return body.length === 0 ? [] : { layout: "noBorders", table: { widths: [110, "*"], body } };
}

export function table(
  heads: readonly string[],
  widths: readonly (number | string)[],
  rows: readonly (readonly string[])[],
  struck?: readonly boolean[],
): Content {
  const body: TableCell[][] = [heads.map((text) => ({ text, style: "head" }))];
  // A stack of nothing is laid out several times quicker than a text of nothing.
  rows.forEach((row, i) =>
    body.push(
      row.map((text) =>
        text === "" ? { stack: [] } : struck?.[i] === true ? { text, decoration: "lineThrough", color: "#5b666f" } : { text },
      ),
    ),
  );
  return {
    layout: "lightHorizontalLines",
    fontSize: 8,
    table: { headerRows: 1, keepWithHeaderRows: 1, dontBreakRows: true, widths: [...widths], body },
  };
}
