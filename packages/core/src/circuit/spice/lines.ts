/** One statement of a SPICE file: its words, and the line it begins on, counting from 1. */
export interface Statement {
  readonly line: number;
  readonly words: readonly string[];
}

/**
 * Cuts a file into statements: the first line is the title, "*" begins a comment line and ";" or "$ " a comment at the end, "+" goes on with the line
 * before. Parentheses, commas and "=" stand as words of their own or vanish, so that "PULSE(0 5)" and "PULSE 0 5" read alike.
 */
export function spiceStatements(text: string): { readonly title: string; readonly statements: readonly Statement[] } {
  const lines = text.split(/\r?\n/);
  const joined: { line: number; text: string }[] = [];
  for (let i = 1; i < lines.length; i++) {
    const bare = lines[i]!.replace(/(;|\$\s).*$/, "").trim();
    if (bare === "" || bare.startsWith("*")) continue;
    if (bare.startsWith("+") && joined.length > 0) joined[joined.length - 1]!.text += ` ${bare.slice(1)}`;
    else joined.push({ line: i + 1, text: bare });
  }
  const statements: Statement[] = [];
  for (const { line, text: said } of joined) {
    const words = said
      .replace(/=/g, " = ")
      .replace(/[(),]/g, " ")
      .split(/\s+/)
      .filter((w) => w !== "");
    if (/^\.end$/i.test(words[0] ?? "")) break;
    if (words.length > 0) statements.push({ line, words });
  }
  return { title: lines[0] ?? "", statements };
}
