import type { ListEdit } from '@jade-fence/core/list';
import type { DocumentKind } from '@jade-fence/core/text';
import { BaseModel } from './base.js';

/** A policy or list by its name; its text is in its versions. */
export class WorkspaceObject extends BaseModel {
  static override tableName = 'objects';
  id!: number;
  kind!: DocumentKind;
  name!: string;
  currentVersionId!: number | null;
}

/** One immutable state of an object: its document as text, or as an edit of another state. */
export class ObjectVersion extends BaseModel {
  static override tableName = 'object_versions';
  id!: number;
  objectId!: number;
  number!: number;
  file!: string;
  /** Null when it is stored as an edit of another version, `baseId`. */
  text!: string | null;
  baseId!: number | null;
  edit!: ListEdit | null;
  editWeight!: number;
  author!: string | null;
  /** Whether files gave it, and it was not edited here. */
  byFile!: boolean;
  createdAt!: Date;
}
