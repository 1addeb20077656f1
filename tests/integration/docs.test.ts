import { existsSync, readdirSync, readFileSync } from "node:fs";
import { dirname, join } from "node:path";
import { describe, expect, it } from "vitest";
import commands from "../../scripts/launch/commands.json";
import { CODECS } from "../../src/wire/formats";

/** What is written about the program: it can be read, and what it names is there. */
const root = new URL("../..", import.meta.url).pathname;
const documents = ["README.md", ...readdirSync(join(root, "docs")).filter((f) => f.endsWith(".md")).map((f) => `docs/${f}`)]; // prettier-ignore
const textOf = (f: string) => readFileSync(join(root, f), "utf8");

/** Lines of running text, without code and tables. */
function prose(text: string): { line: number; words: string }[] {
  let code = false;
  return text.split("\n").flatMap((words, i) => {
    if (words.trim().startsWith("```")) code = !code;
    return code || words.trim().startsWith("|") ? [] : [{ line: i + 1, words }];
  });
}

describe.each(documents)("%s", (f) => {
  it("has lines that fit a reader's window: prose of 120 characters at most", () => {
    expect(prose(textOf(f)).filter(({ words }) => words.length > 120)).toEqual([]);
  });

  it("leads only to files that are there", () => {
    const links = [...textOf(f).matchAll(/\]\(([^)#\s]+)(?:#[^)]*)?\)/g)].map((m) => m[1]).filter((l) => !/^[a-z]+:/.test(l));
    expect(links.filter((l) => !existsSync(join(root, dirname(f), l)))).toEqual([]);
  });

  it("names files of the program that are there", () => {
    const named = [...textOf(f).matchAll(/`((?:src|core|client|engine|wire|recipe|media|render|e2e|tests|demo|benchmarks)\/[\w./-]+\.(?:ts|tsx|mjs))`/g)].map((m) => m[1]); // prettier-ignore
    const there = (p: string) => ["", "src", "src/engine"].some((d) => existsSync(join(root, d, p)));
    expect(named.filter((p) => !there(p))).toEqual([]);
  });
});

it("README has every command of the command line and every film format by its name", () => {
  const text = textOf("README.md");
  expect(Object.keys(commands).filter((c) => !text.includes(`./umber ${c}`))).toEqual([]);
  expect(CODECS.filter((c) => !new RegExp(c === "tiff" ? "tif" : c, "i").test(text))).toEqual([]);
});
