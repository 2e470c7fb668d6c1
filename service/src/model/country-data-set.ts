import { BaseModel } from './base.js';

/** Country data as it was loaded: its file, compressed. That which was put in force last is. */
export class CountryDataSet extends BaseModel {
  static override tableName = 'country_data';
  static override jsonAttributes = ['faults'];
  id!: number;
  source!: string;
  /** The day that the data is of, YYYY-MM-DD. */
  date!: string;
  networks!: number;
  faults!: readonly { readonly line: number; readonly code: string; readonly reason: string }[];
  faultCount!: number;
  data!: Buffer;
  loadedAt!: Date;
  inForceAt!: Date;
}
