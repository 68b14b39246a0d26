import { readdirSync, readFileSync } from 'node:fs';
import { join } from 'node:path';
import { fileURLToPath } from 'node:url';
import ts from 'typescript';

const SRC = fileURLToPath(new URL('../../src/', import.meta.url));
/** What a person never reads: the log of the server, the demo's own lines, the words of files and addresses. */
const UNREAD = /^server\/(?:demo|archive|store)|^standins|^contract\/(?:endpoints|openapi)/;

export interface Sentence {
  file: string;
  text: string;
}

/** A list of classes, a question to the database, markup: text, but no words. */
const NO_WORDS =
  /^\s*(?:SELECT|CREATE|INSERT|UPDATE|DELETE|PRAGMA|WITH|<!doctype)\b|(?:^| )(?:flex|grid|block|relative|inline-flex|act|act-quiet|cursor-\S+|min-[wh]-\S+|rounded\S*|text-\S+|border\S*)(?: |$)/;

/** Every text in the sources that a person may read: it has a blank in it, or begins with a capital letter. */
export function sentencesOfSources(): Sentence[] {
  const found: Sentence[] = [];
  for (const name of readdirSync(SRC, { recursive: true }) as string[]) {
    if (!/\.tsx?$/.test(name) || UNREAD.test(name)) continue;
    const source = ts.createSourceFile(
      name,
      readFileSync(join(SRC, name), 'utf8'),
      ts.ScriptTarget.Latest,
      true,
    );
    const visit = (node: ts.Node): void => {
      const text = textOf(node);
      if (
        text &&
        !NO_WORDS.test(text) &&
        (/[a-z,.] |^[A-Z][a-z]/.test(text) || /^ .*[a-z]/.test(text))
      )
        found.push({ file: name, text: text.replaceAll(/\s+/g, ' ').trim() });
      ts.forEachChild(node, visit);
    };
    visit(source);
  }
  return found;
}

function textOf(node: ts.Node): string | null {
  if (ts.isStringLiteralLike(node))
    return ts.isImportDeclaration(node.parent) || ts.isLiteralTypeNode(node.parent)
      ? null
      : node.text;
  if (ts.isJsxText(node)) return node.text;
  return ts.isTemplateHead(node) || ts.isTemplateMiddle(node) || ts.isTemplateTail(node)
    ? node.text
    : null;
}
