import { readdirSync, readFileSync } from "node:fs";
import { join } from "node:path";
import ts from "typescript";
import { describe, expect, it } from "vitest";

/**
 * The words on the screen, held against wordings that no grower would use (`banned-words.txt`, a regular expression a
 * line): every string of the web, of the crates and of the library that holds more than one word.
 */

const root = join(import.meta.dirname, "../..");
const banned = readFileSync(join(import.meta.dirname, "banned-words.txt"), "utf8")
  .trim()
  .split("\n")
  .map((line) => new RegExp(line, "i"));

interface Words {
  at: string;
  text: string;
}

const files = (folder: string, ending: RegExp) =>
  readdirSync(join(root, folder), { recursive: true, encoding: "utf8" })
    .filter((name) => ending.test(name) && !name.includes("schema.d"))
    .map((name) => join(folder, name));

const read = (file: string) => readFileSync(join(root, file), "utf8");

/** Text between tags and strings, as a person reads them: names of classes and of addresses are none. */
function ofScreen(file: string): Words[] {
  const found: Words[] = [];
  const source = ts.createSourceFile(file, read(file), ts.ScriptTarget.Latest, true, ts.ScriptKind.TSX);
  const visit = (node: ts.Node) => {
    if (ts.isImportDeclaration(node)) return;
    if (ts.isJsxAttribute(node) && /^(className|d|style|to|key|id|points)$/.test(node.name.getText())) return;
    if (ts.isTemplateExpression(node)) {
      const text = node.head.text + node.templateSpans.map((span) => `{}${span.literal.text}`).join("");
      found.push({ at: file, text });
    } else if (ts.isStringLiteralLike(node) || ts.isJsxText(node)) found.push({ at: file, text: node.text });
    ts.forEachChild(node, visit);
  };
  visit(source);
  return found;
}

/** Strings of Rust outside of comments and tests, those over several lines as one; SQL is none. */
function ofRust(file: string): Words[] {
  const code = (read(file).split("#[cfg(test)]")[0] ?? "")
    .replace(/^\s*\/\/.*$/gm, "")
    .replace(/\\\n\s*/g, "");
  return [...code.matchAll(/"((?:[^"\\\n]|\\.)*)"/g)]
    .map(([, text = ""]) =>
      text.replace(/\\u\{([0-9a-f]+)\}/g, (_, hex: string) => String.fromCodePoint(parseInt(hex, 16))),
    )
    .filter((text) => !/\b(SELECT|INSERT|UPDATE|CREATE)\b/.test(text))
    .map((text) => ({ at: file, text }));
}

function ofLibrary(file: string): Words[] {
  return [
    ...read(file)
      .replace(/^#.*$/gm, "")
      .matchAll(/"((?:[^"\\\n]|\\.)*)"/g),
  ].map(([, text = ""]) => ({ at: file, text }));
}

/** Crates whose words reach a person. */
const crates = ["facts", "kernels", "agronomy", "records", "planner", "ledger", "server"];

const all = [
  ...files("web/src", /\.tsx?$/).flatMap(ofScreen),
  ...crates.flatMap((crate) => files(`crates/${crate}/src`, /\.rs$/).flatMap(ofRust)),
  ...files("library", /\.toml$/).flatMap(ofLibrary),
]
  .map(({ at, text }) => ({ at, text: text.replace(/\s+/g, " ").trim() }))
  // One word alone is most often a name of the code.
  .filter(({ text }) => text.includes(" ") && /[a-z]{2}/.test(text))
  // A formula of a working, which is drawn with its own signs, and the name of a source.
  .filter(({ text }) => !/[×÷]|\d % [-+/]|\) \/ /.test(text) && !/\b(1[89]|20)\d\d\b/.test(text));

describe("the words of the product", () => {
  it("are all read", () => {
    expect(all.length).toBeGreaterThan(4_000);
  });

  it("are none that a grower would stumble over", () => {
    const hits = all.flatMap(({ at, text }) =>
      banned.filter((one) => one.test(text)).map((one) => `${at}: “${text}” (${one.source})`),
    );
    expect(hits).toEqual([]);
  });
});
