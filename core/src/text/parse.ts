import { Composer, type Document, isMap, isScalar, Parser, type YAMLError, type YAMLMap } from 'yaml';
import type { Fault, Issue, Span } from '../issue/index.js';
import { suggest } from '../issue/index.js';
import { notTooDeep } from './depth.js';
import { type Place, Sink } from './place.js';
import { cutRuns } from './runs.js';

/** One document of a file: its kind (`policy`, `list`), its name, and its map. */
export interface TextDocument {
  readonly kind: DocumentKind;
  readonly root: Place & { readonly node: YAMLMap };
  readonly sink: Sink;
  /** The document's range in the file, from the end of the previous document on. */
  readonly span: Span;
}

export type DocumentKind = (typeof DOCUMENT_KINDS)[number];
export const DOCUMENT_KINDS = [
  ...(['policy', 'list', 'category', 'application', 'schedule', 'notice', 'corrections', 'probe', 'check'] as const),
] as const;

const LARGEST_FILE = 64 * 1024 * 1024;

/** Parts a file of YAML 1.2 into its documents. Those that are no documents of ours are issues of the sink. */
export function parseDocuments(file: string, text: string, issues: Issue[]): TextDocument[] {
  const { text: parsed, runs } = cutRuns(text);
  const sink = new Sink(file, issues, { text, runs });
  const whole = { start: 0, end: Math.min(text.length, 1) };
  if (text.length > LARGEST_FILE) return refuse(sink, whole, { code: 'too-large', limit: LARGEST_FILE });
  const composer = new Composer({ version: '1.2', uniqueKeys: false, logLevel: 'error' });
  const found: TextDocument[] = [];
  let start = 0;
  let tooDeep = false;
  const tokens = notTooDeep(new Parser().parse(parsed), () => {
    tooDeep = true;
  });
  for (const document of composer.compose(tokens, false, text.length)) {
    found.push(...readDocument(document, sink, text, start));
    start = document.range[2];
  }
  if (tooDeep) refuse(sink, { start, end: start + 1 }, { code: 'too-deep' });
  return found;
}

function refuse(sink: Sink, span: Span, fault: Fault): TextDocument[] {
  sink.add({ node: null, span, path: [] }, fault);
  return [];
}

function readDocument(document: Document.Parsed, sink: Sink, text: string, start: number): TextDocument[] {
  for (const error of document.errors) sink.add(placeOf(error), syntaxFault(error, text));
  const node = document.contents;
  if (node === null || (isScalar(node) && node.value === null)) return [];
  const span = { start: node.range[0], end: node.range[1] };
  const place: Place = { node, span, path: [] };
  if (!isMap(node)) {
    sink.wrongShape(place, 'map');
    return [];
  }
  const first = node.items[0]?.key;
  const found = isScalar(first) ? String(first.source ?? first.value) : '';
  const kind = DOCUMENT_KINDS.find((known) => known === found);
  if (kind === undefined) {
    const at = isScalar(first) && first.range ? { start: first.range[0], end: first.range[1] } : span;
    sink.add(
      { ...place, span: at },
      {
        code: 'unknown-document',
        found,
        known: DOCUMENT_KINDS,
        suggestion: suggest(found, DOCUMENT_KINDS),
      },
    );
    return [];
  }
  return [{ kind, root: { ...place, node }, sink, span: { start, end: document.range[2] } }];
}

function placeOf(error: YAMLError): Place {
  return { node: null, span: { start: error.pos[0], end: error.pos[1] }, path: [] };
}

function syntaxFault(error: YAMLError, text: string): Fault {
  if (error.code === 'BAD_ALIAS') return { code: 'alias', text: text.slice(error.pos[0], error.pos[1]) };
  return { code: 'syntax', detail: error.message.replace(/\.$/, '') };
}
