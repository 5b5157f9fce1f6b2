import { expect } from "chai";
import { readdirSync, readFileSync } from "node:fs";
import { join } from "node:path";
import { fileURLToPath } from "node:url";

const root = fileURLToPath(new URL("../../../../", import.meta.url));

/** Every file below a folder. */
const below = (folder: string): readonly string[] =>
  readdirSync(join(root, folder), { withFileTypes: true }).flatMap((e) =>
    e.name === "node_modules" || e.name === "dist" ? [] : e.isDirectory() ? below(join(folder, e.name)) : [join(folder, e.name)],
  );

describe("words", () => {
  const table = readFileSync(join(root, "docs/words.md"), "utf8").split("## Words that may not come back")[1]!;
  const unwanted = table
    .split("\n")
    .filter((l) => l.startsWith("| ") && !l.startsWith("| not ") && !l.startsWith("| ---"))
    .map((l) => l.split("|")[1]!.trim());
  it("that were given up have not come back, in no text of the sources and docs", () => {
    expect(unwanted.length).to.be.above(50);
    const files = ["packages", "apps", "docs", "e2e", "scripts"].flatMap(below);
    const texts = [...files, "README.md"].filter((f) => /\.(ts|tsx|mjs|md)$/.test(f) && !/words(\.test)?\.(md|ts)$/.test(f));
    expect(texts.length).to.be.above(300);
    const found = texts.flatMap((f) => {
      const text = readFileSync(join(root, f), "utf8");
      return unwanted.filter((w) => text.includes(w)).map((w) => `${f}: ${w}`);
    });
    expect(found).to.deep.equal([]);
  });
});
