import type { Span } from "./problem.ts";

/** One item of a chain, such as "RD 16 1.2" or "F3(60A)", trimmed, with its place in the text. */
export interface Item extends Span {
  readonly text: string;
  /** A quote or parenthesis in it is not closed, so that its words mean nothing. */
  readonly broken: boolean;
}

/** Items that are joined by "--". */
export type Chain = readonly Item[];

export interface Complaint {
  readonly code: string;
  readonly message: string;
  readonly span: Span;
}

type Token =
  | { readonly kind: "item"; readonly item: Item }
  | { readonly kind: "join"; readonly span: Span }
  | { readonly kind: "line" }
  | { readonly kind: "stop" };

const isJoin = (text: string, at: number): boolean =>
  text[at] === "–" || text[at] === "—" || (text[at] === "-" && text[at + 1] === "-" && text[at - 1] !== ".");

/**
 * Where an item that starts at `from` ends: quotes and parentheses hold separators together, but not over a line. A "--" inside
 * parentheses means that one was not closed.
 */
function endOfItem(text: string, from: number, complaints: Complaint[]): { readonly end: number; readonly broken: boolean } {
  let open = -1;
  let quote = -1;
  let i = from;
  for (; i < text.length && text[i] !== "\n"; i++) {
    if (quote >= 0) {
      if (text[i] === '"') quote = -1;
    } else if (text[i] === '"') quote = i;
    else if (text[i] === "(" && open < 0) open = i;
    else if (text[i] === ")") open = -1;
    else if (isJoin(text, i) || (open < 0 && (text[i] === "#" || text[i] === ";"))) break;
  }
  if (quote >= 0)
    complaints.push({ code: "open-quote", message: 'This quote is not closed on its line. Add a ".', span: { start: quote, end: i } });
  else if (open >= 0)
    complaints.push({ code: "open-parenthesis", message: 'This parenthesis is not closed. Add a ")".', span: { start: open, end: i } });
  return { end: i, broken: quote >= 0 || open >= 0 };
}

function tokensOf(text: string, complaints: Complaint[]): Token[] {
  const tokens: Token[] = [];
  for (let i = 0; i < text.length;) {
    const c = text[i]!;
    if (c === "\n") {
      tokens.push({ kind: "line" });
      i++;
    } else if (c === ";") {
      tokens.push({ kind: "stop" });
      i++;
    } else if (c === "#") {
      const end = text.indexOf("\n", i);
      i = end < 0 ? text.length : end;
    } else if (isJoin(text, i)) {
      const end = c === "-" ? i + 2 : i + 1;
      tokens.push({ kind: "join", span: { start: i, end } });
      i = end;
    } else if (c.trim() === "") {
      i++;
    } else {
      const { end, broken } = endOfItem(text, i, complaints);
      const trimmed = text.slice(i, end).trimEnd();
      tokens.push({ kind: "item", item: { text: trimmed, start: i, end: i + trimmed.length, broken } });
      i = end;
    }
  }
  return tokens;
}

/**
 * Cuts a text into chains of items. A chain ends at a line's end or at ";", unless the line ends with "--" or the next
 * one begins with it. "#" starts a comment.
 */
export function splitChains(text: string): { readonly chains: readonly Chain[]; readonly complaints: readonly Complaint[] } {
  const complaints: Complaint[] = [];
  const chains: Item[][] = [];
  let chain: Item[] = [];
  let join: Span | undefined;
  const empty = (span: Span): void => {
    const message = 'Nothing stands beside this "--". Name a wire or a part there.';
    complaints.push({ code: "empty-item", message, span });
  };
  const endChain = (): void => {
    if (join !== undefined) {
      const message = 'The chain ends with "--". Name the part it leads to, such as a ground: G1.';
      complaints.push({ code: "dangling-join", message, span: join });
    }
    join = undefined;
    if (chain.length > 0) chains.push(chain);
    chain = [];
  };

  const tokens = tokensOf(text, complaints);
  for (let t = 0; t < tokens.length; t++) {
    const token = tokens[t]!;
    if (token.kind === "item") {
      chain.push(token.item);
      join = undefined;
    } else if (token.kind === "join") {
      if (join !== undefined || chain.length === 0) empty(token.span);
      join = token.span;
    } else if (token.kind === "stop") {
      endChain();
    } else {
      const next = tokens.slice(t + 1, t + 50).find((n) => n.kind !== "line");
      if (join === undefined && next?.kind !== "join") endChain();
    }
  }
  endChain();
  return { chains, complaints };
}
