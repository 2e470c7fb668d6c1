import type { DocumentKind } from '@jade-fence/core';
import { BaseModel } from './base.js';

/** A policy or list by its name; what it says stands in its versions. */
export class WorkspaceObject extends BaseModel {
  static override tableName = 'objects';
  id!: number;
  kind!: DocumentKind;
  name!: string;
  currentVersionId!: number | null;
}

/** One immutable state of an object: its document as text. */
export class ObjectVersion extends BaseModel {
  static override tableName = 'object_versions';
  id!: number;
  objectId!: number;
  number!: number;
  file!: string;
  text!: string;
  author!: string | null;
  createdAt!: Date;
}
