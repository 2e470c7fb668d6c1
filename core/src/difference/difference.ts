import { createTwoFilesPatch, FILE_HEADERS_ONLY } from 'diff';
import type { DocumentKind } from '../text/index.js';
import { objectSentence, type Workspace, type WorkspaceObject, workspaceObjects } from '../workspace/index.js';
import { counted, listWords } from './list.js';
import { policyWords } from './policy.js';
import { textWords } from './words.js';

/** One object that differs between two states of a workspace. */
export interface Difference {
  readonly kind: DocumentKind;
  readonly name: string;
  readonly change: 'added' | 'changed' | 'removed';
  /** The changes, a sentence each; empty when only comments or the spelling changed. */
  readonly words: readonly string[];
}

/** An object of a state, with its text. */
export interface WrittenObject {
  readonly kind: DocumentKind;
  readonly name: string;
  /** Null where it is not looked at, as of long lists: it is another one then. */
  readonly text: string | null;
}

/** A state of a workspace, with the texts of its objects. */
export interface WrittenWorkspace {
  readonly workspace: Workspace;
  readonly documents: readonly WrittenObject[];
}

/** The differences between two states of a workspace, in the order of kinds and names. */
export function differences(before: WrittenWorkspace, after: WrittenWorkspace): Difference[] {
  const [old, now] = [objectsOf(before), objectsOf(after)];
  const keys = [...new Set([...old.keys(), ...now.keys()])].sort();
  return keys.flatMap((key): Difference[] => {
    const [was, is] = [old.get(key), now.get(key)];
    const { kind, name } = (is ?? was) as WrittenObject;
    if (was && is)
      return was.text !== null && was.text === is.text
        ? []
        : [{ kind, name, change: 'changed', words: changeWords(was, is) }];
    return [{ kind, name, change: is ? 'added' : 'removed', words: [wholeWords((is ?? was) as Known)] }];
  });
}

/** Texts with more lines that differ are not laid beside each other: it would take too long, and nobody reads it. */
const MOST_LINES = 1500;

/** The lines that differ, as a unified diff (POSIX). Nothing where the texts are the same; null where too much differs. */
export function textDifference(name: string, before: string | undefined, after: string | undefined): string | null {
  if (before === after) return '';
  const label = (text: string | undefined) => (text === undefined ? '/dev/null' : name);
  const options = { headerOptions: FILE_HEADERS_ONLY, maxEditLength: MOST_LINES };
  const [old, now] = [before ?? '', after ?? ''];
  return createTwoFilesPatch(label(before), label(after), old, now, undefined, undefined, options) ?? null;
}

type Known = WrittenObject & { readonly object: WorkspaceObject };

function objectsOf({ workspace, documents }: WrittenWorkspace): Map<string, Known> {
  const objects = new Map(workspaceObjects(workspace).map((object) => [`${object.type} ${object.name}`, object]));
  return new Map(
    documents.flatMap((document) => {
      const key = `${document.kind} ${document.name}`;
      const object = objects.get(key);
      return object ? [[key, { ...document, object }]] : [];
    }),
  );
}

function changeWords({ object: before }: Known, { object: after }: Known): string[] {
  if (before.type === 'policy' && after.type === 'policy') return policyWords(before, after);
  if (before.type === 'list' && after.type === 'list') return listWords(before, after);
  return [
    ...textWords('it', wholeWords({ object: before } as Known), wholeWords({ object: after } as Known)),
    ...textWords('its note', noteOf(before), noteOf(after)),
  ];
}

const noteOf = (object: WorkspaceObject): string | undefined => ('note' in object ? object.note : undefined);

/** The whole content of an object. */
export function wholeWords({ object }: Pick<Known, 'object'>): string {
  switch (object.type) {
    case 'policy':
      return `${object.rules.length === 1 ? 'one rule' : `${object.rules.length} rules`}, then ${object.default.type}`;
    case 'list':
      return `a list of ${counted(object, object.entries)}`;
    default:
      return objectSentence(object);
  }
}
