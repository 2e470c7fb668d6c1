import type { Issue, IssueReport } from '../issue/index.js';
import { linesOf, reportIssue } from '../issue/index.js';
import { DOCUMENT_KINDS, type DocumentKind, parseDocuments, type TextDocument } from '../text/index.js';
import { checkLinks } from './link.js';
import { readObject } from './read-object.js';
import type { SourceDocument, SourceFile, Workspace, WorkspaceObject } from './workspace.js';

/** Of a file with a million bad entries, this many are reported. */
const MOST_LISTED = 1000;

/** The objects of some files, before they are linked with those of others. */
export interface ReadFiles {
  readonly files: readonly SourceFile[];
  readonly objects: readonly ReadObject[];
  /** The documents of the files, in their order. */
  readonly documents: readonly SourceDocument[];
  readonly issues: readonly Issue[];
}

interface ReadObject {
  readonly object: WorkspaceObject;
  readonly source: SourceDocument;
  /** Tells the issue of a second object of the same name; `first` is the file of the first. */
  readonly duplicate: (first: string) => Issue;
}

export interface ReadWorkspace {
  readonly workspace: Workspace;
  readonly documents: readonly SourceDocument[];
  /** The problems of every file, in the order of the files and of their lines: the first thousand, where there are more. */
  readonly issues: readonly IssueReport[];
  /** How many problems there are in all; zero where the workspace holds. */
  readonly issueCount: number;
}

/** Reads and links the files of a workspace. Where there are issues, the workspace is good for further checks and for nothing else. */
export function readWorkspace(files: readonly SourceFile[]): ReadWorkspace {
  return linkFiles([readFiles(files)]);
}

/** Reads files, each document by itself: what it names is not looked up yet. */
export function readFiles(files: readonly SourceFile[]): ReadFiles {
  const issues: Issue[] = [];
  const objects = files.flatMap((file) =>
    parseDocuments(file.name, file.text, issues).flatMap((document) => readSource(document, file)),
  );
  return { files, objects, documents: objects.map(({ source }) => source), issues };
}

/** Links what several readings hold into one workspace, and looks up every name. */
export function linkFiles(readings: readonly ReadFiles[]): ReadWorkspace {
  const byKind = new Map(DOCUMENT_KINDS.map((kind) => [kind, new Map<string, WorkspaceObject>()]));
  const documents: SourceDocument[] = [];
  const issues = readings.flatMap((reading) => reading.issues);
  for (const { object, source, duplicate } of readings.flatMap((reading) => reading.objects)) {
    const known = byKind.get(object.type) as Map<string, WorkspaceObject>;
    const first = known.get(object.name);
    if (first) issues.push(duplicate(first.file));
    else {
      known.set(object.name, object);
      documents.push(source);
    }
  }
  const workspace = workspaceOf(byKind);
  // One by one, since a list may have more problems than a call takes arguments.
  for (const issue of checkLinks(workspace)) issues.push(issue);
  const files = readings.flatMap((reading) => reading.files);
  return { workspace, documents, issues: inFileOrder(issues, files), issueCount: issues.length };
}

function workspaceOf(byKind: ReadonlyMap<DocumentKind, ReadonlyMap<string, WorkspaceObject>>): Workspace {
  // The reader of each kind gives objects of that kind alone.
  const all = <T extends WorkspaceObject>(kind: T['type']) => byKind.get(kind) as ReadonlyMap<string, T>;
  return {
    policies: all('policy'),
    lists: all('list'),
    categories: all('category'),
    applications: all('application'),
    schedules: all('schedule'),
    notices: all('notice'),
    corrections: all('corrections'),
    probes: all('probe'),
    checks: all('check'),
  };
}

function readSource(document: TextDocument, file: SourceFile): ReadObject[] {
  const object = readObject(document);
  if (object === undefined) return [];
  const { type: kind, name } = object;
  const { start } = document.root.span;
  const at = { file: file.name, span: { start, end: start + 1 }, path: document.root.path };
  const duplicate = (first: string): Issue => ({ code: 'duplicate-document', kind, name, first, ...at });
  return [{ object, source: { kind, name, file: file.name, text: textOf(document, file.text) }, duplicate }];
}

function textOf(document: TextDocument, text: string): string {
  const own = text.slice(document.span.start, document.span.end);
  return `${own
    .replace(/^(?:---[^\n]*\n|\s*\n)+/, '')
    .replace(/\n(?:---|\.\.\.)\s*$/, '')
    .trimEnd()}\n`;
}

function inFileOrder(issues: readonly Issue[], files: readonly SourceFile[]): IssueReport[] {
  // The lines of a list of a million entries are not counted for nothing.
  if (issues.length === 0) return [];
  const order = new Map(files.map((file, index) => [file.name, index]));
  const texts = new Map(files.map((file) => [file.name, linesOf(file.text)]));
  const nothing = linesOf('');
  const place = (issue: Issue) => order.get(issue.file) ?? files.length;
  return [...issues]
    .sort((a, b) => place(a) - place(b) || a.span.start - b.span.start)
    .slice(0, MOST_LISTED)
    .map((issue) => reportIssue(issue, texts.get(issue.file) ?? nothing));
}
