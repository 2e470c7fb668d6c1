import { applicationSentence } from '../application/index.js';
import { categorySentence } from '../category/index.js';
import { checkSentence } from '../check/index.js';
import { correctionsSentence } from '../correction/index.js';
import { noticeSentence } from '../notice/index.js';
import { probeSentence } from '../probe/index.js';
import { scheduleSentence } from '../schedule/index.js';
import type { DocumentKind } from '../text/index.js';
import type { Workspace, WorkspaceObject } from './workspace.js';

/** Describes an object other than policies and lists in a sentence. */
export interface DescribedObject {
  readonly kind: DocumentKind;
  readonly name: string;
  readonly note: string | null;
  readonly sentence: string;
}

/** All objects of a workspace. */
export function workspaceObjects(workspace: Workspace): WorkspaceObject[] {
  return Object.values(workspace).flatMap((objects: ReadonlyMap<string, WorkspaceObject>) => [...objects.values()]);
}

type Described = Exclude<WorkspaceObject, { readonly type: 'policy' | 'list' }>;

/** Everything of a workspace but its policies and lists, by kind and name. */
export function describeObjects(workspace: Workspace): DescribedObject[] {
  const { categories, applications, schedules, notices, corrections, probes, checks } = workspace;
  const all: Described[] = [categories, applications, schedules, notices, corrections, probes, checks].flatMap(
    (each) => [...(each as ReadonlyMap<string, Described>).values()],
  );
  return all.map((each) => ({
    kind: each.type,
    name: each.name,
    note: each.note ?? null,
    sentence: objectSentence(each),
  }));
}

/** An object other than policies and lists, in a sentence. */
export function objectSentence(object: Described): string {
  switch (object.type) {
    case 'category':
      return categorySentence(object);
    case 'application':
      return applicationSentence(object);
    case 'schedule':
      return scheduleSentence(object);
    case 'notice':
      return noticeSentence(object);
    case 'corrections':
      return correctionsSentence(object);
    case 'probe':
      return probeSentence(object);
    case 'check':
      return checkSentence(object);
  }
}
