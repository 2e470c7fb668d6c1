import { IsOptional, Matches } from 'class-validator';
import { NAME, NAME_MESSAGE } from './log-input.js';

/** An application that is to be allowed, and where among the rules. */
export class AllowInput {
  @Matches(NAME, { message: NAME_MESSAGE })
  application!: string;

  /** The rule to put it above; without it, the last. */
  @IsOptional()
  @Matches(NAME, { message: NAME_MESSAGE })
  above?: string;

  /** What to call the rule; without it, `allow-` and the application. */
  @IsOptional()
  @Matches(NAME, { message: NAME_MESSAGE })
  rule?: string;
}
