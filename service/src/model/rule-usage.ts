import { BaseModel } from './base.js';

/** How often a rule did something on a day of UTC. */
export class RuleUsage extends BaseModel {
  static override tableName = 'rule_usage';
  static override idColumn = ['policy', 'rule', 'role', 'day'];
  policy!: string;
  rule!: string;
  role!: 'decided' | 'observed';
  day!: Date;
  /** A whole number, as text where the database gives it as such. */
  count!: string | number;
  lastAt!: Date;
}
