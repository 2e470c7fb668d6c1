import { VERDICTS } from '@jade-fence/core/policy';
import { Type } from 'class-transformer';
import { IsIn, IsInt, IsOptional, IsString, Length, Matches, Max, Min } from 'class-validator';
import { MOST_USAGE_DAYS } from '../../live/usage.js';
import { NAME, NAME_MESSAGE } from './log-input.js';
import { PageQuery } from './page-query.js';

/** Which recorded decisions. */
export class DecisionsQuery extends PageQuery {
  @IsOptional()
  @Matches(NAME, { message: NAME_MESSAGE })
  policy?: string;

  @IsOptional()
  @Matches(NAME, { message: NAME_MESSAGE })
  rule?: string;

  @IsOptional()
  @IsIn([...VERDICTS, 'uncovered'])
  verdict?: string;

  @IsOptional()
  @IsIn(['log', 'alert'])
  record?: string;

  /** The reference that a stopped client was shown. */
  @IsOptional()
  @Matches(/^[0-9A-Z]{8}$/, { message: 'a reference has eight letters and digits' })
  reference?: string;
}

/** Whose usage, and since when. */
export class UsageQuery {
  @IsOptional()
  @Matches(NAME, { message: NAME_MESSAGE })
  policy?: string;

  /** Days back from now. */
  @IsOptional()
  @Type(() => Number)
  @IsInt()
  @Min(1)
  @Max(MOST_USAGE_DAYS)
  days = 30;
}

/** What a client types to be let through. */
export class PasscodeInput {
  @IsString()
  @Length(4, 100)
  passcode!: string;
}
