import { Model } from 'objection';

/** The base of all models. The connection turns names between snake_case in the database and camelCase here. */
export class BaseModel extends Model {
  static override useLimitInFirst = true;
}
