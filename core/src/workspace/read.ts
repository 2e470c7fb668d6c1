import type { Issue, IssueReport } from '../issue/index.js';
import { reportIssue } from '../issue/index.js';
import { checkIncludes, type List, readList } from '../list/index.js';
import { checkCovers, checkPolicyReferences, type Policy, readPolicy } from '../policy/index.js';
import { parseDocuments, type TextDocument } from '../text/index.js';
import type { SourceDocument, SourceFile, Workspace } from './workspace.js';

export interface ReadWorkspace {
  readonly workspace: Workspace;
  readonly documents: readonly SourceDocument[];
  /** Every problem of every file, in the order of the files and of their lines. Empty where the workspace holds. */
  readonly issues: readonly IssueReport[];
}

/** Reads the files of a workspace. Where there are issues, the workspace is good for further checks and for nothing else. */
export function readWorkspace(files: readonly SourceFile[]): ReadWorkspace {
  const issues: Issue[] = [];
  const policies = new Map<string, Policy>();
  const lists = new Map<string, List>();
  const documents: SourceDocument[] = [];
  for (const file of files)
    for (const document of parseDocuments(file.name, file.text, issues)) {
      const object = document.kind === 'policy' ? readPolicy(document) : readList(document);
      if (object === undefined) continue;
      const known: Map<string, Policy | List> = object.type === 'policy' ? policies : lists;
      const first = known.get(object.name);
      if (first) tellDuplicate(document, object, first.file);
      else {
        known.set(object.name, object);
        documents.push({ kind: object.type, name: object.name, file: file.name, text: textOf(document, file.text) });
      }
    }
  issues.push(...checkIncludes(lists));
  for (const policy of policies.values()) issues.push(...checkPolicyReferences(policy, lists));
  issues.push(...checkCovers([...policies.values()], lists));
  return { workspace: { policies, lists }, documents, issues: inFileOrder(issues, files) };
}

function tellDuplicate(document: TextDocument, object: Policy | List, first: string): void {
  const place = { ...document.root, span: { start: document.root.span.start, end: document.root.span.start + 1 } };
  document.sink.add(place, { code: 'duplicate-document', kind: object.type, name: object.name, first });
}

function textOf(document: TextDocument, text: string): string {
  const own = text.slice(document.span.start, document.span.end);
  return `${own
    .replace(/^(?:---[^\n]*\n|\s*\n)+/, '')
    .replace(/\n(?:---|\.\.\.)\s*$/, '')
    .trimEnd()}\n`;
}

function inFileOrder(issues: readonly Issue[], files: readonly SourceFile[]): IssueReport[] {
  const order = new Map(files.map((file, index) => [file.name, index]));
  const texts = new Map(files.map((file) => [file.name, file.text]));
  const place = (issue: Issue) => order.get(issue.file) ?? files.length;
  return [...issues]
    .sort((a, b) => place(a) - place(b) || a.span.start - b.span.start)
    .map((issue) => reportIssue(issue, texts.get(issue.file) ?? ''));
}
