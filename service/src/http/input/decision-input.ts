import { VERDICTS } from '@jade-fence/core/policy';
import { IsIn, IsOptional, IsString, Length, Matches } from 'class-validator';
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

/** What a client types to be let through. */
export class PasscodeInput {
  @IsString()
  @Length(4, 100)
  passcode!: string;
}
