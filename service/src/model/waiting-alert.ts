import { BaseModel } from './base.js';

/** Alerts that wait to be sent. */
export class WaitingAlert extends BaseModel {
  static override tableName = 'alerts';
  static override jsonAttributes = ['body'];
  id!: number;
  body!: object;
  attempts!: number;
  raisedAt!: Date;
  nextAt!: Date;
}
