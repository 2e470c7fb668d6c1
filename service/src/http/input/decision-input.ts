import { VERDICTS } from '@jade-fence/core';
import { Type } from 'class-transformer';
import { IsIn, IsInt, IsOptional, IsString, Length, Matches, Max, Min } from 'class-validator';
import { NAME, NAME_MESSAGE } from './log-input.js';

/** Which recorded decisions. */
export class DecisionsQuery {
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

  /** Only those before this one. */
  @IsOptional()
  @Type(() => Number)
  @IsInt()
  @Min(1)
  before?: number;

  @IsOptional()
  @Type(() => Number)
  @IsInt()
  @Min(1)
  @Max(1000)
  limit = 100;
}

/** What a client types to be let through. */
export class PasscodeInput {
  @IsString()
  @Length(4, 100)
  passcode!: string;
}
