import { REDACTION_FORMS, tryRedaction } from '@jade-fence/core/redact';
import { Transform } from 'class-transformer';
import { ArrayMaxSize, IsArray, IsOptional, ValidateBy } from 'class-validator';
import { Bare, type Extendable } from './mixin.js';

/** Each is a word of a redaction. */
const AreRedactions = () =>
  ValidateBy(
    {
      name: 'areRedactions',
      validator: {
        validate: (value) => typeof value === 'string' && tryRedaction(value) !== undefined,
        defaultMessage: () => `redact takes ${REDACTION_FORMS.join(', ')}; a prefix has 8 to 28 bits`,
      },
    },
    { each: true },
  );

/** Adds to a query what to show as pseudonyms, beside what policies redact. */
export function withRedact<T extends Extendable>(Base: T) {
  class Redacted extends Base {
    @IsOptional()
    @Transform(({ value }) => [value].flat().flatMap((each) => (typeof each === 'string' ? each.split(',') : each)))
    @IsArray()
    @ArrayMaxSize(100)
    @AreRedactions()
    redact?: string[];
  }
  return Redacted;
}

export class RedactQuery extends withRedact(Bare) {}
