import { VERDICTS, type Verdict } from '@jade-fence/core/policy';
import { IsIn, IsOptional, Matches } from 'class-validator';
import { NAME, NAME_MESSAGE } from './log-input.js';

/** The check that a request is to be written into. */
export class ExpectInput {
  @Matches(NAME, { message: NAME_MESSAGE })
  check!: string;

  /** The verdict that it must have; without it, the one that it had. */
  @IsOptional()
  @IsIn([...VERDICTS, 'uncovered'])
  expect?: Verdict | 'uncovered';
}
