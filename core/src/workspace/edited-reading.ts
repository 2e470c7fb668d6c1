import { editEntriesOf, editList, type ListEdit, mergedEdit } from '../list/index.js';
import type { ReadFiles } from './read.js';

/** A list after edits, and the edits that were already in effect. */
export interface EditedReading {
  readonly read: ReadFiles;
  readonly present: readonly string[];
  readonly missing: readonly string[];
}

/** Edits the one list of a reading, without reading its text again. The text is made on first use. */
export function editedReading(base: ReadFiles, edits: readonly ListEdit[]): EditedReading {
  const [only] = base.objects;
  if (only?.object.type !== 'list') throw new Error('only lists are edited by their entries');
  const edit = mergedEdit(edits);
  const file = `list ${only.object.name}, entries to add`;
  const { list, addedText, issues, present, missing } = editEntriesOf(only.object, edit, file);
  const { kind, name, file: own } = only.source;
  const source = {
    ...{ kind, name, file: own },
    get text(): string {
      return editList(only.source.text, edit.add, edit.remove).text;
    },
  };
  const read = {
    files: issues.length > 0 ? [...base.files, { name: file, text: addedText }] : base.files,
    objects: [{ ...only, object: list, source }],
    documents: [source],
    issues: [...base.issues, ...issues],
  };
  return { read, present, missing };
}
