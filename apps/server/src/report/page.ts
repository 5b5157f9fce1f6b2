import { escapeXml } from "@rheonom/drawing/svg";
import { timeWords, type Paper } from "./paper.ts";

const STYLE = `
  body { margin: 0 auto; max-width: 60rem; padding: 1.5rem; font: 1rem/1.45 "DejaVu Sans", Verdana, sans-serif; color: #14191d; background: #fff; }
  h1 { font-size: 1.7rem; margin: 0 0 0.2rem; }
  h2 { font-size: 1.2rem; margin: 1.6rem 0 0.4rem; break-after: avoid; }
  p { margin: 0 0 0.4rem; }
  .small { font-size: 0.85rem; color: #4c565e; }
  .keep, tr, figure { break-inside: avoid; }
  figure { margin: 0.3rem 0; }
  img { max-width: 100%; height: auto; }
  .wide { overflow-x: auto; }
  table { border-collapse: collapse; width: 100%; margin: 0.2rem 0 0.6rem; }
  th, td { text-align: left; vertical-align: top; padding: 0.25rem 0.6rem 0.25rem 0; }
  .lines th, .lines td { border-bottom: 1px solid #c3cad0; font-size: 0.9rem; }
  .facts th { width: 11rem; font-weight: 600; color: #333b41; }
  footer { margin-top: 2rem; border-top: 1px solid #c3cad0; padding-top: 0.5rem; }
  @page { margin: 14mm; }
  @media print { body { max-width: none; padding: 0; font-size: 9pt; } thead { display: table-header-group; } }
`;

/** Nothing is fetched, and nothing runs. */
export const PAGE_POLICY = "default-src 'none'; style-src 'unsafe-inline'; img-src data:";

/** A paper as one HTML file that needs nothing beside it: the same content as its PDF. */
export function pageOf({ title, foot, madeAt, content }: Paper): string {
  return `<!doctype html>
<html lang="en-GB">
<head>
<meta charset="utf-8">
<meta name="viewport" content="width=device-width, initial-scale=1">
<meta http-equiv="Content-Security-Policy" content="${PAGE_POLICY}">
<title>${escapeXml(title)}</title>
<style>${STYLE}</style>
</head>
<body>
<main>
${htmlOf(content as Node)}
</main>
<footer class="small">${escapeXml(foot)} · made ${escapeXml(timeWords(madeAt))}</footer>
</body>
</html>
`;
}

/** The kinds of content that papers are made of. */
interface Made {
  readonly text?: Node;
  readonly style?: unknown;
  readonly bold?: unknown;
  readonly decoration?: unknown;
  readonly stack?: readonly Node[];
  readonly ul?: readonly Node[];
  readonly svg?: string;
  readonly table?: { readonly body: readonly (readonly Node[])[]; readonly headerRows?: number };
}
type Node = string | number | Made | readonly Node[];
const isList = (node: Node): node is readonly Node[] => Array.isArray(node);

/** Throws RangeError for what papers are not made of, so that nothing is left out in silence. */
function htmlOf(node: Node): string {
  if (isList(node)) return node.map(htmlOf).join("\n");
  if (typeof node !== "object") return lines(String(node));
  if (node.stack !== undefined) return node.stack.length === 0 ? "" : `<div class="keep">${htmlOf(node.stack)}</div>`;
  if (node.ul !== undefined) return `<ul>${node.ul.map((item) => `<li>${htmlOf(item)}</li>`).join("")}</ul>`;
  if (node.svg !== undefined) return figure(node.svg);
  if (node.table !== undefined) return tableOf(node.table.body, node.table.headerRows ?? 0);
  if (node.text !== undefined) return paragraph(node);
  throw new RangeError(`no HTML for ${Object.keys(node).join(", ")}`);
}

function paragraph(node: Made): string {
  switch (node.style) {
    case "title":
      return `<h1>${runs(node)}</h1>`;
    case "h2":
      return `<h2>${runs(node)}</h2>`;
    case "small":
      return `<p class="small">${runs(node)}</p>`;
    default:
      return `<p>${runs(node)}</p>`;
  }
}

/** Text with what is bold or struck in it, without a paragraph of its own. */
function runs(node: Node): string {
  if (isList(node)) return node.map(runs).join("");
  if (typeof node !== "object") return lines(String(node));
  if (node.text === undefined) return htmlOf(node);
  const inner = runs(node.text);
  const strong = node.bold === true ? `<strong>${inner}</strong>` : inner;
  return node.decoration === "lineThrough" ? `<s>${strong}</s>` : strong;
}

const lines = (text: string): string => escapeXml(text).replaceAll("\n", "<br>");

/** A drawing as an image of its own, so that names inside it meet no others. What it says is its text. */
function figure(svg: string): string {
  const said = [...svg.matchAll(/<text[^>]*>([^<]*)</g)].map(([, text]) => text!).join(" ");
  return `<figure><img alt="Drawing: ${said.replaceAll('"', "&quot;").slice(0, MOST_SAID)}" src="data:image/svg+xml;base64,${Buffer.from(svg).toString("base64")}"></figure>`;
}
/** Characters that the text in place of a drawing has at most. */
const MOST_SAID = 600;

function tableOf(body: readonly (readonly Node[])[], headRows: number): string {
  const isHead = (c: Node): boolean => typeof c === "object" && !isList(c) && c.style === "head";
  const row = (cells: readonly Node[], head: string): string =>
    `<tr>${cells.map((c) => (isHead(c) ? `<th scope="${head}">${runs(c)}</th>` : `<td>${runs(c)}</td>`)).join("")}</tr>`;
  const heads = body.slice(0, headRows).map((r) => row(r, "col"));
  const rest = body.slice(headRows).map((r) => row(r, "row"));
  return `<div class="wide"><table class="${headRows === 0 ? "facts" : "lines"}">${heads.length === 0 ? "" : `<thead>${heads.join("")}</thead>`}<tbody>${rest.join("")}</tbody></table></div>`;
}
