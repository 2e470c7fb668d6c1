import { IsOptional, IsString, Length, Matches } from 'class-validator';
import { NAME, NAME_MESSAGE } from './log-input.js';
import { StateQuery } from './state-query.js';

/** Which checks to run, and on what. */
export class ChecksQuery extends StateQuery {
  /** Only this one. */
  @IsOptional()
  @Matches(NAME, { message: NAME_MESSAGE })
  name?: string;
}

/** What to look up. */
export class LookUpQuery extends StateQuery {
  @IsString()
  @Length(1, 4000)
  of!: string;

  /** The log in which to count what remedies would stop. */
  @IsOptional()
  @Matches(NAME, { message: NAME_MESSAGE })
  log?: string;
}

/** The client, for what the policies can do to it: a probe, or an address. */
export class EffectiveQuery extends StateQuery {
  @IsOptional()
  @Matches(NAME, { message: NAME_MESSAGE })
  probe?: string;

  @IsOptional()
  @IsString()
  @Length(1, 64)
  client?: string;

  /** Only this policy. */
  @IsOptional()
  @Matches(NAME, { message: NAME_MESSAGE })
  policy?: string;
}
