import { BaseModel } from './base.js';

/** A passcode that rules require, kept as its hash. */
export class Passcode extends BaseModel {
  static override tableName = 'passcodes';
  static override idColumn = 'name';
  name!: string;
  hash!: string;
}
